import { setPointerHeld } from '../../../engine/worker'
import { runIdleTasks, runWhenIdle } from './idle-tasks'

/** A browser's clock by hand: idle moments with so much time left, and frames. */
let idle: ((deadline: { timeRemaining(): number }) => void)[] = []
let frames: (() => void)[] = []

function moment(left: number): void {
  const calls = idle
  idle = []
  for (const call of calls) call({ timeRemaining: () => left })
}

function frame(): void {
  const calls = frames
  frames = []
  for (const call of calls) call()
}

beforeAll(
  () =>
    void Object.assign(globalThis, {
      requestIdleCallback: (call: (typeof idle)[number]) => idle.push(call),
      requestAnimationFrame: (call: () => void) => frames.push(call),
    }),
)

test('one thing is done in a frame, in the order asked for, and only when enough of it is left', () => {
  const done: string[] = []
  runWhenIdle(() => done.push('a'))
  const giveUp = runWhenIdle(() => done.push('b'))
  runWhenIdle(() => done.push('c'))
  moment(3)
  expect(done).toEqual([])
  moment(10)
  moment(10)
  expect(done).toEqual(['a'])
  giveUp()
  frame()
  moment(10)
  expect(done).toEqual(['a', 'c'])
  frame()
  expect(idle).toHaveLength(0)
})

test('what is pressing is done while a hand is busy, the rest when it no longer is', () => {
  const [pressing, rest] = [
    ['p1', 'p2'],
    ['r1', 'r2'],
  ]
  const done: string[] = []
  const pass = () => {
    moment(10)
    frame()
  }
  setPointerHeld(true)
  runIdleTasks((all) => {
    const next = pressing.shift() ?? (all ? rest.shift() : undefined)
    if (next) done.push(next)
    return next !== undefined
  })
  pass()
  expect(done).toEqual(['p1'])
  for (let i = 0; i < 6; i++) pass()
  expect(done).toEqual(['p1', 'p2'])
  setPointerHeld(false)
  pass()
  expect(done).toEqual(['p1', 'p2', 'r1'])
  // Asked for already when the hand comes back: it waits again.
  setPointerHeld(true)
  for (let i = 0; i < 3; i++) pass()
  expect(done).toEqual(['p1', 'p2', 'r1'])
  setPointerHeld(false)
  for (let i = 0; i < 6; i++) pass()
  expect(done).toEqual(['p1', 'p2', 'r1', 'r2'])
  expect(idle).toHaveLength(0)
})

test('when no hand is busy as much is done in a moment as there is time for', () => {
  let [todo, left] = [10, 50]
  runIdleTasks((all) => {
    if (!all || todo === 0) return false
    todo--
    left -= 7
    return true
  })
  const calls = idle
  idle = []
  for (const call of calls) call({ timeRemaining: () => left })
  // Six things of 7 ms leave 8, which is too little for another.
  expect([todo, left]).toEqual([4, 8])
  left = 50
  frame()
  for (const call of idle.splice(0)) call({ timeRemaining: () => left })
  expect(todo).toBe(0)
  frame()
})

test('what was given up is not done, also while it waits for the hand', () => {
  const done: boolean[] = []
  setPointerHeld(true)
  const giveUp = runIdleTasks((all) => {
    done.push(all)
    return false
  })
  moment(10)
  frame()
  giveUp()
  setPointerHeld(false)
  moment(10)
  frame()
  expect(done).toEqual([false])
  expect(idle).toHaveLength(0)
})
