/** A hand holds something on the screen; sound is beginning; either of them, as it was told last. */
let holding = false
let beginning = false
let held = false
let timer: ReturnType<typeof setTimeout> | undefined
const listeners = new Set<(held: boolean) => void>()

function tell(): void {
  const now = holding || beginning
  if (now === held) return
  held = now
  for (const listener of [...listeners]) listener(held)
}

/** Tells whether a hand holds something on the screen: what is worked out in the background rests meanwhile, so that the picture follows the hand. */
export function handHolds(now: boolean): void {
  holding = now
  tell()
}

/** How long the background rests when sound begins, in milliseconds: as long as it may take to fill the ring that it is played from. */
const BEGINNING_MS = 3000

/** Tells that sound begins to play: what is worked out in the background rests for a while, so that no gap is heard. */
export function soundBegins(): void {
  clearTimeout(timer)
  beginning = true
  timer = setTimeout(() => {
    beginning = false
    tell()
  }, BEGINNING_MS)
  tell()
}

/** Hears of every change. Returns how to stop hearing. */
export function onHandHolds(listener: (held: boolean) => void): () => void {
  listeners.add(listener)
  return () => void listeners.delete(listener)
}

/** Resolves when no hand holds anything and no sound begins; at once where that is so already. */
export function handFree(): Promise<void> {
  if (!held) return Promise.resolve()
  return new Promise((resolve) => {
    const stop = onHandHolds((now) => {
      if (now) return
      stop()
      resolve()
    })
  })
}

/** Follows the pointer of a window: it holds while a button is down, and not when the window has lost it on the way. */
export function watchHand(window: Pick<Window, 'addEventListener'>): void {
  window.addEventListener('pointerdown', () => handHolds(true), true)
  for (const type of ['pointerup', 'pointercancel', 'blur'] as const) window.addEventListener(type, () => handHolds(false), true)
  window.addEventListener('pointermove', (event) => event.buttons === 0 && handHolds(false), true)
}
