import { compressedKind, decodeCompressed, statedRate } from './decode'

const bytes = (...parts: (string | number[])[]) =>
  Uint8Array.from(parts.flatMap((p) => (typeof p === 'string' ? [...p].map((c) => c.charCodeAt(0)) : p)))

test('compressed files are known by how they begin', () => {
  expect(compressedKind(bytes('OggS', [0, 2]))).toBe('Ogg')
  expect(compressedKind(bytes([0, 0, 0, 32], 'ftypM4A '))).toBe('MPEG-4')
  expect(compressedKind(bytes('ID3', [4, 0, 0, 0, 0, 2, 1]))).toBe('MP3')
  expect(compressedKind(bytes([0xff, 0xfb, 0x90, 0]))).toBe('MP3')
  expect(compressedKind(bytes([0x1a, 0x45, 0xdf, 0xa3]))).toBe('WebM')
  for (const other of ['Dear diary, today', '{"a":1}', 'PK\u0003\u0004', ''])
    expect(compressedKind(bytes(other))).toBeNull()
})

test('the rate that a compressed file states is read', () => {
  expect(statedRate(bytes([0xff, 0xfb, 0x94, 0]))).toBe(48000)
  expect(statedRate(bytes('nothing at all'))).toBeNull()
})

test('a large text is no compressed sound', async () => {
  const file = new File([new Uint8Array(31_000_000).fill(65)], 'notes.txt')
  await expect(decodeCompressed(file, 48000)).rejects.toThrow(
    'is not a sound file that this browser can decode',
  )
})
