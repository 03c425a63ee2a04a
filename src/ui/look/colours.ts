import type { Dye } from '../../core/model/session'

/** Colours of the look as canvases need them, read once from the style sheet. */
export type ColourName =
  Dye | 'linen' | 'cloth' | 'fold' | 'seam' | 'ink' | 'soft' | 'oak' | 'white' | 'weld' | 'madder' | 'fault'

const known: Record<string, string> = {}

/** What is to be done when the ground, and with it the colours, change: pictures that were kept in them are forgotten. */
const forgetting: (() => void)[] = []
export const whenColoursChange = (forget: () => void): void => void forgetting.push(forget)

/** Reads all colours anew. */
export function forgetColours(): void {
  for (const name of Object.keys(known)) delete known[name]
  for (const forget of forgetting) forget()
}

/** A colour of the look as the style sheet has it, such as "#f5efe3". */
export function colour(name: ColourName): string {
  return (known[name] ??= getComputedStyle(document.documentElement)
    .getPropertyValue(`--color-${name}`)
    .trim())
}

/** The parts of a colour, 0…255 each. */
export function rgbOf(name: ColourName): { r: number; g: number; b: number } {
  const n = parseInt(colour(name).slice(1), 16)
  return { r: n >> 16, g: (n >> 8) & 255, b: n & 255 }
}

/** The colour with an opacity 0…1. */
export function faded(name: ColourName, opacity: number): string {
  const key = `${name}/${opacity}`
  if (known[key]) return known[key]
  const { r, g, b } = rgbOf(name)
  return (known[key] = `rgba(${r}, ${g}, ${b}, ${opacity})`)
}

/** Class names of a dye, spelled out so that the style sheet keeps them. */
export const dyeClass: Record<Dye, string> = {
  pine: 'bg-pine',
  rust: 'bg-rust',
  woad: 'bg-woad',
  heather: 'bg-heather',
  lichen: 'bg-lichen',
  walnut: 'bg-walnut',
}

/** Classes in the dye of a thread: of what is written of it, and of a border. */
export const threadText = {
  madder: 'text-madder',
  woad: 'text-woad',
  weld: 'text-weld',
  heather: 'text-heather',
  lichen: 'text-lichen',
}
export const threadBorder = {
  madder: 'border-madder',
  woad: 'border-woad',
  weld: 'border-weld',
  heather: 'border-heather',
  lichen: 'border-lichen',
}
