import { createSession } from '../../core/model/create'
import { soundSizes } from './sound-sizes'

const kept = (id: string, sounds: string[]) => ({ session: createSession(id, id, 48000), sounds })

test('sound counts for each session that holds it: alone, or shared with others', () => {
  const audio = [
    { sha256: 'a', frames: 1000, channels: 1 as const },
    { sha256: 'b', frames: 1000, channels: 2 as const },
  ]
  const sizes = soundSizes(
    [kept('one', ['a', 'b', 'b']), kept('two', ['b', 'gone']), kept('none', [])],
    audio,
  )
  expect(Object.fromEntries(sizes)).toEqual({
    one: { own: 4000, shared: 8000 },
    two: { own: 0, shared: 8000 },
    none: { own: 0, shared: 0 },
  })
})
