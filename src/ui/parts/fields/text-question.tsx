import { Button } from '../button'
import { Question } from '../panel'
import { useCheckedText } from './checked-text'

/** Asks for one text, which `check` says to be good or what is wrong with it. */
export function TextQuestion({
  title,
  about,
  label,
  initial,
  verb,
  check,
  onText,
  onClose,
}: {
  title: string
  about?: string
  label: string
  initial: string
  verb: string
  check(text: string): true | string
  onText(text: string): void
  onClose(): void
}) {
  const { input, problem, submit } = useCheckedText(initial, check, (text) => {
    onText(text)
    onClose()
  })
  return (
    <Question title={title} {...(about ? { about } : {})} onClose={onClose}>
      <form onSubmit={submit}>
        <label className="mt-4 block text-xs text-soft" htmlFor="asked">
          {label}
        </label>
        <input
          id="asked"
          autoComplete="off"
          onFocus={(e) => e.target.select()}
          className="mt-1 h-9 w-full rounded-lg border border-seam bg-white px-3"
          {...input}
        />
        {problem && (
          <p role="alert" className="mt-1 text-sm text-madder">
            {problem}
          </p>
        )}
        <div className="mt-5 flex justify-end gap-2">
          <Button onClick={onClose}>Cancel</Button>
          <Button kind="solid" type="submit">
            {verb}
          </Button>
        </div>
      </form>
    </Question>
  )
}
