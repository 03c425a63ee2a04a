import { rowOf } from '../../../core/model/strips'
import { memo } from 'react'
import { insertOf } from '../../../core/edit'
import { current } from '../../../store/current'
import { dialogShown } from '../../../store/view'
import type { Region, Session } from '../../../core/model/session'
import type { Bead } from '../../../store/beads'
import type { CommandId } from '../../parts/commands/commands'
import { Button } from '../../parts/button'
import { useCommands } from '../parts/command-context'
import { useAppDispatch, useAppFields, useAppSelector } from '../../parts/hooks'
import { useKeyWords } from '../../parts/commands/use-key-words'
import { FadeFields } from '../parts/fields/fade-fields'
import { useReductions } from '../parts/inserts/use-reductions'
import { usePathSubject } from '../parts/path-subject'
import { lazyPart } from '../../parts/opening/lazy-part'
import { BenchFrame } from './bench-frame'
import { ClipGainField } from './clip-gain-field'
import { RegionLevels } from './region-levels'
import { RegionView } from './region-view'
import { RegionTimes } from './time-fields'
import { ThreadFields } from './thread-fields'

// What the editor does not begin with is loaded right after it. That of inserts computes what processors do.
const laterBenches = () => import('./later-benches')
const CrossfadeView = lazyPart(async () => (await laterBenches()).CrossfadeView)
const RegionList = lazyPart(async () => (await laterBenches()).RegionList)
const StripBench = lazyPart(async () => (await laterBenches()).StripBench)
const InsertBench = lazyPart(async () => (await import('./inserts/insert-bench')).InsertBench)

/** Loads the benches that the editor does not begin with. */
export const loadLaterBenches = () =>
  void Promise.all(
    [CrossfadeView, RegionList, StripBench, InsertBench].map(({ preload }) => preload()),
  ).catch(() => undefined)

/**
 * The close-up at the bottom: shows what is current, large, with every value as a field. Its pictures follow
 * a drag at once, everything else a moment later.
 */
export const Bench = memo(function Bench() {
  const { session, regions } = usePathSubject()
  const subject = useAppFields((state) => current(state).bench)
  const bead = useAppSelector((state) => current(state).bead)
  const range = useAppSelector((s) => s.selection.range !== null)
  if (!session) return null
  if (subject.kind === 'crossfade' && session.crossfades[subject.id])
    return <CrossfadeView crossfadeId={subject.id} />
  if (subject.kind === 'insert' && insertOf(session, subject.ref.stripId, subject.ref.insertId))
    return <InsertBench session={session} subject={subject.ref} />
  if (subject.kind === 'strip' && (subject.trackId === null || rowOf(session, subject.trackId)))
    return <StripBench session={session} {...subject} />
  if (regions.length === 0) return range ? <RangeBench session={session} /> : null
  return <RegionBench session={session} regions={regions} bead={bead} />
})

/** The selected regions in the bench. */
function RegionBench({
  session,
  regions,
  bead,
}: {
  session: Session
  regions: readonly Region[]
  bead: Bead
}) {
  const dispatch = useAppDispatch()
  const keys = useKeyWords()
  const reductions = useReductions(session, regions.length === 1 ? regions[0]! : null)
  const single = regions.length === 1 ? regions[0]! : null
  return (
    <BenchFrame
      session={session}
      title={single ? single.name : `${regions.length} regions`}
      about={[single ? session.tracks[single.trackId]!.name : 'selected']}
      times={<RegionTimes session={session} regions={regions} />}
      wide={bead === 'fades'}
      measured={<RegionLevels session={session} regions={regions} />}
      picture={
        single ? (
          <RegionView regionId={single.id} threaded={bead === 'gain-thread'} reductions={reductions} />
        ) : (
          <RegionList session={session} regions={regions} />
        )
      }
    >
      {bead === 'gain-thread' ? (
        <ThreadFields
          thread={single ? { kind: 'region', regionId: single.id } : null}
          origin={single?.offset ?? 0}
          length={single?.length ?? 0}
        />
      ) : (
        <>
          {bead !== 'fades' && <ClipGainField regions={regions} />}
          <div className={bead === 'fades' ? 'flex gap-4' : 'flex gap-2'}>
            <FadeFields session={session} regions={regions} edge="in" full={bead === 'fades'} />
            <FadeFields session={session} regions={regions} edge="out" full={bead === 'fades'} />
          </div>
          {bead === 'fades' && (
            <div className="flex gap-2">
              <Button
                className="flex-1"
                title={`Fades of all selected regions${keys.inBrackets('fades')}`}
                onClick={() => void dispatch(dialogShown('fades'))}
              >
                Fades…
              </Button>
              <Button
                className="flex-1"
                title={`Crossfades at the joins of the selected regions${keys.inBrackets('crossfades')}`}
                disabled={regions.length < 2}
                onClick={() => void dispatch(dialogShown('crossfades'))}
              >
                Crossfades…
              </Button>
            </div>
          )}
        </>
      )}
    </BenchFrame>
  )
}

/** The bench while nothing but a range of time is marked: its times, and what can be done with it. */
function RangeBench({ session }: { session: Session }) {
  const runs = useCommands()
  const button = (id: CommandId, text: string) => (
    <Button className="h-8 justify-start" onClick={() => runs[id]()}>
      {text}
    </Button>
  )
  return (
    <BenchFrame
      session={session}
      title="Marked range"
      about={['on all tracks']}
      picture={
        <p className="flex h-full items-center justify-center px-8 text-center text-soft">
          Press a region or a lane, and what is typed here is about its part in the range.
        </p>
      }
    >
      {button('loop', 'Loop it')}
      {button('split', 'Split regions at its ends')}
      {button('render', 'Render in place')}
      {button('render-after', 'Render in place, after inserts')}
      {button('export', 'Export…')}
    </BenchFrame>
  )
}
