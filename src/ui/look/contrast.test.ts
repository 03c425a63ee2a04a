import fs from 'node:fs'
import path from 'node:path'

const css = fs.readFileSync(path.join(__dirname, 'look.css'), 'utf8')
const evening = /data-ground='evening'\] \{([^}]*)\}/.exec(css)![1]!
type Ground = 'day' | 'evening'
/** A colour on a ground; what the evening does not name is as by day. */
const token = (name: string, ground: Ground = 'day') => {
  const named = (text: string) => new RegExp(`--color-${name}: (#[0-9a-f]{6})`).exec(text)?.[1]
  return (ground === 'evening' ? named(evening) : undefined) ?? named(css)!
}

/** The parts of a colour as linear light, 0…1 (sRGB, IEC 61966-2-1). */
const linear = (hex: string) =>
  [1, 3, 5].map((at) => {
    const c = parseInt(hex.slice(at, at + 2), 16) / 255
    return c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4
  }) as [number, number, number]

const luminance = (hex: string) => {
  const [r, g, b] = linear(hex)
  return 0.2126 * r + 0.7152 * g + 0.0722 * b
}

/** The contrast of two colours (WCAG 2.2, 1.4.3). */
function contrast(a: string, b: string): number {
  const [high, low] = [luminance(a), luminance(b)].sort((x, y) => y - x) as [number, number]
  return (high + 0.05) / (low + 0.05)
}

/** Lightness 0…1 and hue in degrees of a colour (OKLab, B. Ottosson 2020). */
function lightnessAndHue(hex: string): { lightness: number; hue: number } {
  const [r, g, b] = linear(hex)
  const l = Math.cbrt(0.4122214708 * r + 0.5363325363 * g + 0.0514459929 * b)
  const m = Math.cbrt(0.2119034982 * r + 0.6806995451 * g + 0.1073969566 * b)
  const s = Math.cbrt(0.0883024619 * r + 0.2817188376 * g + 0.6299787005 * b)
  const [x, y] = [
    1.9779984951 * l - 2.428592205 * m + 0.4505937099 * s,
    0.0259040371 * l + 0.7827717662 * m - 0.808675766 * s,
  ]
  return {
    lightness: 0.2104542553 * l + 0.793617785 * m - 0.0040720468 * s,
    hue: ((Math.atan2(y, x) * 180) / Math.PI + 360) % 360,
  }
}

const grounds = ['linen', 'cloth', 'white']
const both: Ground[] = ['day', 'evening']
const all = (names: string[]) =>
  both.flatMap((ground) => names.map((name): [string, Ground] => [name, ground]))

test.each(all(['ink', 'soft', 'oak', 'madder', 'fault']))('text in %s can be read, by %s', (name, ground) => {
  for (const under of grounds)
    expect(contrast(token(name, ground), token(under, ground))).toBeGreaterThanOrEqual(4.5)
})

test.each(all(['pine', 'rust', 'woad', 'heather', 'lichen', 'walnut', 'madder', 'fault']))(
  'sound and threads in %s stand out, by %s',
  (name, ground) => {
    for (const under of grounds)
      expect(contrast(token(name, ground), token(under, ground))).toBeGreaterThanOrEqual(3)
  },
)

test.each(both)('text on what is filled can be read: on oak, ink and weld, by %s', (ground) => {
  expect(contrast(token('white', ground), token('oak', ground))).toBeGreaterThanOrEqual(4.5)
  expect(contrast(token('white', ground), token('ink', ground))).toBeGreaterThanOrEqual(4.5)
  expect(contrast(token('on-weld', ground), token('weld', ground))).toBeGreaterThanOrEqual(4.5)
  // Figures of meters stand on their track, the hem on its region's wash: at most a quarter of the dye.
  expect(contrast(token('soft', ground), token('fold', ground))).toBeGreaterThanOrEqual(4.5)
})

/** A dye of an opacity over a ground, as canvases draw it. */
function over(dye: string, opacity: number, under: string): string {
  const part = (hex: string, at: number) => parseInt(hex.slice(at, at + 2), 16)
  return `#${[1, 3, 5]
    .map((at) =>
      Math.round(part(dye, at) * opacity + part(under, at) * (1 - opacity))
        .toString(16)
        .padStart(2, '0'),
    )
    .join('')}`
}

test.each(all(['pine', 'rust', 'woad', 'heather', 'lichen', 'walnut']))(
  'on canvases the sound of %s stands out from its wash, and words on the hem can be read, by %s',
  (name, ground) => {
    const dye = token(name, ground)
    const wash = over(dye, 0.15, token('linen', ground))
    expect(contrast(over(dye, 0.86, wash), wash)).toBeGreaterThanOrEqual(2.5)
    const hem = over(dye, 0.1, wash)
    expect(contrast(token('ink', ground), hem)).toBeGreaterThanOrEqual(4.5)
    expect(contrast(token('soft', ground), hem)).toBeGreaterThanOrEqual(4.5)
  },
)

test.each(both)(
  'the red of faults is well apart from madder, by %s: by 25° of hue and 0.05 of lightness at the least',
  (ground) => {
    const [fault, madder] = [
      lightnessAndHue(token('fault', ground)),
      lightnessAndHue(token('madder', ground)),
    ]
    const apart = Math.abs(((fault.hue - madder.hue + 540) % 360) - 180)
    expect(apart).toBeGreaterThanOrEqual(25)
    expect(Math.abs(fault.lightness - madder.lightness)).toBeGreaterThanOrEqual(0.05)
  },
)
