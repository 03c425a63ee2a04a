import { ASK_MS, SignsOfLife } from './signs-of-life'

beforeEach(() => jest.useFakeTimers())
afterEach(() => jest.useRealTimers())

function watching() {
  const is = { answers: true, dry: true, audio: 'running' as AudioContextState | null, progress: 0, gaps: 0 }
  const lost: string[] = []
  const told: string[] = []
  let now = 0
  const signs = new SignsOfLife(
    {
      ask: () => void (is.answers && signs.answered()),
      runsDry: () => is.dry,
      progress: () => is.progress,
      gaps: () => is.gaps,
      onGaps: () => void told.push('gaps'),
      audio: () => is.audio,
      onLost: (what) => void lost.push(what),
    },
    () => now,
  )
  signs.begin()
  /** Time passes, look by look. */
  const pass = (ms: number) => {
    for (let t = 0; t < ms; t += ASK_MS) {
      now += ASK_MS
      jest.advanceTimersByTime(ASK_MS)
    }
  }
  /** The page is busy for so long: only one look comes after it. */
  const busy = (ms: number) => {
    now += ms
    jest.advanceTimersByTime(ASK_MS)
  }
  return { is, lost, told, signs, pass, busy }
}

test('a worker that answers is alive, however long it plays', () => {
  const { lost, pass } = watching()
  pass(60_000)
  expect(lost).toEqual([])
})

test('a worker that has died is noticed within a second, and once only', () => {
  const { is, lost, pass } = watching()
  pass(2000)
  is.answers = false
  pass(900)
  expect(lost).toEqual(['worker'])
  pass(10_000)
  expect(lost).toEqual(['worker'])
})

test('a worker that is late while there is still sound to play, and a page that was busy, are waited for', () => {
  const { is, lost, pass, busy, signs } = watching()
  is.answers = is.dry = false
  pass(3000)
  expect(lost).toEqual([])
  signs.answered()
  is.dry = true
  pass(ASK_MS)
  busy(4000)
  // The answer was waiting behind what the page did.
  signs.answered()
  is.answers = true
  pass(2000)
  expect(lost).toEqual([])
})

test('sound that the browser stops is noticed, one that has not begun is not', () => {
  const { is, lost, pass } = watching()
  is.audio = 'suspended'
  pass(2000)
  expect(lost).toEqual([])
  is.audio = 'running'
  pass(500)
  is.audio = 'suspended'
  pass(750)
  expect(lost).toEqual(['audio'])
})

test('a worker that cannot keep up, but still puts something out, is alive', () => {
  const { is, lost, pass } = watching()
  is.answers = false
  for (let n = 0; n < 50; n++) {
    is.progress++
    pass(300)
  }
  expect(lost).toEqual([])
})

test('sound that is missing again and again is told once each time it plays; a gap now and then is not', () => {
  const { is, told, pass, signs } = watching()
  // What begins may stumble.
  is.gaps = 5
  pass(2000)
  for (let n = 0; n < 10; n++) {
    is.gaps++
    pass(3000)
  }
  expect(told).toEqual([])
  for (let n = 0; n < 20; n++) {
    is.gaps++
    pass(300)
  }
  expect(told).toEqual(['gaps'])
  signs.begin()
  pass(2000)
  for (let n = 0; n < 5; n++) {
    is.gaps++
    pass(300)
  }
  expect(told).toEqual(['gaps', 'gaps'])
})
