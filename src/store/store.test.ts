import { createStore } from './store'
import { noticed } from './transport-slice'

test('takes plain data alone', () => {
  const store = createStore()
  const text = new Map() as unknown as string
  expect(() => store.dispatch(noticed({ id: 'a', text }))).toThrow(/non-serializable/)
  expect(() => store.dispatch(noticed({ id: 'a', text: 'b' }))).not.toThrow()
})
