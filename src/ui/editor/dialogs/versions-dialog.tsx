import { useCallback, useEffect, useState } from 'react'
import { useNavigate } from 'react-router'
import { LIMITS, type Session } from '../../../core/model/session'
import { listVersions, removeVersion, type VersionEntry } from '../../../engine/storage'
import { goBackToVersion, keepThisAs, openVersion } from '../../../store/actions/version-actions'
import { Button } from '../../parts/button'
import { useAppDispatch, useAppSelector } from '../../parts/hooks'
import { useCheckedText } from '../../parts/fields/checked-text'
import { Panel } from '../../parts/panel'
import { toast } from '../../parts/messages/toast'

const when = new Intl.DateTimeFormat('en-GB', { dateStyle: 'medium', timeStyle: 'short' })

const nameProblem = (text: string): true | string =>
  text.trim() === ''
    ? 'Type a name of at least one letter.'
    : text.length > LIMITS.nameLength
      ? `The name has ${text.length} characters; type at most ${LIMITS.nameLength}.`
      : true

/** The versions of the session that were kept by name: keep this one, go back to one, open one beside. */
export function VersionsDialog({ session, onClose }: { session: Session; onClose(): void }) {
  const dispatch = useAppDispatch()
  const navigate = useNavigate()
  const readOnly = useAppSelector((s) => s.session.readOnly !== null)
  const [versions, setVersions] = useState<VersionEntry[] | null>(null)
  const [problem, setProblem] = useState<string | null>(null)
  const { id } = session
  const refresh = useCallback(() => listVersions(id).then(setVersions), [id])
  /** Does something with the versions and shows them anew; failures are said. */
  const act = (action: () => Promise<unknown>) =>
    void action()
      .then(refresh)
      .then(
        () => setProblem(null),
        (error: unknown) => setProblem((error as Error).message),
      )
  useEffect(() => {
    refresh().catch((error: unknown) => setProblem((error as Error).message))
  }, [refresh])
  const name = useCheckedText('', nameProblem, (text) => {
    act(() => dispatch(keepThisAs(text.trim())))
    name.reset()
  })
  return (
    <Panel
      title="Versions"
      about="A version keeps the session as it is now, under a name. All versions share their sound."
      onClose={onClose}
      footer={<Button onClick={onClose}>Close</Button>}
    >
      <form onSubmit={name.submit} className="flex items-end gap-2">
        <label className="min-w-0 flex-1 text-xs text-soft">
          Keep this as
          <input
            autoComplete="off"
            placeholder="before the new ending"
            className="mt-0.5 block h-8 w-full rounded-lg border border-seam bg-white px-2 text-sm text-ink placeholder:text-soft"
            {...name.input}
          />
        </label>
        <Button kind="solid" type="submit">
          Keep
        </Button>
      </form>
      {(name.problem ?? problem) && (
        <p role="alert" className="mt-1 text-sm text-madder">
          {name.problem ?? problem}
        </p>
      )}
      {versions?.length === 0 && (
        <p className="mt-4 text-sm text-soft">
          None is kept yet. Keep one before you try something: you can go back to it in one press.
        </p>
      )}
      <ul aria-label="Kept versions" className="mt-3 space-y-2">
        {versions?.map((version) => (
          <li key={version.id} className="rounded-xl border border-seam bg-white px-3 py-2">
            <p className="text-sm font-semibold wrap-anywhere">{version.name}</p>
            <p className="text-xs text-soft">{when.format(version.at)}</p>
            <div className="mt-1.5 flex gap-1.5">
              <Button
                disabled={readOnly}
                aria-label={`Go back to ${version.name}`}
                onClick={() =>
                  act(async () => {
                    await dispatch(goBackToVersion(version))
                    toast({
                      text: `The session is as it was in “${version.name}”. Undo brings you forward again.`,
                    })
                  })
                }
              >
                Go back to it
              </Button>
              <Button
                aria-label={`Open ${version.name} as a session of its own`}
                onClick={() =>
                  act(async () => void navigate(`/session/${await dispatch(openVersion(version))}`))
                }
              >
                Open beside
              </Button>
              <Button
                kind="quiet"
                aria-label={`Remove ${version.name}`}
                onClick={() => act(() => removeVersion(id, version.id))}
              >
                Remove
              </Button>
            </div>
          </li>
        ))}
      </ul>
    </Panel>
  )
}
