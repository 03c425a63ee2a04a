import { useState } from 'react'
import { editHere } from '../../../store/opening/open-session'
import { askForSession } from '../../../store/opening/ask-other-tab'
import type { ReadOnlyReason } from '../../../store/session-slice'
import { Button } from '../button'
import { useAppDispatch, useAppFields } from '../hooks'
import { NoticeLine } from './notice-line'
import { Question } from '../panel'
import { saveCopyOf } from '../copies/session-copy'
import { toast } from './toast'

const WHY: Record<ReadOnlyReason, string> = {
  elsewhere:
    'This session is open in another tab, which edits it. Here it is as it stood when it was opened: it can be looked at, played and exported.',
  given: 'This session is edited in another tab now. Here it can be looked at, played and exported.',
  taken: 'Another tab took this session over. Here it can be looked at, played and exported.',
}

/** Says that another tab edits the session, and offers to edit it here instead. */
export function ReadOnlyNotice() {
  const dispatch = useAppDispatch()
  const { readOnly, unsaved, id, title } = useAppFields(({ session: s }) => ({
    readOnly: s.readOnly,
    unsaved: s.unsaved,
    id: s.session?.id ?? '',
    title: s.session?.title ?? '',
  }))
  const [asking, setAsking] = useState(false)
  const [question, setQuestion] = useState<'silent' | 'unsaved' | null>(null)
  if (!readOnly) return null
  const keepsSteps = readOnly === 'taken' && unsaved

  const edit = async (force: boolean) => {
    setQuestion(null)
    setAsking(true)
    try {
      if (force) return void (await dispatch(editHere(true)))
      // The tab that had it may be closed by now.
      if (await dispatch(editHere(false))) return
      const answer = await askForSession(id)
      if (answer === null) return setQuestion('silent')
      if (answer !== 'given') return toast({ text: answer.refused, stays: 20_000 })
      if (!(await dispatch(editHere(false)))) setQuestion('silent')
    } catch (error) {
      toast({ text: (error as Error).message, stays: 20_000 })
    } finally {
      setAsking(false)
    }
  }

  return (
    <>
      <NoticeLine
        text={`${WHY[readOnly]}${keepsSteps ? ' The last steps that were made here are in this tab only.' : ''}`}
      >
        {keepsSteps && <Button onClick={() => void dispatch(saveCopyOf(id, title))}>Save a copy…</Button>}
        <Button
          kind="solid"
          disabled={asking}
          onClick={() => (keepsSteps ? setQuestion('unsaved') : void edit(false))}
        >
          {asking ? 'Asking the other tab…' : 'Edit here instead'}
        </Button>
      </NoticeLine>
      {question === 'silent' && (
        <Question
          title="The other tab does not answer"
          about="It may be asleep or stuck. If you take the session over, that tab can write nothing any more. Steps that it had not saved stay in it, and can be saved as a copy there."
          onClose={() => setQuestion(null)}
        >
          <Answers
            no="Leave it there"
            yes="Take it over"
            onNo={() => setQuestion(null)}
            onYes={() => void edit(true)}
          />
        </Question>
      )}
      {question === 'unsaved' && (
        <Question
          title="Give up the steps that are only here?"
          about="The session is opened as the other tab saved it. Steps that were made here and not saved are lost, unless you save a copy first."
          onClose={() => setQuestion(null)}
        >
          <Answers
            no="Keep them"
            yes="Give them up"
            onNo={() => setQuestion(null)}
            onYes={() => void edit(false)}
          />
        </Question>
      )}
    </>
  )
}

function Answers(props: { no: string; yes: string; onNo(): void; onYes(): void }) {
  return (
    <div className="mt-5 flex justify-end gap-2">
      <Button onClick={props.onNo}>{props.no}</Button>
      <Button kind="solid" onClick={props.onYes}>
        {props.yes}
      </Button>
    </div>
  )
}
