import { planSession, Renderer } from '../src/core/render'
import type { Session } from '../src/core/model/session'
import { ensureChromium } from '../scripts/chromium.mjs'
import { movingSession, RATE, type Stretches } from './sessions'
import { openYardstick } from './yardstick'

const SECONDS = 10
const TIMES = 3

const noise = [0, 1].map(() => Float32Array.from({ length: SECONDS * RATE }, () => Math.random() - 0.5))
const reader = {
  read: (_id: string, channel: number, frame: number, count: number, out: Float32Array) =>
    out.set(noise[channel]!.subarray(frame, frame + count)),
  view: (_id: string, channel: number, frame: number, count: number) =>
    noise[channel]!.subarray(frame, frame + count),
}

/** Milliseconds that our renderer takes on one thread. */
function ours(session: Session, from: number): number {
  const renderer = new Renderer(planSession(session), reader)
  const [left, right] = [new Float32Array(SECONDS * RATE), new Float32Array(SECONDS * RATE)]
  const begun = performance.now()
  renderer.render(from, left, right)
  return performance.now() - begun
}

const median = (values: number[]) => values.sort((a, b) => a - b)[values.length >> 1]!

const straight: Stretches = { shape: 'line', bend: 0 }
const rows: { what: string; session: Session; tracks: number; from?: number; processed?: boolean }[] = [
  { what: '24 tracks moving', session: movingSession(24, SECONDS, straight), tracks: 24 },
  {
    what: '24 tracks moving, bent lines (yardstick: straight ones)',
    session: movingSession(24, SECONDS, { shape: 'line', bend: 0.6 }),
    tracks: 24,
  },
  {
    what: '24 tracks moving, S-curves (yardstick: straight lines)',
    session: movingSession(24, SECONDS, { shape: 's-curve', bend: 0 }),
    tracks: 24,
  },
  {
    what: '24 tracks moving, four filters and a compressor each',
    session: movingSession(24, SECONDS, straight, { processed: true }),
    tracks: 24,
    processed: true,
  },
  {
    what: '100 tracks of which 10 sound',
    session: movingSession(100, SECONDS, straight, { sounding: 10 }),
    tracks: 10,
  },
  {
    what: '24 tracks moving, from 50 minutes on',
    session: movingSession(24, SECONDS, straight, { from: 3000 * RATE }),
    tracks: 24,
    from: 3000 * RATE,
  },
]

const executablePath = ensureChromium()
const yardstick = executablePath ? await openYardstick(executablePath) : null
if (!yardstick) console.error('Without Chromium there is no yardstick: only our own times are printed.')
for (const { what, session, tracks, from = 0, processed = false } of rows) {
  ours(session, from)
  const graph = { tracks, seconds: SECONDS, sampleRate: RATE, processed }
  const times = { ours: [] as number[], theirs: [] as number[] }
  // In turn, so that whatever else the machine does meets both.
  for (let i = 0; i < TIMES; i++) {
    times.ours.push(ours(session, from))
    if (yardstick) times.theirs.push(await yardstick.milliseconds(graph))
  }
  const realTime = (milliseconds: number) => Math.round((SECONDS * 10_000) / milliseconds) / 10
  const own = median(times.ours)
  const theirs = yardstick ? median(times.theirs) : null
  console.log(
    JSON.stringify({
      bench: 'render',
      what,
      where: 'Node, one thread',
      ours: realTime(own),
      ...(theirs === null ? {} : { theirs: realTime(theirs), ratio: Math.round((theirs / own) * 100) / 100 }),
      unit: 'times real time',
    }),
  )
}
await yardstick?.close()
