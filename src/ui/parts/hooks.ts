import { useEffect, useRef, useState, useSyncExternalStore, type RefObject } from 'react'
import { shallowEqual, useDispatch, useSelector, useStore, type TypedUseSelectorHook } from 'react-redux'
import type { Observable } from '../../store/observable'
import type { Dispatch, RootState, Store } from '../../store/store'
import { everyFrame, type OnFrame } from './rendering/frames'

export const useAppSelector: TypedUseSelectorHook<RootState> = useSelector

/** The store itself, for reading in event handlers. */
export const useAppStore = useStore.withTypes<Store>()

/** Some fields of the state; re-renders only when one of them changes. */
export const useAppFields = <T extends object>(pick: (state: RootState) => T): T =>
  useAppSelector(pick, shallowEqual)

/** The store's dispatch, which also takes thunks. */
export const useAppDispatch = useDispatch.withTypes<Dispatch>()

/** The value of an observable, for a component that shows it. */
export const useObservable = <T>({ subscribe, get }: Observable<T>): T => useSyncExternalStore(subscribe, get)

/** Runs a callback on every frame of the screen while `on`; the callback may change from render to render. */
export function useFrame(callback: OnFrame, on = true): void {
  const latest = useRef(callback)
  useEffect(() => void (latest.current = callback))
  useEffect(() => {
    if (!on) return
    return everyFrame((shows) => latest.current(shows))
  }, [on])
}

/** Sets an element's text if it differs, in the node that is there: another node would have the page put together anew. */
export function showText(element: HTMLElement | null, text: string): void {
  if (!element || element.textContent === text) return
  const { firstChild } = element
  if (firstChild instanceof Text && !firstChild.nextSibling) firstChild.data = text
  else element.textContent = text
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

/** Sizes a canvas to its place at device resolution and returns a context that measures in CSS pixels. */
export function preparedContext(
  canvas: HTMLCanvasElement,
  width: number,
  height: number,
): CanvasRenderingContext2D | null {
  const ratio = window.devicePixelRatio || 1
  const [w, h] = [Math.round(width * ratio), Math.round(height * ratio)]
  if (canvas.width !== w || canvas.height !== h) {
    canvas.width = w
    canvas.height = h
  }
  // Drawn by the processor at once: pictures of sound are put together there pixel by pixel, and handing them
  // to and fro takes longer than drawing.
  const ctx = canvas.getContext('2d', { willReadFrequently: true })
  ctx?.setTransform(ratio, 0, 0, ratio, 0, 0)
  ctx?.clearRect(0, 0, width, height)
  return ctx
}

/** Whether the window is as a media query says. */
export function useMedia(query: string): boolean {
  return useSyncExternalStore(
    (changed) => {
      const list = window.matchMedia(query)
      list.addEventListener('change', changed)
      return () => list.removeEventListener('change', changed)
    },
    () => window.matchMedia(query).matches,
  )
}
