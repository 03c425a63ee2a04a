import { AudioLines, CircleHelp, Plus } from 'lucide-react'
import { useCallback, useEffect, useState } from 'react'
import { useDropzone } from 'react-dropzone'
import { Link, useNavigate } from 'react-router'
import {
  deleteSession,
  duplicateSession,
  emptyTrash,
  listCopies,
  listLibrary,
  purge,
  renameSession,
  restoreSession,
} from '../../engine/storage'
import type { SoundSize } from '../../engine/storage'
import { storageFailure, type SessionRecord } from '../../engine/storage'
import type { NewSessionOutcome } from '../../store/opening/new-session'
import { shownText } from '../../core/model/check/shown'
import { fileKind } from '../../engine/import'
import { SAMPLE_ID } from '../../store/opening/sample-id'
import { isOpenElsewhere } from '../../store/opening/session-lock'
import { renameInItsTab } from '../../store/opening/ask-other-tab'
import { GroundSwitch } from '../parts/ground-switch'
import { LIMITS } from '../../core/model/session'
import { Button } from '../parts/button'
import { TextQuestion } from '../parts/fields/text-question'
import { Question } from '../parts/panel'
import { sortedFiles } from '../parts/import/sorted-files'
import { toast } from '../parts/messages/toast'
import { openCopy, saveCopyOf } from '../parts/copies/session-copy'
import { loadPart } from '../parts/opening/load-part'
import { SILENT_MS, SilentStorage } from '../parts/opening/silent-storage'
import { useAppDispatch, useAppSelector, useAppStore } from '../parts/hooks'
import { NOTHING_DROPPED, sayOutcome } from '../parts/import/import-outcome'
import { useCloseSession } from '../parts/opening/close-session'
import { FirstSteps } from './first-steps'
import { KeepingNote } from './keeping-note'
import { NewSessionDialog } from './new-session-dialog'
import { OpenCopyButton } from './open-copy-button'
import { SessionRow } from './session-row'
import { Trash } from './trash'
import { UnsavedBanner } from './unsaved-banner'

const emptyingWords = (count: number) =>
  `${count === 1 ? 'One session is' : `${count} sessions are`} removed for good, with the sound that no other ` +
  'session uses. This cannot be undone.'

const titleProblem = (text: string): true | string =>
  text.trim() === ''
    ? 'Type a title of at least one letter.'
    : text.length <= LIMITS.nameLength ||
      `The title has ${text.length} characters; type at most ${LIMITS.nameLength}.`

