import { changed, readTyped, type Changeable } from './typed-change'
import { parseLevel, parsePan, showDb, showPan } from './typed'

test.each([
  ['+2', true, '2'],
  ['+-2', true, '-2'],
  ['by -2', true, '-2'],
  ['by +2 dB', true, '2 dB'],
  ['2', false, '2'],
  ['-4.2', false, '-4.2'],
  ['−4.2', false, '-4.2'],
  ['=+2', false, '2'],
  ['= -3', false, '-3'],
])('“%s”: a change is %s, by or to “%s”', (text, change, rest) => {
  expect(readTyped(text)).toEqual({ change, text: rest })
})

const level = (from: number | null): Changeable => ({
  from,
  show: showDb,
  parse: (text) => parseLevel(text, { min: -72, max: 36 }),
})

test('a change adds to what is there, in its own unit and within its range', () => {
  expect(changed(level(-7.5), '2')).toEqual({ ok: true, value: -5.5 })
  expect(changed(level(-7.5), '-2')).toEqual({ ok: true, value: -9.5 })
  const pan: Changeable = { from: 0.3, show: showPan, parse: parsePan }
  expect(changed(pan, 'L50')).toEqual({ ok: true, value: -0.2 })
})

test('what cannot be added is refused in words', () => {
  expect(changed(level(30), '10')).toMatchObject({
    ok: false,
    message: expect.stringContaining('+40.0 dB is out of range'),
  })
  expect(changed(level(null), '2')).toMatchObject({ ok: false, message: expect.stringContaining('silent') })
  for (const factor of ['10 %', 'x2'])
    expect(changed(level(-6), factor)).toMatchObject({
      ok: false,
      message: expect.stringContaining('+2 or by −2'),
    })
})
