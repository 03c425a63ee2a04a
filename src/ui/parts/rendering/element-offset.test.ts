import fc from 'fast-check'
import { setOffsetY, setOffsetX, placeLine } from './element-offset'

/** An element that counts what is written to it; where it stands follows from its animation, as in a browser. */
class FakeElement {
  written = 0
  paused = false
  private time = 0
  private frames: Keyframe[] = []
  private duration = 1

  animate(frames: Keyframe[], { duration }: { duration: number }) {
    this.frames = frames
    this.duration = duration
    const animation = { pause: () => (this.paused = true) }
    Object.defineProperty(animation, 'currentTime', {
      set: (to: number) => {
        this.time = to
        this.written++
      },
    })
    return animation
  }

  /** Pixels to the right of where it is laid out, by linear interpolation in 32 bits, as browsers compute it. */
  get x(): number {
    const [from, to] = this.frames.map((f) =>
      Number(
        /translateX\((-?\d+)px\)/.exec(
          String(f.transform ?? `translateX(${String(f.translate).slice(2)})`),
        )![1],
      ),
    ) as [number, number]
    return Math.fround(from + (to - from) * Math.fround(this.time / this.duration))
  }
}

const made = () => {
  const fake = new FakeElement()
  return { fake, element: fake as unknown as HTMLElement }
}

test('an element stands exactly where it is put, on whole, half and third pixels of a screen', () => {
  const { fake, element } = made()
  fc.assert(
    fc.property(fc.integer({ min: -4000, max: 4000 }), fc.constantFrom(1, 2, 4), (x, ratio) => {
      setOffsetX(element, x / ratio)
      expect(fake.x).toBe(x / ratio)
    }),
  )
  setOffsetX(element, 1000 / 3)
  expect(Math.abs(fake.x - 1000 / 3)).toBeLessThan(0.005)
  expect(fake.paused).toBe(true)
})

test('what is there already is not moved again, and nothing is put out of reach', () => {
  const { fake, element } = made()
  setOffsetX(element, 7)
  setOffsetX(element, 7)
  expect(fake.written).toBe(1)
  setOffsetX(element, 1e9)
  expect(fake.x).toBe(32768)
  setOffsetX(element, -Infinity)
  expect(fake.x).toBe(-32768)
})

test('downwards it is held by an animation of its own', () => {
  const { fake, element } = made()
  setOffsetY(element, -420)
  expect(fake.x).toBe(-420)
  setOffsetY(element, -420)
  expect(fake.written).toBe(1)
  // A thousand rows with lanes below them, on half pixels of the screen.
  setOffsetY(element, -200_000.5)
  expect(fake.x).toBe(-200_000.5)
})

test('a line stands on a whole pixel, and far to the left when it is not to be seen', () => {
  const { fake, element } = made()
  placeLine(element, 99.6, true)
  expect(fake.x).toBe(100)
  placeLine(element, 5000, false)
  expect(fake.x).toBe(-32_768)
  placeLine(null, 3, true)
})
