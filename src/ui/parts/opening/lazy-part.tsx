import { useCallback, useEffect, useState, type ComponentType } from 'react'

/** What is shown in place of a part that could not be loaded. */
export type PartFailed<P> = ComponentType<P & { retry: () => void }>

/**
 * A component whose code is loaded when it is first shown, or before that by `preload`. Nothing is shown while it loads. If it
 * cannot be loaded, `Failed` is shown in its place, and `retry` tries again.
 */
export function lazyPart<P extends object>(load: () => Promise<ComponentType<P>>, Failed: PartFailed<P>) {
  let loaded: ComponentType<P> | null = null
  const preload = async () => {
    loaded ??= await load()
  }
  function LazyPart(props: P) {
    const [state, setState] = useState<'loading' | 'ready' | 'failed'>(loaded ? 'ready' : 'loading')
    const [attempt, setAttempt] = useState(0)
    useEffect(() => {
      let gone = false
      if (!loaded)
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
