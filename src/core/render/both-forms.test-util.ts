import fc from 'fast-check'
import { inPlainForm } from '../dsp/kernels/form'
import { brokenRules, breachLine } from '../model/check/rules'
import type { Session } from '../model/session'
import { fileStart } from './state/memory'
import { planSession } from './plan/plan'
import { graphSession, noiseReader } from './random-graph.test-util'
import { Renderer } from './graph/run'

/** Frames that are rendered: all regions, most of the time, and some of what sounds on. */
const FRAMES = 16_000

type Sides = [Float32Array, Float32Array]

/** Renders a range in blocks of the given lengths, again and again. */
function rendered(session: Session, from: number, to: number, blocks: readonly number[]): Sides {
  const sides: Sides = [new Float32Array(to - from), new Float32Array(to - from)]
  const renderer = new Renderer(planSession(session), noiseReader())
  for (let at = from, n = 0; at < to; n++) {
    const count = Math.min(blocks[n % blocks.length]!, to - at)
    const [left, right] = sides.map((side) => side.subarray(at - from, at - from + count))
    renderer.render(at, left!, right!)
    at += count
  }
  return sides
}

function expectSame(plain: Sides, quick: Sides, from: number, what: string): void {
  for (const side of [0, 1] as const)
    for (let i = 0; i < quick[side].length; i++)
      if (!Object.is(plain[side][from + i]! + 0, quick[side][i]! + 0))
        throw new Error(
          `${what}: side ${side} differs at ${from + i}: ${plain[side][from + i]} and ${quick[side][i]}`,
        )
}

/**
 * Renders whole random sessions once by the plain definitions of all kernels and once by the kernels that this machine has, in any
 * blocks and ranges: they agree to the bit.
 */
export function holdKernelsToTheirDefinition(sessions: number, seed?: number): void {
  fc.assert(
    fc.property(
      graphSession,
      fc.array(fc.integer({ min: 1, max: 3000 }), { minLength: 1, maxLength: 6 }),
      fc.integer({ min: 1, max: FRAMES - 1500 }),
      (session, blocks, from) => {
        const broken = brokenRules(session)
        if (broken.length) throw new Error(broken.map(breachLine).join('\n'))
        const plain = inPlainForm(() => rendered(session, 0, FRAMES, [4096]))
        if (!plain.every((side) => side.every(Number.isFinite))) throw new Error('no number')
        expectSame(plain, rendered(session, 0, FRAMES, blocks), 0, `blocks of ${blocks.join(', ')}`)
        const start = fileStart(planSession(session), from)
        const part = rendered(session, start, from + 1500, [777])
        expectSame(plain, part, start, `the range from ${from}`)
      },
    ),
    { numRuns: sessions, ...(seed === undefined ? {} : { seed }) },
  )
}
