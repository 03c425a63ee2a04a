import fc from 'fast-check'
import { createTrack } from '../model/create'
import { testRegion, testSession } from '../model/fixture.test-util'
import { applyPatches, diff } from '../model/patch'
import { breachLine, brokenRules } from '../model/check/rules'
import type { Crossfade, Fade, Knot, Session } from '../model/session'
import { drawInto, mapValues, plateau, reshapeStretch, thinKnots } from '../curve/knots'
import { mapLane, weaveInto, weaveShapes } from '../curve/weave'
import {
  addMarker,
  alignCrossfade,
  automationOf,
  carrying,
  changeMarker,
  clearAutomation,
  copyFades,
  copyRegions,
  crossfadeJoins,
  deleteRegions,
  detachWeave,
  copyRegionsBy,
  duplicateRegions,
  fadeMix,
  groupTracks,
  insertTime,
  joinRegions,
  joinsOf,
  cutAndClose,
  keepParts,
  lanesWithKnots,
  weaveContextOf,
  moveRegions,
  pasteAutomation,
  pasteRegions,
  placedWeave,
  renderInPlace,
  removeCrossfades,
  removeMarker,
  removeTime,
  removeWeave,
  resetThreads,
  resizedWeave,
  setClipGains,
  setFade,
  setFades,
  setGiveWay,
  setLanesBypassed,
  setPanMode,
  setRegion,
  setTempo,
  setWeave,
  shiftCrossfade,
  shapeThread,
  shiftAutomation,
  threadOf,
  slipRegions,
  splitRegions,
  trimRegions,
  ungroupTracks,
  unlinkRegions,
  type Edit,
} from '.'

const knots: Knot[] = [
  { frame: 2000, value: 0.4, shape: 'line', bend: 0.3 },
  { frame: 9000, value: 0.7, shape: 's-curve', bend: 0 },
  { frame: 30000, value: 0.5, shape: 'hold', bend: 0 },
  { frame: 40000, value: 0.6, shape: 'line', bend: 0 },
]

const fade = (length: number): Fade => ({ kind: 'gain', length, curve: 'linear', bend: 0, level: 0 })

