import { createTrack } from '../../model/create'
import { testRegion, testSession } from '../../model/fixture.test-util'
import type { Insert } from '../../model/session'
import { processorKind } from '../../dsp/processors'
import { insertSetup } from '../plan/plan-strip'
import { planSession } from '../plan/plan'
import { Renderer } from './run'
import type { SourceReader } from '../region/source-reader'
import { REDUCTION_STEP, StripMeter } from './strip-meter'

/** A sine of 400 Hz that swells and falls twice a second. */
const sample = (n: number) =>
  0.5 * (0.55 - 0.45 * Math.cos((2 * Math.PI * 2 * n) / 48_000)) * Math.sin((2 * Math.PI * 400 * n) / 48_000)
const reader: SourceReader = {
  read(_id, _channel, frame, count, out) {
    for (let i = 0; i < count; i++) out[i] = sample(frame + i)
  },
}
const compressor: Insert = {
  id: 'c',
  kind: 'compressor',
  bypassed: false,
  values: { thresholdDb: -24, attackMs: 5, releaseMs: 80 },
}

test('the reduction that is drawn is that of the processor that is heard', () => {
  const frames = 48 * REDUCTION_STEP
  const session = testSession([testRegion('r', { length: frames })], {}, {
    tracks: { t: { ...createTrack('t', 'T', 1, 0), inserts: [compressor] } },
  } as never)
  const meter = new StripMeter('t', 0, frames, 48_000)
  const renderer = new Renderer(planSession(session, { trackId: 't' }), reader, { probe: meter })
  const [left, right] = [new Float32Array(REDUCTION_STEP), new Float32Array(REDUCTION_STEP)]
  let peak = 0
  for (let at = 0; at < frames; at += REDUCTION_STEP) {
    renderer.renderStage('insert', at, left, right)
    meter.add(left, right)
    for (const x of left) peak = Math.max(peak, Math.abs(x))
  }
  const { reductions, peak: measured } = meter.finish()
  expect(measured).toBe(peak)
  // The processor by itself, fed with the same samples.
  const setup = insertSetup(session, session.tracks.t!, compressor, 1)
  const processor = processorKind('compressor').create(setup)
  const sound = [new Float64Array(1024), new Float64Array(1024)] as const
  let most = 0
  for (let step = 0; step < 48; step++) {
    for (let i = 0; i < 1024; i++) sound[0][i] = Math.fround(sample(step * 1024 + i))
    processor.process(sound, step * 1024, 1024)
    expect(reductions[0]!.db[step]).toBeCloseTo(processor.reductionDb!(0), 4)
    most = Math.max(most, reductions[0]!.db[step]!)
  }
  expect(most).toBeGreaterThan(5)
})
