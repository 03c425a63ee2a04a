import { agoWords, copyWords } from './copy-words'

const NOW = Date.UTC(2026, 5, 20, 12)
const DAY = 86_400_000

test('how long ago a time is, in the largest unit that fits', () => {
  expect(
    [1000, 90_000, 2 * 3_600_000, 3 * DAY, 70 * DAY, 800 * DAY].map((ms) => agoWords(NOW - ms, NOW)),
  ).toEqual(['a moment ago', '1 minute ago', '2 hours ago', '3 days ago', '2 months ago', '2 years ago'])
})

test('whether a session has a copy, and has changed since', () => {
  expect(copyWords(NOW, null, NOW)).toBe('no copy saved yet')
  expect(copyWords(NOW - 4 * DAY, NOW - 3 * DAY, NOW)).toBe('copy saved 3 days ago')
  expect(copyWords(NOW, NOW - 3 * DAY, NOW)).toBe('changed since the copy of 3 days ago')
})