test('after any sequence of arranging the rules hold, and undoing all gives the same session', () => {
  const cross = (id: string, leftId: string, rightId: string): Crossfade => ({
    id,
    leftId,
    rightId,
    law: 'equal-power',
    out: { curve: 'linear', bend: 0 },
    in: { curve: 'linear', bend: 0 },
  })
  const base: Session = {
    ...testSession([
      testRegion('a', { length: 10000, offset: 3000, fadeIn: fade(900), gainThreadId: 'g' }),
      testRegion('b', { start: 8000, offset: 20000, length: 9000 }),
      testRegion('c', { start: 15000, length: 8000, reversed: true, fadeOut: fade(4000) }),
      testRegion('d', { trackId: 'm', start: 5000, length: 12000, gainThreadId: 'g' }),
      testRegion('e', { trackId: 'm', start: 30000, length: 3000, locked: true }),
      testRegion('f', { trackId: 's', start: 2000, length: 3000 }),
    ]),
    trackIds: ['t', 'm', 's'],
    gainThreads: { g: { id: 'g', knots } },
    crossfades: { x: cross('x', 'a', 'b'), y: cross('y', 'b', 'c') },
  }
  base.tracks.m = createTrack('m', 'M', 1, 1)
  base.tracks.s = createTrack('s', 'S', 2, 2)
  expect(brokenRules(base)).toEqual([])
  // Which regions: by numbers, since edits make new ones.
  const pick = fc.array(fc.nat(50), { minLength: 1, maxLength: 3 })
  // Frames also in coarse steps, so that edges meet exactly.
  const near = (min: number, max: number) =>
    fc.oneof(
      fc.integer({ min, max }),
      fc.integer({ min: Math.ceil(min / 1000), max: Math.floor(max / 1000) }).map((n) => n * 1000),
    )
  const frames = near(-20000, 20000)
  const step = <A extends { regionIds: readonly string[] }>(
    edit: Edit<A>,
    args: fc.Arbitrary<Omit<A, 'regionIds'>>,
  ) =>
    fc.tuple(pick, args).map(([numbers, rest]) => (s: Session) => {
      const ids = Object.keys(s.regions)
      const regionIds = [...new Set(numbers.map((n) => ids[n % ids.length]!))]
      const args = { ...rest, regionIds } as unknown as A
      if (ids.length === 0) return s
      return edit.apply(s, s.groups && edit.together ? edit.together(s, args).args : args)
    })
  const steps = fc.oneof(
    step(moveRegions, fc.record({ byFrames: frames, byTracks: fc.integer({ min: -2, max: 2 }) })),
    step(copyRegionsBy, fc.record({ byFrames: frames, byTracks: fc.integer({ min: -2, max: 2 }) })),
    step(trimRegions, fc.record({ edge: fc.constantFrom('start', 'end'), byFrames: frames })),
    step(slipRegions, fc.record({ byFrames: frames })),
    step(splitRegions, fc.record({ frames: fc.array(near(0, 40000), { maxLength: 3 }) })),
    step(joinRegions, fc.constant({})),
    step(deleteRegions, fc.record({ closeGap: fc.boolean() })),
    step(
      duplicateRegions,
      fc.record({ times: fc.integer({ min: 1, max: 3 }), linked: fc.boolean(), insert: fc.boolean() }),
    ),
    step(unlinkRegions, fc.constant({})),
    fc
      .record({ rows: fc.array(fc.nat(2), { maxLength: 3 }), leave: fc.boolean() })
      .map(({ rows, leave }) => (s: Session) => {
        const trackIds = rows.map((row) => s.trackIds[row]!)
        return leave
          ? ungroupTracks.apply(s, { trackIds })
          : groupTracks.apply(s, { trackIds: [...new Set(trackIds)], name: 'Room' })
      }),
    fc.record({ at: near(0, 40000), length: near(1, 9000), removed: fc.boolean() }).map(
      ({ at, length, removed }) =>
        (s: Session) =>
          removed
            ? removeTime.apply(s, { from: at, to: at + length })
            : insertTime.apply(s, { at, frames: length }),
    ),
    fc
      .record({
        n: fc.nat(50),
        from: fc.integer({ min: 0, max: 30000 }),
        length: fc.integer({ min: 1, max: 9000 }),
        byDb: fc.double({ min: -30, max: 20, noNaN: true }),
        shoulder: fc.nat(600),
      })
      .map(({ n, from, length, byDb, shoulder }) => (s: Session) => {
        const region = Object.values(s.regions)[n % Math.max(1, Object.keys(s.regions).length)]
        const before = region?.gainThreadId ? s.gainThreads[region.gainThreadId]!.knots : []
        return region
          ? shapeThread.apply(s, {
              ref: { kind: 'region', regionId: region.id },
              knots: plateau(before, from, from + length, byDb, shoulder),
            })
          : s
      }),
    fc
      .record({
        n: fc.nat(50),
        from: fc.integer({ min: 0, max: 30000 }),
        values: fc.array(fc.double({ min: 0, max: 1, noNaN: true }), { minLength: 2, maxLength: 30 }),
        what: fc.constantFrom('draw', 'thin', 'bend', 'scale'),
      })
      .map(({ n, from, values, what }) => (s: Session) => {
        const region = Object.values(s.regions)[n % Math.max(1, Object.keys(s.regions).length)]
        if (!region) return s
        const ref = { kind: 'region' as const, regionId: region.id }
        const { knots: before, kind } = threadOf(s, ref)!
        const after =
          what === 'draw'
            ? drawInto(
                before,
                values.map((value, i) => ({ frame: from + i * 40, value })),
                0.5,
                240,
              ).knots
            : what === 'thin'
              ? thinKnots(before, [], 1)
              : what === 'bend'
                ? reshapeStretch(before, n % Math.max(1, before.length), { bend: values[0]! * 2 - 1 })
                : mapValues(
                    kind,
                    before,
                    before.map((_, i) => i),
                    (v) => kind.scaled(v, values[0]! * 2),
                  )
        return shapeThread.apply(s, { ref, knots: after })
      }),
    fc
      .record({
        numbers: pick,
        parts: fc.array(fc.record({ from: near(0, 30000), length: near(1, 4000) }), { maxLength: 3 }),
      })
      .map(({ numbers, parts }) => (s: Session) => {
        const ids = Object.keys(s.regions)
        const kept = parts
          .map(({ from, length }, i) => ({ from: from + i * 8000, to: from + i * 8000 + length }))
          .sort((a, b) => a.from - b.from)
          .filter((p, i, all) => i === 0 || p.from >= all[i - 1]!.to)
        return ids.length === 0
          ? s
          : (numbers[0]! % 2 ? keepParts : cutAndClose).apply(s, {
              parts: Object.fromEntries(numbers.map((n) => [ids[n % ids.length]!, kept])),
            })
      }),
    fc
      .record({ at: fc.nat(90000), n: fc.nat(5), bpm: fc.double({ min: 20, max: 300, noNaN: true }) })
      .map(({ at, n, bpm }) => (s: Session) => {
        const marker = s.markers[n % Math.max(1, s.markers.length)]
        const marked = addMarker.apply(s, {
          id: `m${s.markers.length}-${at}-${n}-${s.markers.map((m) => m.id).join('').length}`,
          frame: at,
          name: 'here',
        })
        const moved = marker
          ? changeMarker.apply(marked, { id: marker.id, change: { frame: at * 2 } })
          : marked
        return setTempo.apply(n === 0 && marker ? removeMarker.apply(moved, { id: marker.id }) : moved, {
          atBeat: 0,
          change: { bpm },
        })
      }),
    fc
      .record({ n: fc.nat(50), db: fc.double({ min: -72, max: 36, noNaN: true }) })
      .map(({ n, db }) => (s: Session) => {
        const ids = Object.keys(s.regions)
        return ids.length
          ? setClipGains.apply(s, { gains: { [ids[n % ids.length]!]: db }, what: 'Match' })
          : s
      }),
    fc
      .record({ n: fc.nat(50), start: near(0, 40000), frames: near(1, 9000), replace: fc.boolean() })
      .map(({ n, start, frames, replace }) => (s: Session) => {
        const ids = Object.keys(s.regions)
        const target = s.regions[ids[n % Math.max(1, ids.length)] ?? '']
        if (!target) return s
        const id = `made${Object.keys(s.sources).length}`
        const source = {
          id,
          name: 'made',
          channels: s.tracks[target.trackId]!.channels,
          frames,
          sampleRate: s.sampleRate,
          sha256: '1'.repeat(64),
        }
        const whole = replace && !target.locked
        const from = whole ? target.start : start
        return renderInPlace.apply(s, {
          source: { ...source, frames: whole ? target.length : frames },
          regionId: `${id}r`,
          trackId: target.trackId,
          keptId: `${id}k`,
          newTrackId: frames % 2 ? `${id}t` : null,
          from,
          to: from + (whole ? target.length : frames),
          name: 'made',
          regionIds: whole ? [target.id] : null,
        })
      }),
    step(
      copyFades as unknown as Edit<{
        regionIds: readonly string[]
        fromId: string
        edges: readonly ('in' | 'out')[]
      }>,
      fc.record({ fromId: fc.constant('a'), edges: fc.constant<('in' | 'out')[]>(['in', 'out']) }),
    ),
    step(
      setFades,
      fc.record({
        edges: fc.constant<('in' | 'out')[]>(['in', 'out']),
        change: fc.record({
          proportion: fc.double({ min: 0, max: 1, noNaN: true }),
          kind: fc.constantFrom('gain', 'tape'),
          k: fc.double({ min: 0.5, max: 4, noNaN: true }),
          curve: fc.constantFrom('linear', 'exponential'),
          bend: fc.double({ min: -1, max: 1, noNaN: true }),
          level: fc.double({ min: 0, max: 1, noNaN: true }),
        }),
      }),
    ),
    fc
      .record({
        lengthFrames: near(1, 9000),
        law: fc.constantFrom('equal-gain', 'equal-power', 'level', 'free'),
      })
      .map(
        ({ lengthFrames, law }) =>
          (s: Session) =>
            crossfadeJoins.apply(s, { joins: joinsOf(s, Object.keys(s.regions)), lengthFrames, law }),
      ),
    fc
      .record({ n: fc.nat(9), by: frames, edge: fc.constantFrom('start', 'end', 'both'), what: fc.nat(2) })
      .map(({ n, by, edge, what }) => (s: Session) => {
        const ids = Object.keys(s.crossfades)
        const id = ids[n % Math.max(1, ids.length)]
        return id === undefined
          ? s
          : what === 0
            ? removeCrossfades.apply(s, { crossfadeIds: [id] })
            : what === 1
              ? shiftCrossfade.apply(s, { crossfadeId: id, edge, byFrames: by })
              : alignCrossfade.apply(s, { crossfadeId: id, byFrames: by })
      }),
    fc
      .record({
        n: fc.nat(9),
        lane: fc.constantFrom('volume', 'pan', 'panLeft'),
        from: near(0, 30000),
        length: near(20, 20000),
        by: fc.double({ min: -20, max: 20, noNaN: true }),
        what: fc.nat(12),
      })
      .map(({ n, lane, from, length, by, what }) => (s: Session) => {
        // A track, or the mix.
        const trackId = s.trackIds[n % (s.trackIds.length + 1)] ?? null
        const ref = { kind: 'lane' as const, trackId, lane }
        const thread = threadOf(s, ref)
        if (!thread) return s
        const { knots: before, kind } = thread
        if (what === 0) return setLanesBypassed.apply(s, { lanes: lanesWithKnots(s), bypassed: n % 2 === 0 })
        if (what === 1 && trackId !== null)
          return setPanMode.apply(s, { trackId, panMode: n % 2 ? 'pair' : 'balance' })
        if (what === 2 && trackId !== null)
          return setGiveWay.apply(s, {
            lanes: {
              [trackId]: {
                knots: lane === 'volume' ? before : [],
                giveWay:
                  n % 2
                    ? null
                    : {
                        others: [trackId],
                        depthDb: 6,
                        attackMs: 1,
                        holdMs: 1,
                        releaseMs: 1,
                        lookAheadMs: 1,
                        gapMs: 1,
                        thresholdLufs: -40,
                        base: lane === 'volume' ? [...before] : [],
                      },
              },
            },
          })
        const lanes = [ref]
        const clip = automationOf(s, ref, from, from + length)!
        if (what === 5) return clearAutomation.apply(s, { lanes, from, to: from + length })
        if (what === 6)
          return pasteAutomation.apply(s, { clips: [{ ref, clip }], at: n * 4000, times: 1 + (n % 3) })
        if (what === 7)
          return shiftAutomation.apply(s, { lanes, from, to: from + length, byFrames: Math.round(by * 1000) })
        if (what === 8)
          return carrying(moveRegions, true).apply(s, {
            regionIds: Object.keys(s.regions).slice(0, 1 + (n % 3)),
            byFrames: Math.round(by * 500),
            byTracks: n % 2,
          })
        const weave = {
          shape: weaveShapes[n % weaveShapes.length]!,
          period: { ms: 20 + n },
          low: kind.min + 0.1,
          high: kind.max - 0.1,
          phase: Math.abs(by) / 40,
          duty: 0.3,
          seed: n,
        }
        if (what === 9)
          return setWeave.apply(s, { ref, weave: placedWeave(weave, from, from + length), replaces: null })
        const picked = thread.weaves[n % Math.max(1, thread.weaves.length)]
        if (what === 10 && picked)
          return n % 3 === 0
            ? detachWeave.apply(s, { ref, from: picked.from })
            : n % 3 === 1
              ? removeWeave.apply(s, { ref, from: picked.from })
              : setWeave.apply(s, {
                  ref,
                  weave: resizedWeave(
                    { ...picked, low: weave.low, period: { beats: 0.25 } },
                    from,
                    from + length,
                  ),
                  replaces: picked.from,
                })
        if (what === 11) return setTempo.apply(s, { atBeat: 0, change: { bpm: 60 + n * 10 } })
        if (what === 12)
          return shapeThread.apply(s, {
            ref,
            ...mapLane(before, thread.weaves, weaveContextOf(s, kind), (v) => kind.shift(v, by)),
          })
        return shapeThread.apply(s, {
          ref,
          knots:
            what === 3
              ? plateau(before, from, from + length, by, 100, kind)
              : weaveInto(before, weave, from, from + length, s.tempo, s.sampleRate, kind),
        })
      }),
    fc
      .record({ edge: fc.constantFrom('in', 'out'), lengthFrames: fc.integer({ min: 1, max: 20000 }) })
      .map((args) => (s: Session) => fadeMix.apply(s, args)),
    step(resetThreads, fc.constant({})),
    fc.record({ n: fc.nat(50), at: near(0, 30000), row: fc.nat(2) }).map(({ n, at, row }) => (s: Session) => {
      const ids = Object.keys(s.regions)
      const clip = copyRegions(s, ids.length ? [ids[n % ids.length]!] : [])
      return clip ? pasteRegions.apply(s, { clip, at, trackId: s.trackIds[row]! }) : s
    }),
    step(
      setRegion,
      fc.record({
        change: fc.oneof(
          fc.record({ reversed: fc.boolean() }),
          fc.record({ muted: fc.boolean() }),
          fc.record({ locked: fc.boolean() }),
        ),
      }),
    ),
    step(
      setFade,
      fc.record({ edge: fc.constantFrom('in', 'out'), change: fc.record({ lengthFrames: near(0, 20000) }) }),
    ),
  )
  fc.assert(
    fc.property(fc.array(steps, { maxLength: 14 }), (applied) => {
      let now = base
      const back = []
      for (const apply of applied) {
        const next = apply(now)
        expect(brokenRules(next).map(breachLine)).toEqual([])
        back.push(diff(now, next).inverse)
        now = next
      }
      for (const patches of back.reverse()) now = applyPatches(now, patches)
      expect(now).toEqual(base)
    }),
    { numRuns: 400 },
  )
})
