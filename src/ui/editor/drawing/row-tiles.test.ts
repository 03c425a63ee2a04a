import { createSession, createTrack } from '../../../core/model/create'
import { testRegion } from '../../../core/model/fixture.test-util'
import type { Session } from '../../../core/model/session'
import type { Pictures } from '../../../engine/storage'
import { RowTiles } from './row-tiles'

/** What was painted: the first frame of each piece, on a tile or straight on the page. */
let painted: { left: number; tile: boolean }[] = []

jest.mock('./draw-region', () => ({
  drawCrossfade() {},
  drawRegions: (
    ctx: { isTile: boolean },
    _strip: unknown,
    _pictures: unknown,
    shown: { box: { x: number }; framesPerPixel: number; region: { start: number } }[],
  ) =>
    void painted.push({
      left: shown[0] ? shown[0].region.start - shown[0].box.x * shown[0].framesPerPixel : NaN,
      tile: ctx.isTile,
    }),
}))
jest.mock('./sound-strip', () => ({ SoundStrip: class {} }))

beforeAll(() => {
  Object.assign(globalThis, {
    OffscreenCanvas: class {
      getContext = () => ({ isTile: true, setTransform() {} })
    },
  })
})

/**
 * Two tracks with a region over their whole length, at 100 frames a pixel: a tile of 256 pixels holds 25 600
 * frames.
 */
const rows = ['t', 'u'].map((id) => ({
  id,
  regions: [testRegion(`r-${id}`, { trackId: id, length: 10_000_000 })],
}))
const session: Session = {
  ...createSession('s', 'S', 48000),
  trackIds: ['t', 'u'],
  tracks: { t: createTrack('t', 'T', 1, 0), u: createTrack('u', 'U', 1, 1) },
  sources: { s: { id: 's', name: 's', channels: 1, frames: 10_000_000, sampleRate: 48000, sha256: '0' } },
  regions: Object.fromEntries(rows.flatMap((r) => r.regions.map((x) => [x.id, x]))),
}

function open() {
  const tiles = new RowTiles()
  const copied: number[] = []
  const ctx = {
    isTile: false,
    drawImage: (_: unknown, x: number) => void copied.push(x),
  } as unknown as CanvasRenderingContext2D
  const state = {
    gainThreads: session.gainThreads,
    crossfades: session.crossfades,
    correlations: new Map<string, number>(),
    framesPerPixel: 100,
    ratio: 1,
    height: 72,
    scale: { factor: 1, decibels: false },
    version: 1,
    trial: null,
  }
  const ahead = (id: string, scroll: number, version: number, all: boolean) => {
    painted = []
    const there = tiles.paintAhead(
      {} as Pictures,
      session,
      id,
      null,
      { left: scroll * 100, width: 600 },
      { ...state, regions: rows.find((r) => r.id === id)!.regions, version },
      all,
    )
    return there ? painted.map((p) => indexOf(p.left)) : null
  }
  const draw = (scroll: number, version = 1, seen = rows) => {
    painted = []
    copied.length = 0
    seen.forEach(({ id, regions }, row) =>
      tiles.draw(
        ctx,
        {} as Pictures,
        session,
        id,
        null,
        { left: scroll * 100, y: row * 84, width: 600 },
        { ...state, regions, version },
      ),
    )
    tiles.keep(new Set(['t', 'u']))
    return {
      tiles: painted.filter((p) => p.tile).map((p) => indexOf(p.left)),
      straight: painted.filter((p) => !p.tile).length,
      copied: [...copied],
    }
  }
  return { draw, ahead }
}

/** Which tile of its row begins at a frame; those of the second row begin an eighth of a tile earlier. */
const indexOf = (left: number) => Math.round(left / 25_600) + 0

test('a row is painted straight until it is the same twice; then its tiles are kept and only copied', () => {
  const { draw } = open()
  expect(draw(0)).toMatchObject({ tiles: [], straight: 2 })
  // 600 pixels lie on three tiles, in each of two rows.
  expect(draw(0)).toMatchObject({
    tiles: [0, 1, 2, 0, 1, 2],
    straight: 0,
    copied: [0, 256, 512, -32, 224, 480],
  })
  expect(draw(0)).toMatchObject({ tiles: [], straight: 0 })
  // New pictures of sound: all is painted anew.
  expect(draw(0, 2)).toMatchObject({ straight: 2 })
})

test('what comes into sight next is painted before, one tile with every picture, on the side to which it scrolls', () => {
  const { draw } = open()
  draw(0)
  draw(0)
  const ahead = [10, 20, 30, 40].map((scroll) => draw(scroll).tiles)
  expect(ahead).toEqual([[3], [3], [], []])
  // When the fourth tile comes into sight, it is there.
  expect(draw(180)).toMatchObject({ tiles: [4], copied: [-180, 76, 332, 588, -212, 44, 300, 556] })
  expect(draw(190).tiles).toEqual([4])
  // Going back, what lies before was there already; nothing lies before the beginning.
  expect(draw(180).tiles).toEqual([])
  const { draw: far } = open()
  far(2000)
  far(2000)
  expect([1990, 1980, 1970].map((scroll) => far(scroll).tiles)).toEqual([[6], [6], []])
})

test('a row out of sight is painted tile by tile, so that it is only copied when it comes into sight', () => {
  const { draw, ahead } = open()
  const [upper] = rows
  draw(0, 1, [upper!])
  expect([
    ahead('u', 0, 1, false),
    ahead('u', 0, 1, false),
    ahead('u', 0, 1, false),
    ahead('u', 0, 1, false),
  ]).toEqual([[0], [1], [2], null])
  // The lower row comes into sight; the upper one was seen once only.
  expect(draw(0)).toMatchObject({ tiles: [0, 1, 2], straight: 0, copied: [0, 256, 512, -32, 224, 480] })
  // What changed meanwhile is painted anew only when there is time for all.
  expect(ahead('u', 0, 2, false)).toBeNull()
  expect([ahead('u', 0, 2, true), ahead('u', 0, 2, false)]).toEqual([[0], [1]])
})
