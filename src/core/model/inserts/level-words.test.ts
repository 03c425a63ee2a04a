import { createBus, createTrack } from '../create'
import { testSession } from '../fixture.test-util'
import { levelWords } from './level-words'
import type { Insert, Session } from '../session'

const insert = (kind: Insert['kind'], bypassed = false): Insert => ({ id: kind, kind, bypassed, values: {} })

function session(own: Insert[], bus: Insert[] = [], mix: Insert[] = []): Session {
  const made = testSession(
    [],
    {},
    {
      trackIds: ['t'],
      tracks: { t: { ...createTrack('t', 'A', 1, 0), inserts: own, output: 'b' } },
      busIds: ['b'],
      buses: { b: { ...createBus('b', 'Voices', 0), inserts: bus } },
    },
  )
  return { ...made, mix: { ...made.mix, lastInserts: mix } }
}

test.each([
  [
    [insert('equaliser'), insert('compressor'), insert('saturator')],
    [],
    [],
    'before',
    'The compressor and the saturator after this hear the change: tone and density will change.',
  ],
  [
    [insert('compressor', true), insert('equaliser')],
    [],
    [],
    'before',
    'Only an equaliser comes after this: level changes, nothing else.',
  ],
  [[], [], [], 'before', 'Nothing that comes after depends on level: level changes, nothing else.'],
  [
    [insert('compressor')],
    [],
    [insert('ceiling')],
    'after',
    'After the compressor, but the mix’s ceiling still hears it.',
  ],
  [[insert('compressor')], [], [], 'after', 'After the compressor: level changes, nothing else.'],
  [
    [],
    [insert('gate')],
    [insert('ceiling')],
    'after',
    'Nothing of its own depends on level, but the gate of “Voices” and the mix’s ceiling still hear it.',
  ],
] as const)(
  'what a change of level does to what comes after it is said: %#',
  (own, bus, mix, stage, words) => {
    expect(levelWords(session([...own], [...bus], [...mix]), 't', stage)).toBe(words)
  },
)

test('at the fader of the mix only what comes after its pan counts', () => {
  const made = session([], [], [insert('ceiling')])
  expect(levelWords({ ...made, mix: { ...made.mix, inserts: [insert('compressor')] } }, null, 'after')).toBe(
    'After the compressor, but the mix’s ceiling still hears it.',
  )
})

test('sends after the fader, and keys, count too; what is steered itself does not hear its own level', () => {
  const keyed: Insert = { ...insert('compressor'), key: 't' }
  const base = session([])
  const music = { ...createTrack('m', 'Music', 1, 1), inserts: [keyed] }
  const keys: Session = { ...base, trackIds: ['t', 'm'], tracks: { ...base.tracks, m: music } }
  expect(levelWords(keys, 't', 'before')).toBe(
    'Nothing of its own depends on level, but the compressor of “Music” still hears it.',
  )
  // Its key is taken before the fader.
  expect(levelWords(keys, 't', 'after')).toMatch(/^Nothing that comes after depends on level/)
  expect(levelWords(keys, 'm', 'before')).toMatch(/^Only a compressor comes after this/)
  const room = { ...createBus('r', 'Room', 1), inserts: [insert('saturator')] }
  const sends = (point: 'pre' | 'post'): Session => ({
    ...base,
    busIds: ['b', 'r'],
    buses: { ...base.buses, r: room },
    tracks: { t: { ...base.tracks.t!, sends: [{ id: 's', to: 'r', levelDb: -6, muted: false, point }] } },
  })
  expect(levelWords(sends('post'), 't', 'after')).toContain('the saturator of “Room” still hears it')
  expect(levelWords(sends('pre'), 't', 'after')).not.toContain('saturator')
  expect(levelWords(sends('pre'), 't', 'before')).toContain('the saturator of “Room”')
})
