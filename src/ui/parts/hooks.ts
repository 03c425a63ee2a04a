import { useEffect, useRef, useState, type RefObject } from 'react'
import { useDispatch, useSelector, type TypedUseSelectorHook } from 'react-redux'
import type { Dispatch, RootState } from '../../store/store'

export const useAppSelector: TypedUseSelectorHook<RootState> = useSelector

/** The store's dispatch, which also takes thunks. */
export const useAppDispatch = useDispatch.withTypes<Dispatch>()

/** Runs a callback on every frame of the screen while `on`; the callback may change from render to render. */
export function useFrame(callback: () => void, on = true): void {
  const latest = useRef(callback)
  useEffect(() => void (latest.current = callback))
  useEffect(() => {
    if (!on) return
    let id = requestAnimationFrame(function tick() {
      latest.current()
      id = requestAnimationFrame(tick)
    })
    return () => cancelAnimationFrame(id)
  }, [on])
}

/** The size of an element in CSS pixels, kept up to date. */
export function useSize(ref: RefObject<HTMLElement | null>): { width: number; height: number } {
  const [size, setSize] = useState({ width: 0, height: 0 })
  useEffect(() => {
    const element = ref.current
    if (!element) return
    const observer = new ResizeObserver(([entry]) => {
      const { width, height } = entry!.contentRect
      setSize((old) => (old.width === width && old.height === height ? old : { width, height }))
    })
    observer.observe(element)
    return () => observer.disconnect()
  }, [ref])
  return size
}

/** Makes a canvas as large as its place at the screen's resolution and returns a context that measures in CSS pixels. */
export function preparedContext(canvas: HTMLCanvasElement, width: number, height: number): CanvasRenderingContext2D | null {
  const ratio = window.devicePixelRatio || 1
  const [w, h] = [Math.round(width * ratio), Math.round(height * ratio)]
  if (canvas.width !== w || canvas.height !== h) {
    canvas.width = w
    canvas.height = h
  }
  const ctx = canvas.getContext('2d')
  ctx?.setTransform(ratio, 0, 0, ratio, 0, 0)
  ctx?.clearRect(0, 0, width, height)
  return ctx
}
