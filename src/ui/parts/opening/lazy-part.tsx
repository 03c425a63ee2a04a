import { useCallback, useEffect, useState, type ComponentType } from 'react'
import { NOT_LOADED } from './load-part'

/** What is shown in place of a part that could not be loaded. */
export type PartFailed<P> = ComponentType<P & { retry: () => void }>

/** Says in the middle of the page that a part could not be loaded. */
function NotLoaded({ retry }: { retry: () => void }) {
  return (
    <div
      role="alert"
      className="fixed top-1/3 left-1/2 z-50 flex w-96 max-w-[calc(100vw-2rem)] -translate-x-1/2 flex-col gap-3 rounded-2xl border border-madder bg-linen p-5 shadow-2xl"
    >
      <p>{NOT_LOADED}</p>
      <button type="button" className="self-end rounded-lg border border-seam px-3 py-1" onClick={retry}>
        Try again
      </button>
    </div>
  )
}

/**
 * A component whose code is loaded when it is first shown, or before that by `preload`. Nothing is shown while it loads. If it
 * cannot be loaded, `Failed` is shown in its place, and `retry` tries again.
 */
export function lazyPart<P extends object>(
  load: () => Promise<ComponentType<P>>,
  Failed: PartFailed<P> = NotLoaded,
) {
  let loaded: ComponentType<P> | null = null
  const preload = async () => {
    loaded ??= await load()
  }
  function LazyPart(props: P) {
    const [state, setState] = useState<'loading' | 'ready' | 'failed'>(loaded ? 'ready' : 'loading')
    const [attempt, setAttempt] = useState(0)
    useEffect(() => {
      let gone = false
      // Whether it is there already or not: it may have come since the component was rendered.
      preload().then(
        () => gone || setState('ready'),
        () => gone || setState('failed'),
      )
      return () => void (gone = true)
    }, [attempt])
    const retry = useCallback(() => {
      setState('loading')
      setAttempt((n) => n + 1)
    }, [])
    if (state === 'failed') return <Failed {...props} retry={retry} />
    const Part = loaded
    return Part && <Part {...props} />
  }
  return Object.assign(LazyPart, { preload })
}
