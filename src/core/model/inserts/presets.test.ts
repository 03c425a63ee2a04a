import { OWN_PRESETS, presetFile, presetsFor, readPreset } from './presets'
import { insertKindNames } from './insert-kinds'

test('all presets that come along can be read as files, have names of their own, and every kind has one', () => {
  for (const preset of OWN_PRESETS) expect(readPreset(JSON.stringify(presetFile(preset)))).toEqual(preset)
  for (const kind of [...insertKindNames, null]) {
    const names = presetsFor(OWN_PRESETS, kind).map(({ name }) => name)
    expect(names.length).toBeGreaterThan(0)
    expect(new Set(names).size).toBe(names.length)
  }
})

const file = (inserts: unknown, more: object = {}) =>
  JSON.stringify({ schema: 'oaken-thread/preset', version: 1, name: 'N', inserts, ...more })

test.each<[string, string, RegExp]>([
  ['no JSON', '{', /^This is no preset: it is not JSON\.$/],
  ['another kind of file', '{"schema":"oaken-thread/session"}', /^This is no preset of Oaken Thread/],
  ['an unknown kind', file([{ kind: 'flanger', values: {} }]), /at inserts\.0\.kind/],
  ['no inserts', file([]), /at inserts/],
  [
    'a value out of range',
    file([{ kind: 'compressor', values: { ratio: 1000 } }]),
    /cannot be used: .*ratio.* must be a number in 1…100/,
  ],
  ['a value that it does not have', file([{ kind: 'gain', values: { q: 1 } }]), /is not a value of a gain/],
  [
    'crossovers that fall',
    file([{ kind: 'four-bands', values: { crossover1Hz: 5000 } }]),
    /crossovers that do not rise/,
  ],
  ['a field too many', file([{ kind: 'gain', values: {} }], { path: '../x' }), /^This is no preset/],
  [
    'what is no number',
    file([{ kind: 'gain', values: { gainDb: 1 } }]).replace('"gainDb":1', '"gainDb":1e999'),
    /^This/,
  ],
])('%s is refused in a sentence', (_, text, words) => {
  expect(() => readPreset(text)).toThrow(words)
})
