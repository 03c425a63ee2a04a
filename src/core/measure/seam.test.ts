import { seededRandom } from '../units/random'
import { measureSeam, SEAM_SECONDS, seamStandsDb } from './seam'
import { testSound, testSoundKinds } from './test-sounds.test-util'
import { runs } from '../units/runs.test-util'

const POINTS = 80
const share = (list: readonly boolean[]) => list.filter(Boolean).length / list.length
const percent = (part: number) => `${(100 * part).toFixed(1)} %`

/** Points inside a sound, splices between them, and joins of a sound with itself 0.1 dB louder, as two sides each. */
function cases(kind: (typeof testSoundKinds)[number], rate: number) {
  const sound = testSound(kind, rate, 6, 3)
  const random = seededRandom(rate)
  const window = Math.round(rate * SEAM_SECONDS)
  const point = () => {
    for (;;) {
      const at = window + Math.floor(random() * (sound.length - 2 * window))
      if (sound.subarray(at - 50, at + 50).some((x) => Math.abs(x) > 0.004)) return at
    }
  }
  const sides = (a: number, b = a): [Float64Array, Float64Array] => [
    sound.slice(a - window, a),
    sound.slice(b, b + window),
  ]
  const points = Array.from({ length: POINTS }, point)
  return {
    inside: points.map((at) => sides(at)),
    spliced: points.map((at) => sides(at, point())),
    louder: points.map((at): [Float64Array, Float64Array] => {
      const [before, after] = sides(at)
      return [before, after.map((x) => x * 10 ** (0.1 / 20))]
    }),
  }
}

test('splices that stand out are found, and what goes on is not taken for one', () => {
  for (const rate of runs([22050, 48000], [22050, 44100, 48000, 96000])) {
    const all = { found: [] as boolean[], inside: [] as boolean[], louder: [] as boolean[] }
    for (const kind of testSoundKinds) {
      const { inside, spliced, louder } = cases(kind, rate)
      const clicks = (list: [Float64Array, Float64Array][]) =>
        list.map(([before, after]) => measureSeam(before, after, rate).clicks)
      const standing = spliced.filter(([before, after]) => seamStandsDb(before, after, rate) >= 6)
      expect(standing.length).toBeGreaterThan(POINTS / 3)
      const here = { found: clicks(standing), inside: clicks(inside), louder: clicks(louder) }
      // eslint-disable-next-line no-console
      console.log(
        `${kind} at ${rate} Hz: ${percent(share(here.found))} of ${standing.length} ` +
          `splices found, ${percent(share(here.inside))} of ${POINTS} points inside and ` +
          `${percent(share(here.louder))} of as many steps of 0.1 dB called clicks`,
      )
      for (const name of ['found', 'inside', 'louder'] as const) all[name].push(...here[name])
    }
    expect(share(all.found)).toBeGreaterThanOrEqual(0.95)
    expect(share(all.inside)).toBeLessThanOrEqual(0.02)
    expect(share(all.louder)).toBeLessThanOrEqual(0.02)
  }
})

test('what a seam measures, by hand: a sine that is cut off at its top steps by its amplitude', () => {
  const rate = 48000
  const window = Math.round(rate * SEAM_SECONDS)
  const sine = Float64Array.from(
    { length: window },
    (_, n) => 0.25 * Math.cos((2 * Math.PI * 500 * (n - window)) / rate),
  )
  const { jump, clicks } = measureSeam(sine, new Float64Array(window), rate)
  // Silence is foreseen by nobody on the left, and the sine by nobody on the right: 0.25 from both.
  expect(jump).toBeCloseTo(0.25, 2)
  expect(clicks).toBe(true)
  // Going on as it was it does not click, whatever its phase.
  for (const turn of [0, 0.1, 0.25, 0.4]) {
    const wave = (from: number) =>
      Float64Array.from(
        { length: window },
        (_, n) => 0.25 * Math.cos(2 * Math.PI * ((500 * (n + from)) / rate + turn)),
      )
    expect(measureSeam(wave(-window), wave(0), rate)).toMatchObject({ clicks: false })
  }
})
