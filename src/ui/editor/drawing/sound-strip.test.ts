import fc from 'fast-check'
import type { Context } from './sound-strip'

/** What a strip copied to the canvas last, and where. */
const copied: { pixels: Uint32Array; width: number; part: number[]; drawn: number[] } = {
  pixels: new Uint32Array(0),
  width: 0,
  part: [],
  drawn: [],
}

class FakeImage {
  readonly data: Uint8ClampedArray
  constructor(
    readonly width: number,
    readonly height: number,
  ) {
    this.data = new Uint8ClampedArray(width * height * 4)
  }
}

class FakeCanvas {
  constructor(
    public width: number,
    public height: number,
  ) {}
  getContext() {
    return {
      canvas: this,
      putImageData(image: FakeImage, _x: number, _y: number, ...part: number[]) {
        Object.assign(copied, {
          pixels: new Uint32Array(image.data.buffer.slice(0)),
          width: image.width,
          part,
        })
      },
    }
  }
}
Object.assign(globalThis, { ImageData: FakeImage, OffscreenCanvas: FakeCanvas })

const canvas = {
  drawImage: (_canvas: unknown, ...drawn: number[]) => void (copied.drawn = drawn),
} as unknown as Context
const alphaOf = (x: number, y: number) => copied.pixels[y * copied.width + x]! >>> 24
const covered = (a: number, b: number, y: number) => Math.max(0, Math.min(b, y + 1) - Math.max(a, y))

async function strip() {
  const { SoundStrip } = await import('./sound-strip')
  const made = new SoundStrip()
  made.begin(0, 0, 8, 40, 1)
  return made
}

test('every pixel of a column has the opacity of what covers it: the rim where it lies outside the core, the core inside', async () => {
  const made = await strip()
  const height = fc.double({ min: -5, max: 45, noNaN: true })
  fc.assert(
    fc.property(
      fc.tuple(height, height, height, height).map((list) => list.sort((a, b) => a - b)),
      fc.double({ min: 0, max: 1, noNaN: true }),
      fc.double({ min: 0, max: 1, noNaN: true }),
      ([top, coreTop, coreBottom, bottom], rim, core) => {
        made.lay(3, top!, coreTop!, coreBottom!, bottom!, { dye: 0x332211, rim, core })
        copied.pixels = new Uint32Array(8 * 40)
        made.copy(canvas)
        let worst = 0
        for (let y = 0; y < 40; y++) {
          const inside = covered(coreTop!, coreBottom!, y)
          worst = Math.max(
            worst,
            Math.abs(alphaOf(3, y) / 255 - (rim * (covered(top!, bottom!, y) - inside) + core * inside)),
          )
        }
        expect(worst).toBeLessThan(0.5 / 255 + 1e-9)
        // Nothing beside it, and nothing left for the next time.
        expect(copied.pixels.filter((p, i) => p !== 0 && i % 8 !== 3)).toHaveLength(0)
      },
    ),
  )
})

test('only the part that was laid is copied, where it belongs on a screen of two pixels each', async () => {
  const made = await strip()
  made.begin(10, 20, 4, 20, 2)
  made.lay(2, 5, 5, 9, 9, { dye: 0, rim: 0, core: 1 })
  made.lay(6, 4, 4, 6, 6, { dye: 0, rim: 0, core: 1 })
  made.copy(canvas)
  expect(copied.part).toEqual([2, 4, 5, 5])
  expect(copied.drawn).toEqual([2, 4, 5, 5, 11, 22, 2.5, 2.5])
  copied.drawn = []
  made.copy(canvas)
  expect(copied.drawn).toEqual([])
})

test('stitches: so many pixels laid, so many left out', async () => {
  const made = await strip()
  made.put(1, 0, 20, 0x010203, 1, 4, 7)
  made.copy(canvas)
  expect(Array.from({ length: 20 }, (_, y) => (alphaOf(1, y) ? '#' : '.')).join('')).toBe(
    '####...####...####..',
  )
})
