/**
 * A hand holds something on the screen; it turns the wheel, or sound is beginning, until when (0 when neither
 * is so); any of them, as it was told last.
 */
let holding = false
let restsUntil = 0
let held = false
let timer: ReturnType<typeof setTimeout> | undefined
const listeners = new Set<(held: boolean) => void>()

/** Why the background rests: a hand holds something, it turns the wheel or sound begins, or not at all. */
export type RestReason = 'hand' | 'moment' | 'none'

let reason: RestReason = 'none'
const reasonListeners = new Set<(reason: RestReason) => void>()

function tellReason(): void {
  const now = holding ? 'hand' : restsUntil > 0 ? 'moment' : 'none'
  if (now === reason) return
  reason = now
  for (const listener of [...reasonListeners]) listener(reason)
}

/** Hears why the background rests, whenever that changes. Returns how to stop hearing. */
export function onRestReason(listener: (reason: RestReason) => void): () => void {
  reasonListeners.add(listener)
  return () => void reasonListeners.delete(listener)
}

function tell(): void {
  tellReason()
  const now = holding || restsUntil > 0
  if (now === held) return
  held = now
  for (const listener of [...listeners]) listener(held)
}

/**
 * Tells whether a hand holds something on the screen: what is worked out in the background rests meanwhile,
 * so that the picture follows the hand.
 */
export function handHolds(now: boolean): void {
  holding = now
  tell()
}

/** Has the background rest for so many milliseconds from now. */
function rest(ms: number): void {
  const until = performance.now() + ms
  if (until <= restsUntil) return
  restsUntil = until
  clearTimeout(timer)
  timer = setTimeout(() => {
    restsUntil = 0
    tell()
  }, ms)
  tell()
}

/**
 * How long the background rests when sound begins, in milliseconds: as long as it may take to fill the ring
 * that it is played from.
 */
const BEGINNING_MS = 3000
/** The same when the wheel was turned: until it is clear that it has stopped. */
const WHEEL_MS = 300

/** Tells that sound begins to play: what is worked out in the background rests for a while, so that no gap is heard. */
export const soundBegins = () => rest(BEGINNING_MS)

/** Hears of every change. Returns how to stop hearing. */
export function onHandHolds(listener: (held: boolean) => void): () => void {
  listeners.add(listener)
  return () => void listeners.delete(listener)
}

/** Whether a hand holds or turns something, or sound begins. */
export const isHandBusy = (): boolean => held

/**
 * Calls back when no hand holds or turns anything and no sound begins; at once where that is so already.
 * Returns how to give it up.
 */
export function whenHandFree(call: () => void): () => void {
  if (!held) {
    call()
    return () => {}
  }
  const stop = onHandHolds((now) => {
    if (now) return
    stop()
    call()
  })
  return stop
}

/** The same as a promise. */
export const handFree = (): Promise<void> => new Promise((resolve) => void whenHandFree(resolve))

/**
 * Follows the pointer of a window: it holds while a button is down, and not when the window has lost it on
 * the way. Turning the wheel counts too.
 */
export function watchHand(window: Pick<Window, 'addEventListener'>): void {
  window.addEventListener('pointerdown', () => handHolds(true), true)
  for (const type of ['pointerup', 'pointercancel', 'blur'] as const)
    window.addEventListener(type, () => handHolds(false), true)
  window.addEventListener('wheel', () => rest(WHEEL_MS), { capture: true, passive: true })
  window.addEventListener('pointermove', (event) => event.buttons === 0 && handHolds(false), true)
}
