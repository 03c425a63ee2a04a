import { setClipGain } from '../src/core/edit'
import type { Session } from '../src/core/model/session'
import { PLAYING_SLACK, planSession, Renderer } from '../src/core/render'
import { movingSession, RATE } from './sessions'

/** Regions of each track, one after the other. */
const REGIONS = 20
const TRACKS = 100
const TIMES = 15
const BLOCK = 1024

/** 100 moving tracks whose regions are cut into 20 each. */
function manyRegions(): Session {
  const session = movingSession(TRACKS, 20, { shape: 'line', bend: 0 })
  const regions: Session['regions'] = {}
  for (const region of Object.values(session.regions))
    for (let n = 0; n < REGIONS; n++) {
      const id = `${region.id}-${n}`
      const length = region.length / REGIONS
      regions[id] = { ...region, id, start: n * length, offset: n * length, length }
    }
  return { ...session, regions }
}

const noise = Float32Array.from({ length: 20 * RATE }, () => Math.random() - 0.5)
const reader = {
  read: (_id: string, _channel: number, frame: number, count: number, out: Float32Array) =>
    out.set(noise.subarray(frame, frame + count)),
}
const median = (values: number[]) => values.sort((a, b) => a - b)[values.length >> 1]!
const round = (x: number) => Math.round(x * 100) / 100

let session = manyRegions()
const renderer = new Renderer(planSession(session), reader, { slackFrames: PLAYING_SLACK })
const [left, right] = [new Float32Array(BLOCK), new Float32Array(BLOCK)]
const edits: number[] = []
const anew: number[] = []
for (let n = 0; n < TIMES; n++) {
  let begun = performance.now()
  session = setClipGain.apply(session, { regionIds: [`t${n}-3`], db: -n })
  renderer.plan = planSession(session)
  renderer.render(n * BLOCK, left, right)
  edits.push(performance.now() - begun)
  // The same session as if it had just been opened: nothing of it has been planned.
  const opened = structuredClone(session)
  begun = performance.now()
  new Renderer(planSession(opened), reader).render(n * BLOCK, left, right)
  anew.push(performance.now() - begun)
}
console.log(
  JSON.stringify({
    bench: 'edit',
    what: `edit → first new sample, ${TRACKS} tracks of ${REGIONS} regions`,
    where: 'Node, one thread',
    ours: round(median(edits)),
    theirs: round(median(anew)),
    yardstick: 'the same planned from nothing',
    ratio: round(median(anew) / median(edits)),
    unit: 'ms',
  }),
)
