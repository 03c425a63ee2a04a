import fc from 'fast-check'
import { createTrack } from '../../core/model/create'
import { testRegion, testSession } from '../../core/model/fixture.test-util'
import type { Session } from '../../core/model/session'
import { CHUNK_FRAMES, ChunkCache, planSession, RENDER_BLOCK, Renderer } from '../../core/render'
import type { StoredSound } from '../storage'
import { BackgroundRenderer } from './background-renderer'
import { OverloadSearch } from './overload-search'

const TRACKS = 5
const LENGTH = 60_000
const sounds = Array.from({ length: TRACKS }, (_, t) =>
  Float32Array.from(
    { length: LENGTH },
    (_, n) => Math.sin(n * (0.02 + t * 0.011)) * (0.3 + 0.25 * Math.sin(n * 0.0003 + t)),
  ),
)

/** Five tracks, each with a region over a sound of its own, together near full scale. */
const base: Session = {
  ...testSession(
    sounds.map((_, t) =>
      testRegion(`r${t}`, { trackId: `t${t}`, sourceId: `s${t}`, start: t * 3000, length: LENGTH }),
    ),
  ),
  trackIds: sounds.map((_, t) => `t${t}`),
  tracks: Object.fromEntries(sounds.map((_, t) => [`t${t}`, createTrack(`t${t}`, `T${t}`, 1, t)])),
  sources: Object.fromEntries(
    sounds.map((_, t) => [
      `s${t}`,
      {
        id: `s${t}`,
        name: `s${t}`,
        channels: 1,
        frames: LENGTH,
        sampleRate: 48000,
        sha256: String(t).repeat(64),
      },
    ]),
  ),
}

function searching() {
  const rendered = { chunks: 0, reads: new Map<string, number>() }
  const cache = new ChunkCache<StoredSound>(async ({ key }, index) => {
    rendered.chunks++
    return [sounds[Number(key.slice(1))]!.slice(index * CHUNK_FRAMES, (index + 1) * CHUNK_FRAMES)]
  })
  cache.setSources(
    new Map(
      sounds.map((_, t) => [
        `s${t}`,
        { key: `s${t}`, channels: 1, frames: LENGTH } as unknown as StoredSound,
      ]),
    ),
  )
  const read = cache.read.bind(cache)
  cache.read = (id, channel, frame, count, out) => {
    rendered.reads.set(id, (rendered.reads.get(id) ?? 0) + count)
    read(id, channel, frame, count, out)
  }
  const view = cache.view.bind(cache)
  cache.view = (id, channel, frame, count) => {
    rendered.reads.set(id, (rendered.reads.get(id) ?? 0) + count)
    return view(id, channel, frame, count)
  }
  return { search: new OverloadSearch(cache, new BackgroundRenderer(cache)), rendered }
}

const finish = async (search: OverloadSearch) => {
  while (await search.step());
}

/** The peaks of every block by rendering everything, without any of the search's short cuts. */
function expected(session: Session): Record<string, number> {
  const plan = planSession(session)
  const reader = {
    read: (id: string, _c: number, at: number, count: number, out: Float32Array) =>
      void out.set(sounds[Number(id.slice(1))]!.subarray(at, at + count)),
  }
  const renderer = new Renderer(plan, reader)
  const found: Record<string, number> = {}
  const [left, right] = [new Float32Array(RENDER_BLOCK), new Float32Array(RENDER_BLOCK)]
  for (let at = 0; at < plan.length; at += RENDER_BLOCK) {
    renderer.render(at, left, right, (index, l, r) => {
      const id = plan.tracks[index]!.id
      if (Math.max(l, r) > 1) found[id] = Math.max(found[id] ?? 0, l, r)
    })
    const peak = [...left, ...right].reduce((most, x) => Math.max(most, Math.abs(x)), 0)
    if (peak > 1) found.mix = Math.max(found.mix ?? 0, peak)
  }
  return found
}

function found(search: OverloadSearch): Record<string, number> {
  const peaks: Record<string, number> = {}
  for (const { trackId, peak } of search.overloads())
    peaks[trackId ?? 'mix'] = Math.max(peaks[trackId ?? 'mix'] ?? 0, peak)
  return peaks
}

const withTrack = (session: Session, t: number, change: object): Session => ({
  ...session,
  tracks: { ...session.tracks, [`t${t}`]: { ...session.tracks[`t${t}`]!, ...change } },
})

