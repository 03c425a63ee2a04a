import { startTransition, useEffect, useRef, useState, type ReactNode } from 'react'
import { useAppSelector } from './hooks'

/** How long calm parts rest between two changes while a hand drags, in milliseconds. */
const REST_MS = 350

/**
 * Fields and words that need not follow every frame: while a gesture goes on they are drawn anew a few times a second, and at once when it
 * ends. What the hand itself moves must not be inside, or be so only while `when` is false.
 */
export function Calm({ when = true, children }: { when?: boolean; children: ReactNode }) {
  const dragging = useAppSelector((s) => s.session.base !== null) && when
  const [shown, setShown] = useState(children)
  const latest = useRef(children)
  useEffect(() => {
    latest.current = children
    if (!dragging) setShown(children)
  }, [children, dragging])
  useEffect(() => {
    if (!dragging) return
    const timer = setInterval(() => startTransition(() => setShown(latest.current)), REST_MS)
    return () => clearInterval(timer)
  }, [dragging])
  return dragging ? shown : children
}
