import { namesBeside, patternNames } from './export-actions'

test('names come of a pattern: numbered, safe for any system, and never twice the same', () => {
  const names = (pattern: string, whats: string[]) =>
    patternNames(pattern, { title: 'The Tide Mill' }, whats, 44_100, new Date('2026-03-04T12:00:00Z'))
  expect(names('{number} {what}', ['Bells', '../etc/passwd', ''])).toEqual([
    '01 Bells',
    '02 .. etc passwd',
    '03',
  ])
  expect(names('{session} {date} {rate} {what}', ['A'])).toEqual(['The Tide Mill 2026-03-04 44.1 kHz A'])
  expect(names('take', ['A', 'B', 'C'])).toEqual(['take', 'take 2', 'take 3'])
  expect(names('{what}', ['Take', 'take', 'Take 2'])).toEqual(['Take', 'take 2', 'Take 2 2'])
  expect(names('{what}', ['{number}'])).toEqual(['number'])
  expect(names('//', ['A'])).toEqual(['file 1'])
})

test('a file that is rendered again gets a name of its own beside the first one', () => {
  expect(namesBeside(['Mill - mix.wav'], ['Mill - mix.wav', 'mill - Mix.wav', 'Mill - mix.flac'])).toEqual([
    'Mill - mix 2.wav',
    'mill - Mix 3.wav',
    'Mill - mix.flac',
  ])
})
