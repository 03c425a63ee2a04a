import { fileNamePart } from './file-name'

test.each([
  // "Café" with the accent as a mark of its own becomes the usual letter.
  ['Cafe\u0301 del mar', 'Café del mar'],
  ['हिन्दी गीत', 'हिन्दी गीत'],
  ['เพลงไทย', 'เพลงไทย'],
  ['שָׁלוֹם', 'שָׁלוֹם'.normalize('NFC')],
  ['Bells/..\\etc: <two> | "three"?', 'Bells .. etc two three'],
  ['\u202etxt.exe\u0007', 'txt.exe'],
  ['...', 'mix'],
  ['', 'mix'],
])('%j is called “%s”', (text, name) => expect(fileNamePart(text, 'mix')).toBe(name))

test('a long name is cut between characters, not inside of one, so that any disk takes it', () => {
  const long = 'न्दी'.repeat(100)
  const name = fileNamePart(long, 'mix')
  // Each of them is one character of four letters, of three bytes each.
  expect(name).toBe('न्दी'.repeat(15))
  expect(fileNamePart('a'.repeat(300), 'mix')).toHaveLength(80)
})
