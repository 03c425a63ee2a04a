import { clamp } from '../../../core/units/clamp'
import { useEffect, useLayoutEffect, useRef, useState } from 'react'
import { whyNot } from '../../../store/why-not'
import { useObservable } from '../hooks'

/** How long a sentence stays, in milliseconds. */
const STAYS_MS = 4000

/** Where the hand was last: at the pointer, or, when the last thing was a key, at what has the focus. */
let lastPointer: { x: number; y: number } | null = null

function handPlace(): { x: number; y: number } {
  if (lastPointer) return lastPointer
  const box = document.activeElement?.getBoundingClientRect()
  // The page itself has the focus: there is no better place than the middle.
  if (!box || document.activeElement === document.body)
    return { x: window.innerWidth / 2, y: window.innerHeight / 2 }
  return { x: box.left + box.width / 2, y: box.top }
}

/**
 * The sentence that says why a gesture or a key did nothing, beside the pointer or the focus, and for screen
 * readers. It goes by itself, or with the next press.
 */
export function WhyNotBubble() {
  const said = useObservable(whyNot)
  const bubble = useRef<HTMLParagraphElement>(null)
  const [place, setPlace] = useState<{ left: number; top: number } | null>(null)
  useEffect(() => {
    const pointed = (event: PointerEvent) => (lastPointer = { x: event.clientX, y: event.clientY })
    const keyed = () => (lastPointer = null)
    const cleared = () => whyNot.set(null)
    window.addEventListener('pointermove', pointed, { capture: true, passive: true })
    window.addEventListener('pointerdown', pointed, { capture: true, passive: true })
    window.addEventListener('pointerdown', cleared, { capture: true, passive: true })
    window.addEventListener('keydown', keyed, { capture: true })
    return () => {
      window.removeEventListener('pointermove', pointed, { capture: true })
      window.removeEventListener('pointerdown', pointed, { capture: true })
      window.removeEventListener('pointerdown', cleared, { capture: true })
      window.removeEventListener('keydown', keyed, { capture: true })
    }
  }, [])
  useLayoutEffect(() => {
    if (!said) return
    const { x, y } = handPlace()
    const { width, height } = bubble.current!.getBoundingClientRect()
    setPlace({
      left: clamp(x - width / 2, 8, window.innerWidth - width - 8),
      top: y - height - 16 >= 8 ? y - height - 16 : y + 24,
    })
    const timer = window.setTimeout(() => whyNot.set(null), STAYS_MS)
    return () => window.clearTimeout(timer)
  }, [said])
  return (
    <div role="status" aria-live="polite">
      {said && (
        <p
          ref={bubble}
          className="pointer-events-none fixed z-50 w-max max-w-80 rounded-lg bg-ink px-3 py-1.5 text-sm text-white shadow-lg"
          style={place ?? { left: 0, top: 0, visibility: 'hidden' }}
        >
          {said.text}
        </p>
      )}
    </div>
  )
}
