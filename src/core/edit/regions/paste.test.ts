import { copyRegions, pasteRegions } from './paste'
import { openClip } from '../../model/clip'
import { testRegion, testSession } from '../../model/fixture.test-util'
import { brokenRules } from '../../model/check/rules'

const session = testSession(
  [testRegion('a', { gainThreadId: 'g' }), testRegion('b', { start: 50_000 })],
  {},
  { gainThreads: { g: { id: 'g', knots: [{ frame: 0, value: 0.5, shape: 'line', bend: 0 }] } } },
)
const copied = JSON.stringify(copyRegions(session, ['a', 'b']))

test('what was copied comes back as it was', () => {
  expect(openClip(copied)).toEqual(JSON.parse(copied))
  const pasted = pasteRegions.apply(session, { clip: openClip(copied), at: 200_000, trackId: 't' })
  expect([Object.keys(pasted.regions).length, brokenRules(pasted)]).toEqual([4, []])
})

test.each([
  ['no JSON', '{', /cannot be read/],
  ['something else', '{"a":1}', /cannot be pasted \(sampleRate/],
  ['no regions', copied.replace(/"regions":\[.*?\],"sources"/, '"regions":[],"sources"'), /at least 1 item/],
  ['a region beyond its source', copied.replace('"offset":0', '"offset":479000'), /reaches beyond/],
  [
    'a source that is not there',
    copied.replaceAll('"sourceId":"s"', '"sourceId":"constructor"'),
    /cannot be an id/,
  ],
  [
    'a thread that is not there',
    copied.replace('"gainThreadId":"g"', '"gainThreadId":"h"'),
    /is not a gain thread/,
  ],
  [
    'a fade longer than its region',
    copied.replace(
      '"fadeIn":null',
      '"fadeIn":{"kind":"gain","length":99999,"curve":"linear","bend":0,"level":0}',
    ),
    /fades are longer/,
  ],
  ['a knot out of range', copied.replace('"value":0.5', '"value":5'), /must lie in 0…1/],
])('%s is refused in one sentence', (_name, text, sentence) => {
  expect(() => openClip(text)).toThrow(sentence)
})
