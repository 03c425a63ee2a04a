import { testRegion } from '../../../core/model/fixture.test-util'
import { drawHems, type Hem } from './draw-hems'

jest.mock('../../look/writing', () => ({
  widthOf: (text: string) => text.length * 6,
  write: (ctx: Page, text: string, x: number, _y: number, style: { face: string; dye: string }) =>
    void ctx.written.push({
      text,
      x,
      face: style.face === 'words' ? 'name' : 'gain',
      alpha: ctx.globalAlpha,
    }),
}))

jest.mock('../../look/stamp', () => ({
  stamps: (made: (width: number) => unknown) => made,
  stamp: (width: number) => (ctx: Page, x: number) => void ctx.chips.push({ x, width }),
}))

/** What was written, with its face, its place and its opacity; a character is 6 pixels wide. */
interface Written {
  text: string
  x: number
  face: 'name' | 'gain'
  alpha: number
}

interface Page {
  written: Written[]
  chips: { x: number; width: number }[]
  globalAlpha: number
}

function draw(hems: Hem[]) {
  const saved: number[] = []
  const ctx = {
    written: [] as Written[],
    chips: [] as Page['chips'],
    globalAlpha: 1,
    save: () => void saved.push(ctx.globalAlpha),
    restore: () => void (ctx.globalAlpha = saved.pop()!),
  }
  drawHems(ctx as unknown as CanvasRenderingContext2D, hems)
  return { written: ctx.written, chips: ctx.chips, alpha: ctx.globalAlpha }
}

const hem = (x: number, width: number, more: Partial<Hem> = {}, name = 'walk-in'): Hem => ({
  region: testRegion('a', { name }),
  gainDb: 0,
  box: { x, y: 0, width, height: 78 },
  end: 1000,
  opacity: 1,
  ...more,
})

test('name at the left, gain at the right; a gain that is set has a chip', () => {
  const plain = draw([hem(100, 200)])
  expect(plain.written).toEqual([
    { text: 'walk-in', x: 108, face: 'name', alpha: 1 },
    { text: '0.0 dB', x: 292, face: 'gain', alpha: 1 },
  ])
  expect(plain.chips).toEqual([])
  const set = draw([hem(100, 200, { gainDb: -5.2, opacity: 0.45 })])
  expect(set.written.map((w) => [w.text, w.alpha])).toEqual([
    ['walk-in', 0.45],
    ['−5.2 dB', 0.45],
  ])
  // 7 characters of 7.27 pixels, and 4 on either side.
  expect([set.chips, set.alpha]).toEqual([[{ x: 292 - 7 * 7.27 - 4, width: 7 * 7.27 + 8 }], 1])
})

test('what is seen of a hem holds its name: from the left end of the screen, up to what lies over it', () => {
  expect(draw([hem(-500, 700)]).written.map((w) => w.x)).toEqual([8, 192])
  expect(draw([hem(100, 400, { end: 300 })]).written.map((w) => w.x)).toEqual([108, 292])
})

test('where it is tight 0 dB goes first, then the name is shortened; a gain that is set stays', () => {
  expect(draw([hem(0, 100)]).written.map((w) => w.text)).toEqual(['walk-in'])
  // 100 pixels less 16 beside, 7 characters of 7.27 and a gap of 10: room for three of 6.
  expect(draw([hem(0, 100, { gainDb: -3 })]).written.map((w) => w.text)).toEqual(['wa…', '−3.0 dB'])
  expect(draw([hem(0, 50)]).written.map((w) => w.text)).toEqual(['walk…'])
  expect(draw([hem(0, 30)]).written).toEqual([])
})

test('muted and locked regions say so', () => {
  const region = testRegion('a', { name: 'hum', muted: true, locked: true })
  expect(draw([hem(0, 300, { region })]).written[0]!.text).toBe('locked: muted: hum')
})
