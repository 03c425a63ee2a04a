import fc from 'fast-check'
import { testRegion, testSession } from '../model/fixture.test-util'
import { planSession, renderedBlocks, Renderer } from '../render'
import { ReportMeter } from './report'
import { seededRandom } from '../units/random'
import { SoundMeter } from '../measure/sound-meter'
import { runs } from '../units/runs.test-util'

const RATE = 8000

/** Sound and silence in turn, of so many frames each. */
function pieces(lengths: readonly number[], seed: number): Float32Array {
  const random = seededRandom(seed)
  const parts = lengths.map((length, n) => Float32Array.from({ length }, () => (n % 2 ? 0 : random() - 0.5)))
  const all = new Float32Array(lengths.reduce((a, b) => a + b, 0))
  parts.reduce((at, part) => (all.set(part, at), at + part.length), 0)
  return all
}

test('what is measured is the same whether silence is passed over or not', () => {
  fc.assert(
    fc.property(
      fc.array(fc.integer({ min: 1, max: 30_000 }), { minLength: 1, maxLength: 5 }),
      fc.integer({ min: 100, max: 9000 }),
      fc.nat(99),
      (lengths, size, seed) => {
        const left = pieces(lengths, seed)
        const right = left.map((x) => -x / 2)
        const [quick, plain] = [new SoundMeter(RATE, 2), new SoundMeter(RATE, 2)]
        for (let at = 0; at < left.length; at += size) {
          const block = [left.subarray(at, at + size), right.subarray(at, at + size)]
          quick.add(block)
          plain.add(block, false)
        }
        const [a, b] = [quick.finish(), plain.finish()]
        expect({ ...a, shortTerm: [], loudness: null }).toEqual({ ...b, shortTerm: [], loudness: null })
        // Filters that have died away differ below 600 dB under full scale.
        a.shortTerm.forEach((lufs, i) => {
          if (b.shortTerm[i]! > -200) expect(lufs).toBeCloseTo(b.shortTerm[i]!, 9)
        })
        expect(a.loudness.integrated).toBe(b.loudness.integrated)
        expect(a.loudness.range).toBe(b.loudness.range)
      },
    ),
    { numRuns: runs(25, 120) },
  )
})

test('hours of nothing before a region are rendered and measured at a thousand times real time', async () => {
  const start = runs(2 ** 29, 2 ** 31) - 60_000
  const session = testSession([testRegion('r', { start })])
  const cache = {
    using: (_spans: unknown, render: () => void) => Promise.resolve(render()),
    read: (_id: string, _c: number, frame: number, count: number, out: Float32Array) => {
      for (let i = 0; i < count; i++) out[i] = Math.sin((frame + i) * 0.1)
    },
  } as never
  const plan = planSession(session)
  const meter = new ReportMeter(48_000)
  const begun = performance.now()
  let last = new Float32Array(0)
  for await (const { from, left, right, silent } of renderedBlocks(plan, cache, {
    from: 0,
    to: start + 48_000,
  })) {
    meter.add(from, [left, right], silent)
    if (from + left.length > start && last.length === 0) last = left.slice(start - from)
  }
  const seconds = (performance.now() - begun) / 1000
  const straight = new Float32Array(last.length)
  new Renderer(plan, cache).render(start, straight, new Float32Array(last.length))
  expect(last).toEqual(straight)
  const { measure } = meter.finish()
  expect(measure.frames).toBe(start + 48_000)
  expect(measure.peak).toBeGreaterThan(0.5)
  expect((start / 48_000 / seconds) | 0).toBeGreaterThan(1000)
})
