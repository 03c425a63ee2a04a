import type { Page } from '@playwright/test'

/**
 * What a page does for so many frames: rests, adds up 200,000 sines in each, scrolls to and fro and back to
 * where it was, or is dragged up and down from a place (one gesture, let go at the end).
 */
export type Doing = 'rest' | 'arithmetic' | 'scroll' | 'scroll down' | { dragFrom: { x: number; y: number } }

/** Times of frames, in milliseconds, each sorted. */
export interface FrameTimes {
  /**
   * For how long the page's thread was at work in each frame, from one event to the next: the event, and all
   * laid out, painted and handed on.
   */
  busy: number[]
  /** The same without what other programs took of the processor meanwhile. */
  own: number[]
  /** From each frame to the next; a screen shows one every 16.7 ms at most. */
  apart: number[]
}

/** An event of a trace; times in microseconds, `tdur` of the processor. */
interface TraceEvent {
  name: string
  cat: string
  ph: string
  pid: number
  tid: number
  ts: number
  dur: number
  tdur?: number
}

const FRAME_MARK = 'frame of a measure'

/** Measures the frames of a page while something is done once in each. */
export async function framesOf(page: Page, count: number, what: Doing): Promise<FrameTimes> {
  const session = await page.context().browser()!.newBrowserCDPSession()
  const events: TraceEvent[] = []
  session.on('Tracing.dataCollected', ({ value }) => events.push(...(value as unknown as TraceEvent[])))
  await session.send('Tracing.start', {
    transferMode: 'ReportEvents',
    traceConfig: { includedCategories: ['toplevel', 'blink.user_timing'], excludedCategories: ['*'] },
  })
  await doInFrames(page, count, what)
  const complete = new Promise((resolve) => session.once('Tracing.tracingComplete', resolve))
  await session.send('Tracing.end')
  await complete
  await session.detach()
  return timesIn(events)
}

/** Frames of something that is done, held against frames of pure arithmetic. */
export interface ComparedFrames {
  work: FrameTimes
  arithmetic: FrameTimes
  /** The 95th percentile of work to the median of the arithmetic right before and after it. */
  ratio: number
}

const together = (all: readonly FrameTimes[]): FrameTimes => {
  const sorted = (of: keyof FrameTimes) => all.flatMap((times) => times[of]).sort((a, b) => a - b)
  return { busy: sorted('busy'), own: sorted('own'), apart: sorted('apart') }
}

/**
 * Measures frames in rounds, with arithmetic between them: a machine that other work shares runs at half its
 * speed for seconds, and what is measured then is held against arithmetic of then. The ratio is that of the
 * middle round.
 */
export async function comparedFrames(page: Page, what: Doing, rounds: number): Promise<ComparedFrames> {
  // A round of scrolling goes there and back again.
  const count = rounds === 1 ? 240 : 120
  const arithmetic = [await framesOf(page, 60, 'arithmetic')]
  const work: FrameTimes[] = []
  for (let round = 0; round < rounds; round++) {
    work.push(await framesOf(page, count, what))
    arithmetic.push(await framesOf(page, 60, 'arithmetic'))
  }
  const ratios = work.map(
    ({ own }, n) => p95(own) / median(together([arithmetic[n]!, arithmetic[n + 1]!]).own),
  )
  return {
    work: together(work),
    arithmetic: together(arithmetic),
    ratio: median(ratios.sort((a, b) => a - b)),
  }
}

function doInFrames(page: Page, count: number, what: Doing): Promise<void> {
  return page.evaluate(
    async ({ frames, todo, mark }) => {
      const timeline = document.querySelector('[data-testid="timeline"]')!
      const { x, y } = typeof todo === 'object' ? todo.dragFrom : { x: 0, y: 0 }
      const target = document.elementFromPoint(x, y)!
      const point = (type: string, dy: number) =>
        target.dispatchEvent(
          new PointerEvent(type, {
            bubbles: true,
            cancelable: true,
            pointerId: 1,
            pointerType: 'mouse',
            isPrimary: true,
            button: type === 'pointermove' ? -1 : 0,
            buttons: type === 'pointerup' ? 0 : 1,
            clientX: x,
            clientY: y + dy,
          }),
        )
      let scrolled = 0
      const wheel = (by: number) => {
        scrolled += by
        timeline.dispatchEvent(
          new WheelEvent('wheel', {
            [todo === 'scroll down' ? 'deltaY' : 'deltaX']: by,
            bubbles: true,
            cancelable: true,
          }),
        )
      }
      let sum = 0
      if (typeof todo === 'object') point('pointerdown', 0)
      for (let i = 0; i < frames; i++) {
        await new Promise(requestAnimationFrame)
        performance.mark(mark)
        if (todo === 'scroll') wheel(i % 120 < 60 ? 23 : -23)
        else if (todo === 'scroll down') wheel(i % 120 < 60 ? 17 : -17)
        else if (todo === 'arithmetic') for (let k = 0; k < 200_000; k++) sum += Math.sin(k)
        else if (todo !== 'rest') point('pointermove', -((i % 60) + 4))
      }
      await new Promise(requestAnimationFrame)
      if (scrolled) wheel(-scrolled)
      if (typeof todo === 'object') {
        point('pointermove', -40)
        point('pointerup', -40)
      }
      await new Promise(requestAnimationFrame)
      if (Number.isNaN(sum)) throw new Error('no sum')
    },
    { frames: count, todo: what, mark: FRAME_MARK },
  )
}

function timesIn(events: readonly TraceEvent[]): FrameTimes {
  const marks = events
    .filter((e) => e.name === FRAME_MARK && e.cat === 'blink.user_timing')
    .sort((a, b) => a.ts - b.ts)
  const { pid, tid } = marks[0]!
  const tasks = events
    .filter((e) => e.pid === pid && e.tid === tid && e.ph === 'X' && e.name.includes('RunTask'))
    .sort((a, b) => a.ts - b.ts)
  const times: FrameTimes = { busy: [], own: [], apart: [] }
  for (let i = 0; i + 1 < marks.length; i++) {
    const [begin, end] = [marks[i]!.ts, marks[i + 1]!.ts]
    let [busy, own] = [0, 0]
    for (const { ts, dur, tdur = 0 } of tasks) {
      const shared = Math.min(ts + dur, end) - Math.max(ts, begin)
      if (shared <= 0) continue
      busy += shared / 1000
      own += (tdur / 1000) * (shared / dur)
    }
    times.busy.push(busy)
    times.own.push(own)
    times.apart.push((end - begin) / 1000)
  }
  for (const all of Object.values(times) as number[][]) all.sort((a, b) => a - b)
  return times
}

const median = (sorted: readonly number[]) => sorted[Math.floor(sorted.length * 0.5)]!
const p95 = (sorted: readonly number[]) => sorted[Math.floor(sorted.length * 0.95)]!

/** Median and 95th percentile of each, in words. */
export const frameWords = ({ busy, own, apart }: FrameTimes) =>
  `busy ${both(busy)}, own ${both(own)}, apart ${both(apart)}`
const both = (sorted: readonly number[]) => `${median(sorted).toFixed(1)} / ${p95(sorted).toFixed(1)} ms`
