import { rowIds } from '../../core/model/strips'
import { useEffect, type ReactNode } from 'react'
import { useDropzone } from 'react-dropzone'
import { useStore } from 'react-redux'
import { Link, useNavigate, useParams } from 'react-router'
import { sessionLength } from '../../core/model/queries'
import type { Session } from '../../core/model/session'
import { importInto } from '../../store/opening/new-session'
import { getPlayer } from '../../store/playback/playback'
import { shownSession } from '../../store/selectors'
import { viewChanged } from '../../store/view'
import { sayWhyNot } from '../../store/why-not'
import type { RootState } from '../../store/store'
import { Button } from '../parts/button'
import { useKeyWords } from '../parts/commands/use-key-words'
import { ground } from '../look/ground'
import { useAppDispatch, useAppSelector, useObservable } from '../parts/hooks'
import { returnKeysToEditor } from '../parts/commands/widget-keys'
import { Notices } from '../parts/messages/notices'
import { sameSessionLook } from '../parts/rendering/same-look'
import { OpeningPage } from '../parts/opening/opening-page'
import { sortedFiles } from '../parts/import/sorted-files'
import { toast } from '../parts/messages/toast'
import { NOTHING_DROPPED, sayOutcome } from '../parts/import/import-outcome'
import { askImport } from '../parts/import/import-question'
import { openCopy } from '../parts/copies/session-copy'
import { useSession } from '../parts/opening/use-session'
import { loadLaterBenches } from './bench/bench'
import { BenchRoom } from './bench/bench-room'
import { EmptyBench, useBenchEmpty, useRowKeptInSight } from './bench/empty-bench'
import { useCommandRuns } from './commands'
import { CommandsProvider, type CommandRuns } from './parts/command-context'
import { lazyPart } from '../parts/opening/lazy-part'
import { Dialogs } from './dialogs/dialogs'
import { JoinOffer } from './dialogs/join-offer'
import { EditorKeys } from './keyboard'
import { Announcer } from './parts/watch/announcer'
import { MixMeter, TrackMeters } from './meters/meters'
import { Overview } from './overview/overview'
import { OverloadWatch } from './parts/watch/overload-watch'
import { PathPanel } from './path/path-panel'
import { PicturesProvider, useNewPictures } from './parts/watch/use-pictures'
import { Rail } from './rail/rail'
import { SeamWatch } from './parts/watch/seam-watch'
import { boundedView, rowAt, showsWhole, wholeFramesPerPixel, xToFrame } from './drawing/geometry'
import { Timeline } from './timeline/timeline'
import { TopBar } from './top-bar/top-bar'

const HintBar = lazyPart<{ session: Session }>(async () => (await import('./hint-bar')).HintBar)
const MeterPanel = lazyPart(async () => (await import('./meter-panel/meter-panel')).MeterPanel)

const TRACK_METERS = <TrackMeters />
const MIX_METER = <MixMeter className="block" />

/** The editor of one session. */
export function EditorPage() {
  const { id } = useParams()
  const opening = useSession(id!)
  // While only the knots of lanes change, the editor stays as it is; what shows them follows by itself.
  const session = useAppSelector(
    shownSession,
    (a, b) => a === b || (a !== null && b !== null && sameSessionLook(a, b)),
  )
  const soundVersion = useAppSelector((s) => s.session.soundVersion)
  const shownGround = useObservable(ground)
  if (opening.state !== 'open' || !session) return <OpeningPage opening={opening} />
  // On another ground every picture is another one.
  return <Editor key={`${session.id}/${soundVersion}/${shownGround}`} session={session} />
}

/** The commands of the editor, which need its pictures. */
function WithCommands({ children }: { children(runs: CommandRuns): ReactNode }) {
  const runs = useCommandRuns()
  return <CommandsProvider value={runs}>{children(runs)}</CommandsProvider>
}

