import { isHandBusy, whenHandFree } from '../../engine/interaction'

/**
 * What must be left of the frame for a moment to count as spare, and for one thing more to be done in it when
 * no hand is busy, in milliseconds.
 */
const LEAST_MS = 6
const MORE_MS = 15
/** Where the browser does not tell of spare moments, how long to wait for one, in milliseconds. */
const WAIT_MS = 60

/** Something to do; `left` tells the milliseconds that are left of the moment. */
type Todo = (left: () => number) => void

/** What waits for a spare moment, in its order. */
const waiting: Todo[] = []
let asked = false

/**
 * Does the first of what waits, and asks again when the next frame has come: what was put on the page is laid
 * out and painted with it.
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

/**
 * Calls back in a moment in which there is nothing else to do for a while; one thing with each frame. Returns
 * how to give it up.
 */
export function inSpareTime(call: Todo): () => void {
  waiting.push(call)
  ask()
  return () => {
    const at = waiting.indexOf(call)
    if (at >= 0) waiting.splice(at, 1)
  }
}

/**
 * Does things in spare moments: first what is pressing, one in each, and when no hand is busy what is not
 * (`all`), as many as there is time for. `doNext` does the next thing and tells whether there was one.
 * Returns how to give it up.
 */
export function doInSpareTime(doNext: (all: boolean) => boolean): () => void {
  let giveUp = () => {}
  let all = false
  let stopped = false
  const go = () =>
    void (giveUp = inSpareTime((left) => {
      while (!(all && isHandBusy())) {
        const done = doNext(all)
        if (stopped || (!done && all)) return
        if (done && (!all || left() < MORE_MS)) break
        all ||= !done
      }
      goOn()
    }))
  const goOn = () => {
    if (all && isHandBusy()) giveUp = whenHandFree(go)
    else go()
  }
  goOn()
  return () => {
    stopped = true
    giveUp()
  }
}
