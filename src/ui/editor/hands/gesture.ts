/** How far the pointer has come since the gesture began, in pixels, and what is held. */
export interface Move {
  dx: number
  dy: number
  x: number
  fine: boolean
  shift: boolean
  ctrl: boolean
}

/**
 * One drag from press to release. `move` shows, `end` makes it one step of the history, `cancel` leaves
 * everything as it was.
 */
export interface Gesture {
  move(move: Move): void
  end(): void
  cancel(): void
}

/** A gesture in progress, and what a click that never moved means. */
export interface Drag {
  gesture: Gesture | null
  click: (() => void) | null
  cancelled: boolean
}

/** A drag that does what a gesture does; without one it does nothing. */
export const drag = (gesture: Gesture | null, click: (() => void) | null = null): Drag => ({
  gesture,
  click,
  cancelled: false,
})
