import { createTrack } from '../model/create'
import { testRegion, testSession } from '../model/fixture.test-util'
import type { Insert, Session, Track } from '../model/session'
import { planSession, renderedBlocks } from '../render'
import { CancellingTracksMeter } from './cancelling-tracks'
import { ReportMeter } from './report'

const RATE = 48_000
const FRAMES = 3 * RATE

/** A sine whose pitch glides, and another one, each from -1 to 1. */
const glide = (n: number, hz: number) => Math.sin((2 * Math.PI * n * (hz + n / 4000)) / RATE)
const sounds: Record<string, (n: number) => number> = {
  one: (n) => 0.2 * glide(n, 110),
  // From the second on until the next it is turned round, and 2 dB softer all the time.
  turned: (n) => 0.2 * 10 ** (-2 / 20) * glide(n, 110) * (n >= RATE && n < 2 * RATE ? -1 : 1),
  // A third of it is that sound turned round: with a correlation of -0.35 little is lost.
  partly: (n) => 0.2 * (0.35 * -glide(n, 110) + 0.93 * glide(n, 1733)),
  other: (n) => 0.2 * glide(n, 523),
}
const cache = {
  using: (_spans: unknown, render: () => void) => Promise.resolve(render()),
  read: (id: string, _channel: number, frame: number, count: number, out: Float32Array) => {
    for (let i = 0; i < count; i++) out[i] = sounds[id]!(frame + i)
  },
} as never

function sessionOf(tracks: Record<string, Partial<Track>>, more: Partial<Session> = {}): Session {
  const ids = Object.keys(tracks)
  const source = testSession([]).sources.s!
  return {
    ...testSession(
      ids.map((id) => testRegion(id, { trackId: id, sourceId: id, length: FRAMES })),
      {},
      more,
    ),
    trackIds: ids,
    tracks: Object.fromEntries(ids.map((id) => [id, { ...createTrack(id, id, 1, 0), ...tracks[id] }])),
    sources: Object.fromEntries(ids.map((id) => [id, { ...source, id }])),
  }
}

async function found(session: Session) {
  const probe = new CancellingTracksMeter(session)
  const meter = new ReportMeter(RATE, 2, probe)
  for await (const { from, left, right } of renderedBlocks(planSession(session), cache, {
    from: 0,
    to: FRAMES,
    probe,
  }))
    meter.add(from, [left, right])
  return meter
    .finish()
    .tracks.map(({ trackIds, from, to, lostDb }) => ({ trackIds, from: from / RATE, to: to / RATE, lostDb }))
}

// Of a = 1 and b = 10^(-2/20) in opposition (1 - b)² is left of 1 + b²: 16.4 dB are lost.
const b = 10 ** (-2 / 20)
const lost = -10 * Math.log10((1 - b) ** 2 / (1 + b * b))
const turnedOver = [
  {
    trackIds: ['one', 'turned'],
    from: expect.closeTo(1, 1) as number,
    to: expect.closeTo(2, 1) as number,
    lostDb: expect.closeTo(lost, 0) as number,
  },
]

const delayed: Insert = { id: 'i', kind: 'ceiling', bypassed: false, values: { ceilingDbtp: 0 }, key: null }

test('two tracks that cancel are found where they do, whatever stands in their chains', async () => {
  expect(await found(sessionOf({ one: {}, turned: {}, other: {} }))).toEqual(turnedOver)
  expect(await found(sessionOf({ one: { inserts: [delayed] }, turned: {}, other: {} }))).toEqual(turnedOver)
  expect(await found(sessionOf({ one: {}, turned: { polarity: -1 } }))).toHaveLength(2)
})

test('a stretch is one, whichever of both is heard first', async () => {
  const session = sessionOf({ one: {}, turned: { polarity: -1 } })
  const { regions } = session
  // Where the window from frame 100737 on begins, the first one is silent: there the second is heard before it.
  const [cut, late] = [100_000, 101_500]
  const parts = {
    a: { ...regions.one!, id: 'a', length: cut },
    b: { ...regions.one!, id: 'b', start: late, offset: late, length: FRAMES - late },
  }
  const split = { ...session, regions: { turned: regions.turned!, ...parts } }
  const stretches = await found(split as Session)
  expect(stretches).toHaveLength(2)
  expect(stretches[1]).toMatchObject({ trackIds: ['one', 'turned'], from: expect.closeTo(2, 1) as number })
})

test('what is muted, far softer, or on the other side is not found', async () => {
  expect(await found(sessionOf({ one: {}, turned: { muted: true } }))).toEqual([])
  expect(await found(sessionOf({ one: {}, turned: { volumeDb: -12 } }))).toEqual([])
  expect(await found(sessionOf({ one: { pan: -1 }, turned: { pan: 1 } }))).toEqual([])
})

test('tracks of one group are found at a correlation that others may have by chance', async () => {
  const tracks = { one: {}, partly: {} }
  expect(await found(sessionOf(tracks))).toEqual([])
  const grouped = sessionOf(tracks, {
    groups: [{ id: 'g', name: 'pair', trackIds: ['one', 'partly'] }],
  } as Partial<Session>)
  expect(await found(grouped)).toHaveLength(1)
})
