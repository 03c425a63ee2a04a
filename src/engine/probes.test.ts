import { createTrack } from '../core/model/create'
import { testRegion, testSession } from '../core/model/fixture.test-util'
import type { Insert } from '../core/model/session'
import { planSession, Renderer, type SourceReader } from '../core/render'
import { RingProbe } from './probes'
import { METER_FRAMES, METER_ROW, PROBE_NUMBERS, PROBES, SOUND_AFTER, SOUND_BEFORE } from './ring'

/** A sine of 1 kHz at half of full scale. */
const reader: SourceReader = {
  read(_id, _channel, frame, count, out) {
    for (let i = 0; i < count; i++) out[i] = 0.5 * Math.sin((2 * Math.PI * 1000 * (frame + i)) / 48_000)
  },
}
const inserts: Insert[] = [
  { id: 'g', kind: 'gain', bypassed: false, values: { gainDb: -6 } },
  {
    id: 'c',
    kind: 'compressor',
    bypassed: false,
    values: { thresholdDb: -22, ratio: 2, kneeDb: 0, attackMs: 1, releaseMs: 20 },
  },
]

test('what passes the watched places stands in the row: peaks, loudness, the reduction, and the sound before and after', () => {
  const session = testSession([testRegion('r', { trackId: 't', length: 96_000 })], {}, {
    tracks: { t: { ...createTrack('t', 'T', 1, 0), inserts } },
  } as never)
  const meters = new Float32Array(METER_ROW * 2)
  const probe = new RingProbe(meters, 48_000)
  probe.setWatch({
    slots: [
      { stripId: 't', insertId: null },
      { stripId: 't', insertId: 'g' },
      { stripId: 't', insertId: 'c' },
    ],
    sound: { stripId: 't', insertId: 'c' },
  })
  const renderer = new Renderer(planSession(session), reader, { probe })
  const block = new Float32Array(METER_FRAMES)
  // What is rendered for something else is not noted.
  renderer.render(0, block, block)
  expect(meters.every((x) => x === 0)).toBe(true)
  for (let n = 1; n < 48; n++) {
    probe.begin(METER_ROW * (n % 2), 0)
    renderer.render(n * METER_FRAMES, block, block)
  }
  const row = meters.subarray(METER_ROW, 2 * METER_ROW)
  const slot = (n: number) => row.subarray(PROBES + n * PROBE_NUMBERS, PROBES + (n + 1) * PROBE_NUMBERS)
  const db = (x: number) => 20 * Math.log10(x)
  expect(db(slot(0)[0]!)).toBeCloseTo(-6.02, 1)
  expect(db(slot(1)[1]!)).toBeCloseTo(-12.02, 1)
  // 9.98 dB over the threshold at 2:1.
  expect(slot(2)[3]).toBeCloseTo(4.99, 1)
  expect(db(slot(2)[0]!)).toBeCloseTo(-12.02 - 4.99, 1)
  // A sine of 1 kHz at 0 dBFS on one channel has -3.01 LUFS.
  expect(-0.691 + 10 * Math.log10(slot(0)[2]! / METER_FRAMES)).toBeCloseTo(-6.02 - 3.01, 1)
  const [before, after] = [SOUND_BEFORE, SOUND_AFTER].map((at) => row.subarray(at, at + METER_FRAMES))
  for (const i of [3, 500, 1000]) {
    expect(before![i]).toBeCloseTo(0.5 * 10 ** (-6 / 20) * Math.sin((2 * Math.PI * (47 * 1024 + i)) / 48), 5)
    expect(after![i]! / before![i]!).toBeCloseTo(10 ** (-slot(2)[3]! / 20), 2)
  }
})