test('after any edits it finds what looking through everything anew finds', async () => {
  const knot = fc.record({ frame: fc.nat(70_000), value: fc.double({ min: 0.3, max: 0.9, noNaN: true }) })
  const lane = fc.array(knot, { maxLength: 4 }).map((list) => ({
    volume: {
      knots: list.sort((a, b) => a.frame - b.frame).map((k) => ({ ...k, shape: 'line' as const, bend: 0 })),
      bypassed: false,
      visible: true,
    },
  }))
  const track = fc.nat(TRACKS - 1)
  const db = fc.integer({ min: -20, max: 12 })
  const edit = fc.oneof(
    fc.tuple(track, db).map(
      ([t, volumeDb]) =>
        (s: Session) =>
          withTrack(s, t, { volumeDb }),
    ),
    fc.tuple(track, lane).map(
      ([t, lanes]) =>
        (s: Session) =>
          withTrack(s, t, { lanes }),
    ),
    fc.tuple(track, fc.boolean()).map(
      ([t, muted]) =>
        (s: Session) =>
          withTrack(s, t, { muted }),
    ),
    fc.tuple(track, fc.boolean()).map(
      ([t, soloed]) =>
        (s: Session) =>
          withTrack(s, t, { soloed }),
    ),
    db.map((volumeDb) => (s: Session) => ({ ...s, mix: { ...s.mix, volumeDb } })),
    lane.map((lanes) => (s: Session) => ({ ...s, mix: { ...s.mix, lanes } })),
    fc.tuple(track, db, fc.nat(80_000)).map(([t, clipGainDb, start]) => (s: Session) => ({
      ...s,
      regions: { ...s.regions, [`r${t}`]: { ...s.regions[`r${t}`]!, clipGainDb, start } },
    })),
  )
  await fc.assert(
    fc.asyncProperty(fc.array(fc.tuple(edit, fc.nat(4)), { minLength: 1, maxLength: 6 }), async (edits) => {
      const { search } = searching()
      let session = base
      search.setSession(session, new Map(), null)
      for (const [apply, steps] of edits) {
        // Some edits come while the search is still at work.
        for (let i = 0; i < steps; i++) await search.step()
        session = apply(session)
        search.setSession(session, new Map(), { from: 20_000, to: 30_000 })
      }
      await finish(search)
      const [is, should] = [found(search), expected(session)]
      expect(Object.keys(is).sort()).toEqual(Object.keys(should).sort())
      for (const id in should) expect(is[id]).toBeCloseTo(should[id]!, 6)
      expect(search.progress()).toBe(1)
    }),
    { numRuns: 25 },
  )
})

test('an edit of one track has only that one rendered again, and the mix only where it could be too loud', async () => {
  const { search, rendered } = searching()
  const quiet = { ...base, mix: { ...base.mix, volumeDb: -30 } }
  search.setSession(quiet, new Map(), null)
  await finish(search)
  rendered.reads.clear()
  const louder = withTrack(quiet, 2, { volumeDb: 3 })
  search.setSession(louder, new Map(), null)
  await finish(search)
  expect([...rendered.reads.keys()]).toEqual(['s2'])
  expect(rendered.reads.get('s2')).toBeLessThanOrEqual(LENGTH + 2 * RENDER_BLOCK)
  rendered.reads.clear()
  // Muting and the fader of the mix need no sound at all as long as nothing can be too loud.
  search.setSession(
    withTrack({ ...louder, mix: { ...louder.mix, volumeDb: -40 } }, 1, { muted: true }),
    new Map(),
    null,
  )
  await finish(search)
  expect(rendered.reads.size).toBe(0)
})

test('the flag of what was just changed comes first, wherever the rest of the search is', async () => {
  const { search } = searching()
  search.setSession(base, new Map(), { from: 0, to: 1000 })
  await search.step()
  const loud = withTrack(base, 4, { volumeDb: 12 })
  search.setSession(loud, new Map(), { from: 40_000, to: 50_000 })
  await search.step()
  const [first] = search.overloads().filter((o) => o.trackId === 't4')
  expect(first!.to).toBeGreaterThan(40_000)
  expect(first!.from).toBeLessThan(50_000)
})

test('a sound that cannot be read is told, and not taken for silence', async () => {
  const cache = new ChunkCache<StoredSound>(async () => {
    throw new Error('the storage fails')
  })
  cache.setSources(
    new Map(
      sounds.map((_, t) => [
        `s${t}`,
        { key: `s${t}`, channels: 1, frames: LENGTH } as unknown as StoredSound,
      ]),
    ),
  )
  const search = new OverloadSearch(cache, new BackgroundRenderer(cache))
  search.setSession(base, new Map(), null)
  await expect(search.step()).rejects.toThrow('the storage fails')
})
