import { useEffect, useState } from 'react'
import { useDropzone } from 'react-dropzone'
import { shallowEqual } from 'react-redux'
import { observable } from '../../../store/observable'
import { showTime } from '../../../core/units/typed'
import {
  missingSources,
  searchFiles,
  takeStandIns,
  type SearchOutcome,
} from '../../../store/actions/missing-sounds'
import { Button } from '../button'
import { useAppDispatch, useAppSelector, useObservable } from '../hooks'
import { Panel } from '../panel'

const counted = (count: number, noun: string) => (count === 1 ? `one ${noun}` : `${count} ${noun}s`)

/** What became of the last search; it outlasts the editor, which begins anew with a sound that was found. */
const lastSearch = observable<{ outcome: SearchOutcome | null; message: string | null }>({
  outcome: null,
  message: null,
})

/** The sounds that the session misses, each to be taken from a file that is chosen or dropped. */
export function MissingSoundsDialog({ onClose }: { onClose(): void }) {
  const dispatch = useAppDispatch()
  const missing = useAppSelector(missingSources, shallowEqual)
  const readOnly = useAppSelector((s) => s.session.readOnly !== null)
  const { outcome, message } = useObservable(lastSearch)
  useEffect(() => {
    if (missing.length > 0) return
    // Nothing of this search concerns the next one.
    return () => lastSearch.set({ outcome: null, message: null })
  }, [missing.length])
  const [searching, setSearching] = useState(false)
  const search = async (files: File[]) => {
    if (files.length === 0) return
    setSearching(true)
    const found = await dispatch(searchFiles(files))
    setSearching(false)
    lastSearch.set(
      found.done ? { outcome: found.value, message: null } : { outcome: null, message: found.message },
    )
  }
  const drop = useDropzone({
    noClick: true,
    noKeyboard: true,
    noDragEventsBubbling: true,
    disabled: searching,
    onDrop: (files) => void search(files),
  })
  const standIns = outcome?.standIns.filter(({ source }) => missing.some((s) => s.id === source.id)) ?? []
  const shown = missing.filter((s) => !standIns.some(({ source }) => source.id === s.id))
  return (
    <Panel
      title="Missing sounds"
      about="Choose or drop the files that they were imported from. Each is known again by its samples."
      wide
      onClose={onClose}
      footer={
        <>
          <Button disabled={searching} onClick={drop.open} kind={missing.length ? 'solid' : 'plain'}>
            {searching ? 'Looking…' : 'Choose files…'}
          </Button>
          <Button onClick={onClose}>Close</Button>
        </>
      }
    >
      <div {...drop.getRootProps()} className={drop.isDragActive ? 'rounded-xl outline-2 outline-oak' : ''}>
        <input {...drop.getInputProps()} aria-label="Files of missing sounds" />
        <div role="status" aria-live="polite">
          {message && <p className="mb-3 text-sm">{message}</p>}
          {outcome && <p className="mb-3 text-sm">{foundWords(outcome)}</p>}
        </div>
        {standIns.length > 0 && (
          <section className="mb-4 rounded-xl border border-oak bg-white p-3">
            <p className="text-sm">
              These files are as long and of the same rate, but their samples are others. Regions, fades and
              threads stay where they are.
            </p>
            <ul className="mt-2 space-y-1 text-sm">
              {standIns.map(({ source, sound }) => (
                <li key={source.id} className="flex gap-2">
                  <span className="min-w-0 flex-1 truncate">“{source.name}”</span>
                  <span className="text-soft">from</span>
                  <span className="min-w-0 flex-1 truncate">“{sound.name}”</span>
                </li>
              ))}
            </ul>
            <Button
              className="mt-3"
              kind="solid"
              disabled={readOnly}
              onClick={() => void dispatch(takeStandIns(standIns))}
            >
              Use {standIns.length === 1 ? 'it' : 'them'} instead
            </Button>
          </section>
        )}
        {missing.length === 0 ? (
          <p className="text-sm">Nothing is missing any more.</p>
        ) : (
          <ul aria-label="Missing" className="divide-y divide-seam rounded-xl border border-seam bg-white">
            {shown.map((source) => (
              <li key={source.id} className="px-3 py-2 text-sm">
                <p className="truncate font-semibold">{source.name}</p>
                <p className="text-soft">
                  {source.channels === 1 ? 'mono' : 'stereo'}, {showTime(source.frames, source.sampleRate)}
                  {source.origin &&
                    `; from “${source.origin.fileName}”, ${source.origin.sampleRate} Hz, ${source.origin.format}`}
                </p>
              </li>
            ))}
          </ul>
        )}
      </div>
    </Panel>
  )
}

function foundWords({ found, standIns, others, refused }: SearchOutcome): string {
  const words = [
    found.length ? `Found: ${found.map((s) => `“${s.name}”`).join(', ')}.` : '',
    !found.length && !standIns.length ? 'None of the missing sounds is in these files.' : '',
    others.length && (found.length || standIns.length)
      ? `${counted(others.length, 'other file')} held nothing that is missing.`
      : '',
    ...refused.map((r) => `“${r.name}” ${r.message}`),
  ]
  const text = words.filter(Boolean).join(' ')
  return text.charAt(0).toUpperCase() + text.slice(1)
}
