import { LoudnessMeter } from '../../core/measure/loudness'
import { setClipGain, setTrack } from '../../core/edit'
import { testRegion, testSession } from '../../core/model/fixture.test-util'
import type { Session } from '../../core/model/session'
import { planSession, Renderer } from '../../core/render'
import type { SoundCache } from '../storage'
import { BackgroundRenderer } from './background-renderer'
import { LoudnessCourse } from './loudness-course'
import { OverloadSearch } from './overload-search'

/** A sine whose level changes with every second. */
const cache = {
  read(_id: string, _channel: number, frame: number, count: number, out: Float32Array) {
    for (let i = 0; i < count; i++) {
      const n = frame + i
      out[i] = (0.05 + 0.03 * (Math.floor(n / 48_000) % 5)) * Math.sin(n * 0.1)
    }
  },
  ensure: () => null,
  using: async (_spans: unknown, work: () => void) => work(),
} as unknown as SoundCache

const session = testSession(
  [
    testRegion('a', { length: 240_000 }),
    testRegion('b', { start: 240_000, length: 96_000 }),
    testRegion('c', { start: 400_000, length: 96_000 }),
  ],
  { pan: 0.3 },
)

/** The same, measured over the rendered mix from beginning to end. */
function measured(of: Session): number[] {
  const meter = new LoudnessMeter(48_000, 2)
  const renderer = new Renderer(planSession(of), cache)
  const sides = [new Float32Array(4800), new Float32Array(4800)] as const
  for (let at = 0; at < 800_000; at += 4800) {
    renderer.render(at, ...sides)
    meter.add(sides)
  }
  return meter.steps
}

async function finished(course: LoudnessCourse): Promise<number> {
  let steps = 0
  while (await course.step()) steps++
  return steps
}

const off = (course: LoudnessCourse, of: Session) => {
  const is = measured(of)
  return course.powers.reduce((most, power, i) => Math.max(most, Math.abs(power - is[i]!)), 0)
}

test('the course is that of the rendered mix, and an edit makes anew only its own stretch', async () => {
  const course = new LoudnessCourse(cache, new BackgroundRenderer(cache))
  course.setSession(session, new Map())
  const all = await finished(course)
  expect(course.powers).toHaveLength(Math.ceil(496_000 / 4800))
  expect(off(course, session)).toBeLessThan(1e-6)

  const louder = setClipGain.apply(session, { regionIds: ['b'], db: 6 })
  course.setSession(louder, new Map())
  // Where it was changed comes first.
  await course.step()
  expect(Number.isNaN(course.powers[50])).toBe(false)
  const few = 1 + (await finished(course))
  expect(few).toBeLessThan(all / 3)
  expect(off(course, louder)).toBeLessThan(1e-6)

  const muted = setTrack.apply(louder, { trackIds: ['t'], change: { muted: true } })
  course.setSession(muted, new Map())
  await finished(course)
  expect(Math.max(...course.powers)).toBe(0)
})

test('a session that is set again while a step waits for sound is worked out all the same', async () => {
  let fetched = () => undefined as void
  let asked = 0
  const slow = {
    ...cache,
    // Every other time it is there.
    ensure: () => (asked++ % 2 === 0 ? new Promise<void>((resolve) => (fetched = resolve)) : null),
    using: async (_spans: unknown, work: () => void) => {
      await new Promise<void>((resolve) => (fetched = resolve))
      work()
    },
  } as unknown as SoundCache
  const course = new LoudnessCourse(slow, new BackgroundRenderer(slow))
  course.setSession(session, new Map())
  const soon = () => new Promise((resolve) => setTimeout(resolve))
  const arrive = async (step: Promise<boolean>) => {
    let done = false
    step.finally(() => (done = true)).catch(() => undefined)
    while (!done) {
      fetched()
      await soon()
    }
    return step
  }
  await arrive(course.step())
  const waits = course.step()
  // A change and its undoing come to the worker as no change at all.
  course.setSession(session, new Map())
  expect(await arrive(waits)).toBe(true)
  for (let more = true; more;) more = await arrive(course.step())
  expect(off(course, session)).toBeLessThan(1e-6)
})

test('a search that has the same renderer in turn finds and leaves the same, also with what repeats', async () => {
  const echoing: Session = {
    ...session,
    mix: { ...session.mix, volumeDb: 12 },
    tracks: {
      t: {
        ...session.tracks.t!,
        volumeDb: 9,
        inserts: [
          { id: 'i', kind: 'delay', bypassed: false, values: { timeMs: 300, feedback: 0.4, mix: 0.5 } },
        ],
      },
    },
  }
  const alone = new OverloadSearch(cache, new BackgroundRenderer(cache))
  alone.setSession(echoing, new Map(), null)
  while (await alone.step());
  expect(alone.overloads().length).toBeGreaterThan(0)

  const renderer = new BackgroundRenderer(cache)
  const course = new LoudnessCourse(cache, renderer)
  const search = new OverloadSearch(cache, renderer)
  course.setSession(echoing, new Map())
  search.setSession(echoing, new Map(), null)
  for (let more = true; more;) {
    const [measured, found] = [await course.step(), await search.step()]
    more = measured || found
  }
  // From where the renderer has to settle anew it is the same within 1e-6.
  expect(search.overloads()).toEqual(
    alone.overloads().map((overload) => ({ ...overload, peak: expect.closeTo(overload.peak, 6) })),
  )
  expect(off(course, echoing)).toBeLessThan(5e-6)
})
