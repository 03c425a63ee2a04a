import type { Dye } from '../../core/model/session'

/** Colours of the look as canvases need them, read once from the style sheet. */
export type ColourName = Dye | 'linen' | 'cloth' | 'fold' | 'seam' | 'ink' | 'soft' | 'oak' | 'white' | 'weld' | 'madder'

let known: Record<string, string> = {}

/** A colour of the look as the style sheet has it, such as "#f5efe3". */
export function colour(name: ColourName): string {
  return (known[name] ??= getComputedStyle(document.documentElement).getPropertyValue(`--color-${name}`).trim())
}

/** The colour with an opacity 0…1. */
export function faded(name: ColourName, opacity: number): string {
  const key = `${name}/${opacity}`
  if (known[key]) return known[key]
  const hex = colour(name)
  const n = parseInt(hex.slice(1), 16)
  return (known[key] = `rgba(${n >> 16}, ${(n >> 8) & 255}, ${n & 255}, ${opacity})`)
}

/** Forgets what was read, after the look changed. */
export const rereadColours = () => void (known = {})

/** Class names of a dye, spelled out so that the style sheet keeps them. */
export const dyeClass: Record<Dye, string> = {
  pine: 'bg-pine', rust: 'bg-rust', woad: 'bg-woad', heather: 'bg-heather', lichen: 'bg-lichen', walnut: 'bg-walnut',
}
