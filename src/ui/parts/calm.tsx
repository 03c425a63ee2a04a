import { startTransition, useEffect, useRef, useState, type ReactNode } from 'react'
import { useAppSelector } from './hooks'

/** How long calm parts rest between two changes while a hand drags, in milliseconds. */
const REST_MS = 500

const waiting = new Set<() => void>()
let timer: ReturnType<typeof setInterval> | undefined

/** Calls back after every rest, until what is returned is called. All calm parts change at once: each by itself would cost a frame of its own. */
function afterEachRest(call: () => void): () => void {
  waiting.add(call)
  timer ??= setInterval(() => startTransition(() => waiting.forEach((each) => each())), REST_MS)
  return () => {
    waiting.delete(call)
    if (waiting.size > 0) return
    clearInterval(timer)
    timer = undefined
  }
}

/**
 * Fields and words that need not follow every frame: while a gesture goes on they are drawn anew twice a second, and at once when it
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
    if (dragging) return afterEachRest(() => setShown(latest.current))
  }, [dragging])
  return dragging ? shown : children
}
