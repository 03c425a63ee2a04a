import { bytesWords, sizeWords } from './size-words'

test('bytes in the unit that fits', () => {
  expect([0, 640_000, 12_340_000, 123_400_000, 1_400_000_000].map(bytesWords)).toEqual([
    '0 KB',
    '640 KB',
    '12.3 MB',
    '123 MB',
    '1.4 GB',
  ])
})

test('what a session holds alone and what it shares', () => {
  expect(sizeWords({ own: 0, shared: 0 })).toBe('no sound yet')
  expect(sizeWords({ own: 2e6, shared: 0 })).toBe('2.0 MB')
  expect(sizeWords({ own: 0, shared: 2e6 })).toBe('2.0 MB shared')
  expect(sizeWords({ own: 2e6, shared: 5e5 })).toBe('2.0 MB + 500 KB shared')
})