/** The list of sessions: open, make, import, rename, duplicate, delete. */
export function SessionsPage() {
  const [records, setRecords] = useState<SessionRecord[] | null>(null)
  const [trash, setTrash] = useState<SessionRecord[]>([])
  const [sizes, setSizes] = useState<ReadonlyMap<string, SoundSize>>(new Map())
  const [emptying, setEmptying] = useState(false)
  const [making, setMaking] = useState(false)
  const [copies, setCopies] = useState<ReadonlyMap<string, number>>(new Map())
  const [failure, setFailure] = useState<string | null>(null)
  const [silent, setSilent] = useState(false)
  const [renaming, setRenaming] = useState<SessionRecord | null>(null)
  const navigate = useNavigate()
  const dispatch = useAppDispatch()
  const store = useAppStore()
  const importing = useAppSelector((s) => s.jobs.running.some((job) => job.kind === 'import'))
  useCloseSession()

  const refresh = useCallback(
    () =>
      Promise.all([listLibrary(), listCopies()]).then(
        ([library, saved]) => {
          setRecords(library.sessions)
          setTrash(library.deleted)
          setSizes(library.sizes)
          setCopies(saved)
          setFailure(null)
        },
        (error: unknown) => setFailure((storageFailure(error) as Error).message),
      ),
    [],
  )
  useEffect(() => {
    const waiting = records === null && failure === null
    const timer = window.setTimeout(() => setSilent(waiting), waiting ? SILENT_MS : 0)
    return () => window.clearTimeout(timer)
  }, [records, failure])
  useEffect(() => {
    void refresh()
    purge(Date.now()).catch(() => undefined)
  }, [refresh])

  /** Runs an action on the library and refreshes the list; failures are shown. */
  const act = (action: () => Promise<unknown>) =>
    action().then(refresh, (error: unknown) => toast({ text: (storageFailure(error) as Error).message }))

  const open = (id: string) => void navigate(`/session/${id}`)
  const openCopies = async (files: readonly File[]) => {
    let last: string | null = null
    for (const file of files) last = (await dispatch(openCopy(file))) ?? last
    await refresh()
    if (last !== null && files.length === 1) open(last)
  }
  const takeFiles = async (files: File[]) => {
    if (files.length === 0) return toast({ text: NOTHING_DROPPED })
    const { copies, sounds } = await sortedFiles(files)
    if (copies.length) await openCopies(copies)
    if (sounds.length) await importFiles(sounds)
  }
  /** Files that were chosen as copies: sounds among them are not, and can be imported. */
  const openChosen = async (files: File[]) => {
    const kinds = await Promise.all(files.map(fileKind))
    const sounds = files.filter((_, i) => kinds[i] === 'sound')
    if (sounds.length) {
      const which =
        sounds.length === 1
          ? `“${shownText(sounds[0]!.name)}” is a sound`
          : `${sounds.length} of these files are sounds`
      toast({
        text: `${which}, not a copy of a session.`,
        action: { label: 'Import it as a new session', run: () => void importFiles(sounds) },
        stays: 20_000,
      })
    }
    const { copies, sounds: unknown } = await sortedFiles(files.filter((f) => !sounds.includes(f)))
    await openCopies([...copies, ...unknown])
  }
  const importFiles = async (files: File[]) => {
    const parts = await loadPart(() =>
      Promise.all([import('../parts/import/import-question'), import('../../store/opening/new-session')]),
    )
    if (!parts) return
    const [{ askImport }, { sessionFromFiles }] = parts
    const choice = await askImport(files, { kind: 'new' })
    if (!choice) return
    const take = async (some: readonly File[], takesWrongSum: boolean) => {
      const made = await dispatch(sessionFromFiles(some, choice, takesWrongSum))
      // With a session that has the others, these are imported there.
      const none = made.done && made.value.session === null
      return sayOutcome(
        made,
        ({ session }) => session && { label: 'Open the session', run: () => open(session.id) },
        none ? (doubtful) => void take(doubtful, true).then(shown) : null,
      )
    }
    await shown(await take(files, false))
  }
  const shown = async (outcome: NewSessionOutcome | null) => {
    if (!outcome?.session) return
    await refresh()
    if (outcome.refused.length === 0) open(outcome.session.id)
  }
  const make = async (title: string, sampleRate: number) => {
    const part = await loadPart(() => import('../../store/opening/new-session'))
    await part?.newSession(title, sampleRate).then(
      (session) => open(session.id),
      (error: unknown) => toast({ text: (storageFailure(error) as Error).message }),
    )
  }
  const drop = useDropzone({ onDrop: (files) => void takeFiles(files), noClick: true, noKeyboard: true })

  /** A session that another tab works on is not deleted under its hands. */
  const remove = async (record: SessionRecord) => {
    const { id, title } = record.session
    if (store.getState().session.session?.id === id)
      return toast({
        text: `“${title}” has changes that are not saved. Go back to it, or save a copy, before it is deleted.`,
      })
    if (await isOpenElsewhere(id))
      return toast({ text: `“${title}” is open in another tab. Close it there, then it can be deleted.` })
    await moveToTrash(record)
  }
  const rename = async (record: SessionRecord, title: string) => {
    const { id } = record.session
    if (!(await isOpenElsewhere(id))) return act(() => renameSession(id, title, Date.now()))
    // It becomes a step of the tab that holds the session.
    if (!(await renameInItsTab(id, title)))
      toast({
        text: `“${record.session.title}” is open in another tab, which did not answer. Rename it there.`,
      })
    await refresh()
  }
  const moveToTrash = (record: SessionRecord) =>
    act(() => deleteSession(record.session.id, Date.now())).then(() =>
      toast({
        text: `“${record.session.title}” is in the trash.`,
        action: { label: 'Undo', run: () => void act(() => restoreSession(record.session.id)) },
        stays: 20_000,
      }),
    )

  const hasSample = records?.some((r) => r.session.id === SAMPLE_ID)
  return (
    <div {...drop.getRootProps()} className="min-h-full bg-linen">
      <header className="border-b border-seam bg-cloth">
        <div className="mx-auto flex max-w-4xl items-center gap-4 px-6 py-4">
          <img src="/icon.svg" alt="" className="h-9 w-9" />
          <div className="flex-1">
            <h1 className="text-xl leading-tight font-bold">Oaken Thread</h1>
            <p className="text-sm text-soft">
              Shape level, edges and movement. Your sound stays in this browser.
            </p>
          </div>
          <GroundSwitch />
          <Link
            to="/help"
            className="inline-flex h-8 items-center gap-1.5 rounded-lg px-3 text-sm font-medium hover:bg-fold"
          >
            <CircleHelp size={16} />
            Help
          </Link>
        </div>
      </header>
      <main className="mx-auto max-w-4xl px-6 py-8">
        <input {...drop.getInputProps()} aria-label="Import audio files" />
        <div className="mb-4 flex items-center gap-2">
          <h2 className="flex-1 text-lg font-bold">Sessions</h2>
          <Button disabled={importing || failure !== null} onClick={drop.open}>
            <AudioLines size={16} />
            Import audio…
          </Button>
          <OpenCopyButton disabled={failure !== null} onFiles={(files) => void openChosen(files)} />
          <Button kind="solid" disabled={failure !== null} onClick={() => setMaking(true)}>
            <Plus size={16} />
            New session
          </Button>
        </div>
        <UnsavedBanner />
        {silent && <SilentStorage />}
        {failure ? (
          <p role="alert" className="rounded-xl border border-madder bg-white p-4">
            {failure} Until then no session can be kept here; the help pages and the command line still work.
          </p>
        ) : (
          <ul
            hidden={records === null}
            className="overflow-hidden rounded-2xl border border-seam bg-cloth/60"
            aria-label="Sessions"
          >
            {records?.map((record) => (
              <SessionRow
                key={record.session.id}
                record={record}
                size={sizes.get(record.session.id)}
                copiedAt={copies.get(record.session.id) ?? null}
                actions={{
                  onRename: () => setRenaming(record),
                  onSaveCopy: () =>
                    void dispatch(saveCopyOf(record.session.id, record.session.title)).then(refresh),
                  onDuplicate: () =>
                    void act(() =>
                      duplicateSession(record.session.id, crypto.randomUUID().slice(0, 13), Date.now()),
                    ),
                  onDelete: () => void remove(record),
                }}
              />
            ))}
            {records && !hasSample && (
              <li className="relative flex items-center gap-4 px-4 py-3 hover:bg-white">
                <span
                  className="flex h-9 w-8 shrink-0 items-center justify-center rounded-lg bg-oak text-white"
                  aria-hidden
                >
                  <AudioLines size={18} />
                </span>
                <div className="flex-1">
                  <Link
                    to={`/session/${SAMPLE_ID}`}
                    className="text-base font-semibold after:absolute after:inset-0"
                  >
                    The Tide Mill
                  </Link>
                  <p className="text-sm text-soft">
                    The sample session: an audio walk of a minute and a half, full of things to put right.
                  </p>
                </div>
                <span className="text-sm font-medium text-oak">Open the sample</span>
              </li>
            )}
          </ul>
        )}
        {records?.length === 0 && <FirstSteps onImport={drop.open} />}
        {records && records.length > 0 && <KeepingNote version={records.length} />}
        <Trash
          records={trash}
          sizes={sizes}
          onRestore={(record) => void act(() => restoreSession(record.session.id))}
          onEmpty={() => setEmptying(true)}
        />
        <p className="mt-6 rounded-2xl border border-dashed border-seam px-4 py-6 text-center text-soft">
          Drop recordings anywhere on this page to make a session of them: WAV, AIFF and FLAC of any depth and
          rate, or whatever else this browser can decode. A copy of a session (.oaken) opens as it was saved.
        </p>
      </main>
      {drop.isDragActive && (
        <div className="pointer-events-none fixed inset-3 z-40 flex items-center justify-center rounded-3xl border-4 border-dashed border-oak bg-linen/85 text-2xl font-bold">
          Drop to make a session
        </div>
      )}
      {emptying && (
        <Question
          title="Empty the trash?"
          about={emptyingWords(trash.length)}
          onClose={() => setEmptying(false)}
        >
          <div className="mt-5 flex justify-end gap-2">
            <Button onClick={() => setEmptying(false)}>Cancel</Button>
            <Button
              kind="solid"
              onClick={() => {
                setEmptying(false)
                void act(() => emptyTrash(trash.map((r) => r.session.id))).then(() => purge(Date.now()))
              }}
            >
              Empty the trash
            </Button>
          </div>
        </Question>
      )}
      {making && (
        <NewSessionDialog
          onClose={() => setMaking(false)}
          onMake={(title, sampleRate) => {
            setMaking(false)
            void make(title, sampleRate)
          }}
        />
      )}
      {renaming && (
        <TextQuestion
          title="Rename the session"
          label="Title"
          initial={renaming.session.title}
          verb="Rename"
          check={titleProblem}
          onClose={() => setRenaming(null)}
          onText={(title) => void rename(renaming, title.trim())}
        />
      )}
    </div>
  )
}
