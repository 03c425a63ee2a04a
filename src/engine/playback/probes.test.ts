import { createTrack } from '../../core/model/create'
import { testRegion, testSession } from '../../core/model/fixture.test-util'
import type { Insert } from '../../core/model/session'
import { planSession, Renderer, stageId, type SourceReader } from '../../core/render'
import { RingProbe } from './probes'
import {
  METER_FRAMES,
  METER_ROW,
  PROBE_NUMBERS,
  PROBES,
  SOUND_AFTER,
  SCOPE_LEFT,
  SCOPE_RIGHT,
  SOUND_BEFORE,
} from './ring'

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
    scope: null,
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

test('every stage around the inserts has its own level, with and without inserts, and the sound is the same to the bit', () => {
  const region = testRegion('r', {
    trackId: 't',
    length: 96_000,
    clipGainDb: -6,
    gainThreadId: 'k',
    fadeIn: { kind: 'gain', length: 90_000, curve: 'linear', bend: 0, level: 0 },
  })
  const knots = [{ frame: 0, value: 10 ** (-16 / 60), shape: 'line' as const, bend: 0 }]
  for (const withInserts of [true, false]) {
    const session = testSession([region], {}, {
      gainThreads: { k: { id: 'k', knots } },
      tracks: {
        t: {
          ...createTrack('t', 'T', 1, 0),
          trimDb: -3,
          volumeDb: -5,
          pan: 1,
          inserts: withInserts ? inserts.slice(0, 1) : [],
        },
      },
    } as never)
    const stages = ['clip-gain', 'gain-thread', 'trim', 'volume', 'pan'] as const
    const meters = new Float32Array(METER_ROW)
    const probe = new RingProbe(meters, 48_000)
    probe.setWatch({
      slots: [
        ...stages.map((stage) => ({ stripId: 't', insertId: stageId(stage) })),
        { stripId: null, insertId: stageId('volume') },
      ],
      sound: null,
      scope: { stripId: 't', insertId: stageId('pan') },
    })
    const watched = new Renderer(planSession(session), reader, { probe })
    const plain = new Renderer(planSession(session), reader)
    const sides = [0, 1, 2, 3].map(() => new Float32Array(METER_FRAMES))
    for (let n = 0; n < 4; n++) {
      probe.begin(0, 0)
      watched.render(n * METER_FRAMES, sides[0]!, sides[1]!)
      plain.render(n * METER_FRAMES, sides[2]!, sides[3]!)
      expect(sides[0]).toEqual(sides[2])
      expect(sides[1]).toEqual(sides[3])
    }
    const peakDb = (n: number, side: 0 | 1) => 20 * Math.log10(meters[PROBES + n * PROBE_NUMBERS + side]!)
    const gain = withInserts ? -6 : 0
    expect(peakDb(0, 0)).toBeCloseTo(-6.02 - 6, 1)
    expect(peakDb(1, 0)).toBeCloseTo(-6.02 - 10, 1)
    // What the fade leaves of it in its first 85 ms of nearly two seconds.
    const faded = peakDb(2, 0) + 3
    expect(faded).toBeLessThan(-6.02 - 10 - 20)
    expect(peakDb(3, 0)).toBeCloseTo(faded - 3 - 5 + gain, 4)
    expect(meters[PROBES + 4 * PROBE_NUMBERS]).toBeCloseTo(0, 6)
    expect(peakDb(4, 1)).toBeCloseTo(faded - 3 - 5 + gain, 4)
    expect(peakDb(5, 1)).toBeCloseTo(peakDb(4, 1), 4)
    // The track alone is the mix: what is kept of it after its pan is what comes out.
    for (const [c, base] of [SCOPE_LEFT, SCOPE_RIGHT].entries())
      expect(
        meters
          .slice(base, base + METER_FRAMES)
          .reduce((m, x, i) => Math.max(m, Math.abs(x - sides[c]![i]!)), 0),
      ).toBeLessThan(1e-8)
  }
})
