import { isUserBusy, whenIdle } from '../../../engine/worker'

/**
 * Time that must be left in a frame to start a task, and to start one more while the user is idle, in
 * milliseconds.
 */
const LEAST_MS = 6
const MORE_MS = 15
/** Without `requestIdleCallback`: how long to wait for a spare moment, in milliseconds. */
const WAIT_MS = 60

/** A task; `left` returns the milliseconds left. */
type Todo = (left: () => number) => void

/** The queue of tasks. */
const waiting: Todo[] = []
let asked = false

/**
 * Runs the first task and asks again in the next frame, so that its changes are laid out and painted with it.
 */
function ask(): void {
  if (asked || waiting.length === 0) return
  asked = true
  const next = (left: () => number) => {
    waiting.shift()?.(left)
    requestAnimationFrame(() => {
      asked = false
      ask()
    })
  }
  if (typeof requestIdleCallback === 'undefined') {
    setTimeout(next, WAIT_MS, () => LEAST_MS)
    return
  }
  const whenIdle = () =>
    void requestIdleCallback((deadline) =>
      deadline.timeRemaining() >= LEAST_MS ? next(() => deadline.timeRemaining()) : whenIdle(),
    )
  whenIdle()
}

/** Calls back in a spare moment, one task per frame. Returns a function that cancels. */
export function runWhenIdle(call: Todo): () => void {
  waiting.push(call)
  ask()
  return () => {
    const at = waiting.indexOf(call)
    if (at >= 0) waiting.splice(at, 1)
  }
}

/**
 * Runs tasks in spare moments: urgent ones first, one per moment, and when the user is idle (`all`) as many
 * as there is time for. `doNext` does the next task and returns whether there was one. Returns a function
 * that cancels.
 */
export function runIdleTasks(doNext: (all: boolean) => boolean): () => void {
  let giveUp = () => {}
  let all = false
  let stopped = false
  const go = () =>
    void (giveUp = runWhenIdle((left) => {
      while (!(all && isUserBusy())) {
        const done = doNext(all)
        if (stopped || (!done && all)) return
        if (done && (!all || left() < MORE_MS)) break
        all ||= !done
      }
      goOn()
    }))
  const goOn = () => {
    if (all && isUserBusy()) giveUp = whenIdle(go)
    else go()
  }
  goOn()
  return () => {
    stopped = true
    giveUp()
  }
}
