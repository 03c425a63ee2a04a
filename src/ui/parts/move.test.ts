import fc from 'fast-check'
import { moveTo, placeLine } from './move'

/** An element that counts what is written to it; where it stands follows from its animation, as in a browser. */
class FakeElement {
  written = 0
  paused = false
  private time = 0
  private frames: { transform: string }[] = []
  private duration = 1
  readonly style = { visibility: '' }

  animate(frames: { transform: string }[], { duration }: { duration: number }) {
    this.frames = frames
    this.duration = duration
    const animation = { pause: () => (this.paused = true) }
    Object.defineProperty(animation, 'currentTime', { set: (to: number) => {
      this.time = to
      this.written++
    } })
    return animation
  }

  /** Pixels to the right of where it is laid out, by linear interpolation in 32 bits, as browsers compute it. */
  get x(): number {
    const [from, to] = this.frames.map((f) => Number(/translateX\((-?\d+)px\)/.exec(f.transform)![1])) as [number, number]
    return Math.fround(from + (to - from) * Math.fround(this.time / this.duration))
  }
}

const made = () => {
  const fake = new FakeElement()
  return { fake, element: fake as unknown as HTMLElement }
}

test('an element stands exactly where it is put, on whole, half and third pixels of a screen', () => {
  const { fake, element } = made()
  fc.assert(fc.property(fc.integer({ min: -4000, max: 4000 }), fc.constantFrom(1, 2, 4), (x, ratio) => {
    moveTo(element, x / ratio)
    expect(fake.x).toBe(x / ratio)
  }))
  moveTo(element, 1000 / 3)
  expect(Math.abs(fake.x - 1000 / 3)).toBeLessThan(0.005)
  expect(fake.paused).toBe(true)
})

test('what is there already is not moved again, and nothing is put out of reach', () => {
  const { fake, element } = made()
  moveTo(element, 7)
  moveTo(element, 7)
  expect(fake.written).toBe(1)
  moveTo(element, 1e9)
  expect(fake.x).toBe(32768)
  moveTo(element, -Infinity)
  expect(fake.x).toBe(-32768)
})

test('a line out of sight is hidden and left where it is; in sight it stands on a whole pixel', () => {
  const { fake, element } = made()
  placeLine(element, 99.6, true)
  expect([fake.x, fake.style.visibility]).toEqual([100, 'visible'])
  placeLine(element, 5000, false)
  expect([fake.x, fake.style.visibility]).toEqual([100, 'hidden'])
  placeLine(null, 3, true)
})
