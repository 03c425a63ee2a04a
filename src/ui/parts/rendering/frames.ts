/** How long after something happened every frame of the screen is still drawn: meters and marks fall until then. */
const AWAKE_MS = 3000
/** How often it is looked whether something is to be drawn while nothing happens. */
const RESTING_MS = 250

/**
 * While it plays, what moves all the time by itself is drawn so often at most, all of it with the same frames: figures and bars can
 * be read no faster, and what drawing takes of the processor the sound does not get.
 */
const CALM_MS = 30

/** `shows` says whether what moves all the time by itself is drawn with this frame. */
export type OnFrame = (shows: boolean) => void

/** Callbacks that run on every frame; they share one request. */
const ticking = new Set<OnFrame>()
let shownAt = 0
let requested = false
let resting: ReturnType<typeof setTimeout> | null = null
let awakeUntil = 0
let isBusy: () => boolean = () => false

function request(): void {
  if (requested || ticking.size === 0) return
  requested = true
  requestAnimationFrame((now) => {
    requested = false
    const shows = !isBusy() || now - shownAt >= CALM_MS
    if (shows) shownAt = now
    for (const call of ticking) call(shows)
    if (isBusy() || performance.now() < awakeUntil) request()
    else resting ??= setTimeout(rested, RESTING_MS)
  })
}

function rested(): void {
  resting = null
  request()
}

/** Draws every frame for a while: something has happened, or may happen. */
function wake(): void {
  awakeUntil = performance.now() + AWAKE_MS
  if (resting !== null) clearTimeout(resting)
  resting = null
  request()
}

/** Runs a callback on every frame of the screen, a few times a second while all is at rest; returns how to stop it. */
export function everyFrame(call: OnFrame): () => void {
  ticking.add(call)
  wake()
  return () => void ticking.delete(call)
}

/**
 * Tells the frames when there is something to draw: after input and after `subscribe` calls, and all the time while `busy` says
 * so. Without it, for as long as after input.
 */
export function startFrames(subscribe: (call: () => void) => void, busy: () => boolean): void {
  isBusy = busy
  subscribe(wake)
  for (const type of ['pointermove', 'pointerdown', 'keydown', 'wheel', 'focusin', 'visibilitychange'])
    window.addEventListener(type, wake, { capture: true, passive: true })
}
