import { stamp, stamps } from './stamp'

/** The canvases that were made: their sizes. */
let made: [number, number][] = []

beforeAll(() => {
  class Canvas {
    constructor(
      public width: number,
      public height: number,
    ) {
      made.push([width, height])
    }
    getContext = () => ({ scale() {} })
  }
  Object.assign(globalThis, { OffscreenCanvas: Canvas, window: { devicePixelRatio: 2 } })
})
beforeEach(() => void (made = []))

/** A canvas that tells where pictures were put: left, top, width, height in CSS pixels. */
function target() {
  const places: number[][] = []
  return {
    places,
    ctx: {
      drawImage: (_: unknown, ...place: number[]) => void places.push(place),
    } as unknown as OffscreenCanvasRenderingContext2D,
  }
}

test('a stamp is drawn once for a screen, and put on its whole pixels', () => {
  let drawn = 0
  const { ctx, places } = target()
  const put = stamp(9, 14.2, () => void drawn++)
  put(ctx, 10, 20)
  // Two pixels of this screen are one of CSS: 10.3 lies next to 10.5.
  put(ctx, 10.3, 20.1)
  expect([drawn, made]).toEqual([1, [[18, 29]]])
  expect(places).toEqual([
    [10, 20, 9, 14.5],
    [10.5, 20, 9, 14.5],
  ])
  // Moved to another screen it is drawn anew, and kept for both.
  Object.assign(window, { devicePixelRatio: 1 })
  put(ctx, 10.3, 20.1)
  Object.assign(window, { devicePixelRatio: 2 })
  put(ctx, 0, 0)
  expect([drawn, made.slice(1), places.at(-2)]).toEqual([2, [[9, 15]], [10, 20, 9, 15]])
})

test('one stamp for each size, made when it is wanted first', () => {
  const widths: number[] = []
  const chip = stamps((width: number) => stamp(width, 4, () => void widths.push(width)))
  const { ctx } = target()
  for (const width of [30, 40, 30]) chip(width)(ctx, 0, 0)
  expect(widths).toEqual([30, 40])
})
