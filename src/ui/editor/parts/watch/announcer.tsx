import { useEffect, useState } from 'react'
import { useAppStore } from '../../../parts/hooks'

/** Says each step, and each step that is taken back or made again, to those who do not see it. */
export function Announcer() {
  const store = useAppStore()
  const [text, setText] = useState('')
  useEffect(() => {
    let last = store.getState().session
    return store.subscribe(() => {
      const next = store.getState().session
      const before = last
      if (next === before) return
      last = next
      if (next.session?.id !== before.session?.id) return
      if (next.lastNumber > before.lastNumber) setText(next.steps[next.done - 1]?.label ?? '')
      else if (next.done < before.done) setText(`Undone: ${before.steps[next.done]?.label ?? ''}`)
      else if (next.done > before.done) setText(`Redone: ${next.steps[next.done - 1]?.label ?? ''}`)
    })
  }, [store])
  return (
    <p role="status" aria-label="What changed" className="sr-only">
      {text}
    </p>
  )
}
