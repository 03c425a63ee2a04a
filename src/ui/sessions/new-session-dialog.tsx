import { useState } from 'react'
import { Button } from '../parts/button'
import { RateSelect } from '../parts/import-question'
import { Question } from '../parts/panel'

const UNTITLED = 'Untitled session'

/** Asks for the title and the sample rate of a new session. */
export function NewSessionDialog({
  onMake,
  onClose,
}: {
  onMake(title: string, sampleRate: number): void
  onClose(): void
}) {
  const [title, setTitle] = useState(UNTITLED)
  const [sampleRate, setSampleRate] = useState(48000)
  return (
    <Question
      title="New session"
      about="Recordings of other rates are converted when they are imported. To have their rate proposed, import them from the list."
      onClose={onClose}
    >
      <form
        onSubmit={(event) => {
          event.preventDefault()
          onMake(title.trim() || UNTITLED, sampleRate)
        }}
      >
        <div className="mt-4 flex gap-3">
          <label className="min-w-0 flex-1 text-xs text-soft">
            Title
            <input
              value={title}
              maxLength={255}
              autoComplete="off"
              onChange={(e) => setTitle(e.target.value)}
              onFocus={(e) => e.target.select()}
              className="mt-0.5 block h-8 w-full rounded-lg border border-seam bg-white px-2 text-sm text-ink"
            />
          </label>
          <label className="w-28 text-xs text-soft">
            Sample rate
            <RateSelect value={sampleRate} onChange={setSampleRate} />
          </label>
        </div>
        <div className="mt-5 flex justify-end gap-2">
          <Button onClick={onClose}>Cancel</Button>
          <Button kind="solid" type="submit">
            Make it
          </Button>
        </div>
      </form>
    </Question>
  )
}
