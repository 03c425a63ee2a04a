/**
 * The state of the interaction: whether the pointer is held, until when background work pauses after a wheel
 * turn or a start of playback (0 when it does not), and the value last reported to listeners.
 */
let holding = false
let restsUntil = 0
let held = false
let timer: ReturnType<typeof setTimeout> | undefined
const listeners = new Set<(held: boolean) => void>()

/**
 * Why background work pauses: the pointer is held, or what was just changed is about to be heard; the wheel has just turned or
 * playback is starting; or it does not pause.
 */
export type RestReason = 'hand' | 'moment' | 'none'

let reason: RestReason = 'none'
/** What was changed while it plays, and is not heard yet. */
let changing: ReturnType<typeof setTimeout> | undefined
const reasonListeners = new Set<(reason: RestReason) => void>()

function tellReason(): void {
  const now = holding || changing !== undefined ? 'hand' : restsUntil > 0 ? 'moment' : 'none'
  if (now === reason) return
  reason = now
  for (const listener of [...reasonListeners]) listener(reason)
}

/** Calls back whenever the reason changes. Returns a function that unsubscribes. */
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
 * Reports whether the pointer is held down. Background work pauses meanwhile, so that the picture keeps up
 * with the drag.
 */
export function setPointerHeld(now: boolean): void {
  holding = now
  tell()
}

/** Pauses background work for the given number of milliseconds. */
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

/** Pause of background work when playback starts, in milliseconds: long enough to fill the ring. */
const BEGINNING_MS = 3000
/** Pause after a turn of the wheel, in milliseconds: until it is clear that scrolling has stopped. */
const WHEEL_MS = 300

/** Reports that playback is starting. Background work pauses for a moment, so that no gap is heard. */
export const playbackBegins = () => rest(BEGINNING_MS)

/** How many jobs that somebody waits for are running, and who is told when the first begins and the last ends. */
let jobs = 0
const jobListeners = new Set<() => void>()

/** Reports that a job begins that somebody waits for, such as an export. Returns a function that reports its end. */
export function jobBegins(): () => void {
  const tell = () => [...jobListeners].forEach((listener) => listener())
  if (++jobs === 1) tell()
  let ended = false
  return () => {
    if (ended) return
    ended = true
    if (--jobs === 0) tell()
  }
}

/** Calls back whenever the first of such jobs begins or the last one ends. Returns a function that unsubscribes. */
export function onJobs(listener: () => void): () => void {
  jobListeners.add(listener)
  return () => void jobListeners.delete(listener)
}

/** Whether such a job is running. */
export const jobsRun = (): boolean => jobs > 0

/** How long what was changed takes to be heard, in milliseconds, where nothing else takes the processor. */
const CHANGING_MS = 120

/** Reports that something was changed while it plays: it is heard before anything else is worked out. */
export function changeIsHeard(): void {
  clearTimeout(changing)
  changing = setTimeout(() => {
    changing = undefined
    tellReason()
  }, CHANGING_MS)
  tellReason()
}

/** Calls back whenever the user becomes busy or idle. Returns a function that unsubscribes. */
export function onBusyChange(listener: (held: boolean) => void): () => void {
  listeners.add(listener)
  return () => void listeners.delete(listener)
}

/** Whether the pointer is held, the wheel has just turned, or playback is starting. */
export const isUserBusy = (): boolean => held

/**
 * Calls back as soon as the user is idle, immediately if that is already so. Returns a function that cancels.
 */
export function whenIdle(call: () => void): () => void {
  if (!held) {
    call()
    return () => {}
  }
  const stop = onBusyChange((now) => {
    if (now) return
    stop()
    call()
  })
  return stop
}

/** Resolves as soon as the user is idle. */
export const untilIdle = (): Promise<void> => new Promise((resolve) => void whenIdle(resolve))

/**
 * Watches a window's pointer: it is held while a button is down, and released when the window loses it.
 * Turning the wheel counts as interaction too.
 */
export function watchInteraction(window: Pick<Window, 'addEventListener'>): void {
  window.addEventListener('pointerdown', () => setPointerHeld(true), true)
  for (const type of ['pointerup', 'pointercancel', 'blur'] as const)
    window.addEventListener(type, () => setPointerHeld(false), true)
  window.addEventListener('wheel', () => rest(WHEEL_MS), { capture: true, passive: true })
  window.addEventListener('pointermove', (event) => event.buttons === 0 && setPointerHeld(false), true)
}
