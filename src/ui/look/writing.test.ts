import { widthOf, write, type Style } from './writing'

const style: Style = { face: 'words', size: 12, dye: 'ink' }

/** What canvases of their own were made and written on; a character is 6 pixels wide. */
let made: { width: number; height: number; texts: string[] }[] = []
const onLoad: (() => void)[] = []

beforeAll(() => {
  class Canvas {
    texts: string[] = []
    constructor(
      public width: number,
      public height: number,
    ) {
      made.push(this)
    }
    getContext = () => ({
      scale() {},
      font: '',
      measureText: (text: string) => ({ width: text.length * 6 }),
      fillText: (text: string) => void this.texts.push(text),
    })
  }
  Object.assign(globalThis, {
    OffscreenCanvas: Canvas,
    window: { devicePixelRatio: 2 },
    getComputedStyle: () => ({ getPropertyValue: () => '#123456' }),
    document: {
      documentElement: {},
      fonts: { addEventListener: (_: string, call: () => void) => void onLoad.push(call) },
    },
  })
})
beforeEach(() => {
  for (const call of onLoad) call()
  made = []
})

/** Writes and returns where pictures were copied to: left, top, width, height in CSS pixels. */
function placesOf(...texts: Parameters<typeof write> extends [unknown, ...infer Rest] ? Rest[] : never) {
  const places: number[][] = []
  const ctx = { drawImage: (_: unknown, ...place: number[]) => void places.push(place) }
  for (const text of texts) write(ctx as unknown as OffscreenCanvasRenderingContext2D, ...text)
  return places
}

test('a text is drawn once, however often and wherever it is written; another dye is another picture', () => {
  placesOf(
    ['wheel', 0, 10, style],
    ['wheel', 50, 90, style, 'right'],
    ['wheel', 7, 10, { ...style, dye: 'soft' }],
  )
  expect(made.flatMap((c) => c.texts)).toEqual(['wheel', 'wheel'])
})

test('it stands with its left or right end where it is wanted, about its middle, on whole pixels of the screen', () => {
  // 4 characters are 24 wide, with 2 beside; 12 pixels high with room for what hangs below: 20.
  expect(placesOf(['mill', 100, 50, style])).toEqual([[98, 40, 28, 20]])
  expect(placesOf(['mill', 100, 50, style, 'right'])).toEqual([[74, 40, 28, 20]])
  // Two pixels of the screen for one of the page.
  expect(placesOf(['mill', 100.3, 50.2, style])).toEqual([[98.5, 40, 28, 20]])
})

test('passing texts are not kept; nothing is written for none', () => {
  expect(placesOf(['', 0, 0, style])).toEqual([])
  for (let i = 0; i < 5; i++) placesOf([`${i} dB`, 0, 0, style, 'left', true])
  // One canvas serves them all.
  expect(made.filter((c) => c.texts.length > 0)).toHaveLength(1)
})

test('once the faces have come all is drawn and measured anew', () => {
  expect(widthOf('mill', style)).toBe(24)
  placesOf(['mill', 0, 0, style])
  for (const call of onLoad) call()
  placesOf(['mill', 0, 0, style])
  expect(made.flatMap((c) => c.texts)).toEqual(['mill', 'mill'])
})
