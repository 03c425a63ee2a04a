import { useState, type ChangeEvent, type FormEvent } from 'react'

/**
 * One typed text of a form. `check` says that it is good, or what is wrong with it: that is shown once it was sent, and again with
 * every change, until it is good. `input` goes to the field, `submit` to the form.
 */
export function useCheckedText(
  initial: string,
  check: (text: string) => true | string,
  onText: (text: string) => void,
) {
  const [text, setText] = useState(initial)
  const [sent, setSent] = useState(false)
  const checked = check(text)
  const problem = sent && checked !== true ? checked : null
  return {
    problem,
    /** Empties the field, as it was before anything was sent. */
    reset: () => {
      setText('')
      setSent(false)
    },
    input: {
      value: text,
      'aria-invalid': problem !== null,
      onChange: (event: ChangeEvent<HTMLInputElement>) => setText(event.target.value),
    },
    submit: (event: FormEvent<HTMLFormElement>) => {
      event.preventDefault()
      setSent(true)
      if (checked === true) onText(text)
      else event.currentTarget.querySelector('input')?.focus()
    },
  }
}
