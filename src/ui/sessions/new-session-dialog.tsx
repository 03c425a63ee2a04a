import { useState } from 'react'
import { Button } from '../parts/button'
import { Question } from '../parts/panel'
import { TitleAndRate } from '../parts/fields/title-and-rate'

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
        <TitleAndRate title={title} sampleRate={sampleRate} onTitle={setTitle} onRate={setSampleRate} />
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
