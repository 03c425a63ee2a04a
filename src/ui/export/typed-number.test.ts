import { typedNumber } from './typed-number'

const read = typedNumber('LUFS', { min: -70, max: 0 })

test.each([
  ['-16', -16],
  ['−16,5 LUFS', -16.5],
  [' 0 ', 0],
])('%j is a number', (text, value) => expect(read(text)).toEqual({ ok: true, value }))

test.each(['loud', '', 'LUFS', '-71', '1', '-16 or so', '1e1', '--3'])(
  '%j is refused with what can be typed',
  (text) => expect(read(text)).toEqual({ ok: false, message: 'Type LUFS from −70 to 0, such as −35.' }),
)
