import { everyFrame, startFrames } from './frames'

let frames: ((now: number) => void)[] = []

/** A frame of the screen, at a time in milliseconds. */
function frame(now: number): void {
  const calls = frames
  frames = []
  for (const call of calls) call(now)
}

beforeAll(
  () =>
    void Object.assign(globalThis, {
      requestAnimationFrame: (call: (now: number) => void) => frames.push(call),
      window: { addEventListener: () => undefined },
    }),
)

test('while it plays all callbacks come with every frame, and the same ones, 30 ms apart or more, are to be drawn', () => {
  let playing = true
  startFrames(
    () => undefined,
    () => playing,
  )
  const shown: [number[], number[]] = [[], []]
  const calls = [0, 0]
  let now = 0
  const stops = ([0, 1] as const).map((n) =>
    everyFrame((shows) => {
      calls[n]!++
      if (shows) shown[n].push(now)
    }),
  )
  const untilFrame = (last: number, apart: number) => {
    for (; now < last; now += apart) frame(now)
  }
  now = 1000
  untilFrame(2000, 1000 / 60)
  expect(calls).toEqual([60, 60])
  expect(shown[0]).toHaveLength(30)
  expect(shown[1]).toEqual(shown[0])
  // A screen of 144 pictures a second: every fifth.
  untilFrame(3000, 1000 / 144)
  expect(shown[0].length - 30).toBeGreaterThanOrEqual(28)
  expect(shown[0].slice(31).every((at, i) => at - shown[0][i + 30]! >= 30)).toBe(true)

  // With a hand at work and nothing playing, every frame is.
  playing = false
  const [before] = calls
  const drawn = shown[0].length
  untilFrame(3500, 1000 / 144)
  expect(shown[0].length - drawn).toBe(calls[0]! - before!)
  for (const stop of stops) stop()
})
