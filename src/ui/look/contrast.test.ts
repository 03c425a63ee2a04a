import fs from 'node:fs'
import path from 'node:path'

const css = fs.readFileSync(path.join(__dirname, 'look.css'), 'utf8')
const token = (name: string) => new RegExp(`--color-${name}: (#[0-9a-f]{6})`).exec(css)![1]!

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

test.each(['ink', 'soft', 'oak', 'madder', 'fault'])('text in %s can be read on every ground', (name) => {
  for (const ground of grounds) expect(contrast(token(name), token(ground))).toBeGreaterThanOrEqual(4.5)
})

test.each(['pine', 'rust', 'woad', 'heather', 'lichen', 'walnut', 'madder', 'fault'])(
  'sound and threads in %s stand out from every ground',
  (name) => {
    for (const ground of grounds) expect(contrast(token(name), token(ground))).toBeGreaterThanOrEqual(3)
  },
)

test('the red of faults is well apart from madder: by 25° of hue and 0.05 of lightness at the least', () => {
  const [fault, madder] = [lightnessAndHue(token('fault')), lightnessAndHue(token('madder'))]
  const apart = Math.abs(((fault.hue - madder.hue + 540) % 360) - 180)
  expect(apart).toBeGreaterThanOrEqual(25)
  expect(Math.abs(fault.lightness - madder.lightness)).toBeGreaterThanOrEqual(0.05)
})