function Editor({ session }: { session: Session }) {
  useEffect(loadLaterBenches, [])
  const keys = useKeyWords()
  const dispatch = useAppDispatch()
  const store = useStore<RootState>()
  const pictures = useNewPictures()
  const navigate = useNavigate()
  const bench = useAppSelector((s) => s.preferences.bench)
  const meters = useAppSelector((s) => s.preferences.meters)
  const readOnly = useAppSelector((s) => s.session.readOnly !== null)
  const benchEmpty = useBenchEmpty()
  useRowKeptInSight(benchEmpty)

  /** Takes what was dropped or chosen: a copy of a session is opened, sounds are imported. */
  const take = async (given: File[], dropped: { at: number; onTrackId: string | undefined } | null) => {
    const { copies, sounds: files } = await sortedFiles(given)
    if (files.length > 0) {
      if (readOnly) return sayWhyNot('Nothing can be imported here: the session is edited in another tab.')
      await importHere(files, dropped)
    }
    let last: string | null = null
    for (const copy of copies) last = (await dispatch(openCopy(copy))) ?? last
    if (last !== null) void navigate(`/session/${last}`)
  }
  const importHere = async (files: File[], dropped: { at: number; onTrackId: string | undefined } | null) => {
    const { view } = store.getState().navigation
    const choice = await askImport(files, {
      kind: 'open',
      sampleRate: session.sampleRate,
      playhead: Math.round(getPlayer()?.position() ?? 0),
      dropped,
      empty: rowIds(session).length === 0,
    })
    if (!choice) return
    const whole = showsWhole(view, sessionLength(session))
    const { placement } = choice
    sayOutcome(
      await dispatch(importInto(files, placement)),
      () => null,
      (doubtful) =>
        void dispatch(importInto(doubtful, placement, true)).then((outcome) => sayOutcome(outcome)),
    )
    // Who saw everything sees everything again.
    const now = shownSession(store.getState())
    if (!whole || !now || now.id !== session.id || rowIds(now).length === 0) return
    dispatch(
      viewChanged(
        boundedView(
          {
            ...store.getState().navigation.view,
            left: 0,
            framesPerPixel: wholeFramesPerPixel(sessionLength(now), view.width),
          },
          sessionLength(now),
          rowIds(now).length,
        ),
      ),
    )
  }
  const drop = useDropzone({
    noClick: true,
    noKeyboard: true,
    onDrop(files, _rejected, event) {
      if (files.length === 0) return toast({ text: NOTHING_DROPPED })
      const area = document.querySelector('[data-testid="timeline"]')?.getBoundingClientRect()
      const { view } = store.getState().navigation
      const pointer = 'clientX' in event ? (event as unknown as DragEvent) : null
      const inside =
        pointer &&
        area &&
        pointer.clientX >= area.left &&
        pointer.clientX < area.right &&
        pointer.clientY >= area.top &&
        pointer.clientY < area.bottom
      // The first files of an empty session begin at its start, wherever they are dropped.
      const dropped =
        inside && session.trackIds.length
          ? {
              at: Math.max(0, Math.round(xToFrame(view, pointer.clientX - area.left))),
              onTrackId: session.trackIds[rowAt(view, pointer.clientY - area.top)],
            }
          : null
      void take(files, dropped)
    },
  })
  return (
    <PicturesProvider value={pictures}>
      <WithCommands>
        {(runs) => (
          <SeamWatch session={session}>
            <OverloadWatch>
              <div
                {...drop.getRootProps()}
                {...returnKeysToEditor}
                data-read-only={readOnly || undefined}
                className="flex h-full flex-col"
              >
                <EditorKeys runs={runs} />
                <TopBar session={session} />
                <Notices />
                <main className="flex min-h-0 flex-1 flex-col">
                  <input {...drop.getInputProps()} aria-label="Import audio files" />
                  <Overview session={session} />
                  <div className="flex min-h-0 flex-1 flex-col">
                    <div className="flex min-h-40 flex-1 flex-col">
                      <div className="flex min-h-0 flex-1">
                        <fieldset disabled={readOnly} className="contents">
                          <Rail
                            session={session}
                            trackMeters={TRACK_METERS}
                            mixMeter={MIX_METER}
                            onImport={drop.open}
                          />
                        </fieldset>
                        <div className="relative flex min-w-0 flex-1">
                          <Timeline session={session} />
                          {session.trackIds.length === 0 && (
                            <div className="absolute inset-x-0 top-1/3 flex flex-col items-center gap-3 text-center">
                              <p className="text-lg font-semibold">Drop recordings here</p>
                              <p className="max-w-sm text-soft">
                                WAV, AIFF and FLAC of any depth and rate, mono or stereo, or whatever else
                                this browser decodes.
                              </p>
                              <div className="flex gap-2">
                                <Button kind="solid" disabled={readOnly} onClick={drop.open}>
                                  Import audio…
                                </Button>
                                <Button disabled={readOnly} onClick={() => runs['add-mono']()}>
                                  Add an empty track
                                </Button>
                              </div>
                              <p className="max-w-md text-sm text-soft">
                                {keys.in(
                                  'Then press a region to level it, drag its upper corners to fade it, and hold [hand-range] to mark a stretch.',
                                )}{' '}
                                The{' '}
                                <Link to="/help" className="underline">
                                  help
                                </Link>{' '}
                                goes through the whole job.
                              </p>
                            </div>
                          )}
                        </div>
                        {meters && <MeterPanel />}
                      </div>
                      <PathPanel />
                    </div>
                    {bench && !benchEmpty && <BenchRoom readOnly={readOnly} />}
                  </div>
                  {bench && benchEmpty && <EmptyBench />}
                </main>
                <div className="min-h-[33px] shrink-0 bg-cloth">
                  <HintBar session={session} />
                </div>
                {drop.isDragActive && (
                  <div className="pointer-events-none fixed inset-3 z-40 flex items-start justify-center rounded-3xl border-4 border-dashed border-oak bg-linen/40 pt-24 text-2xl font-bold">
                    <span className="rounded-xl bg-linen px-4 py-2">Drop to import at the pointer</span>
                  </div>
                )}
                <Dialogs />
                <Announcer />
                <JoinOffer session={session} />
              </div>
            </OverloadWatch>
          </SeamWatch>
        )}
      </WithCommands>
    </PicturesProvider>
  )
}
