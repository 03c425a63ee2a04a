import { isBus, rowIds, rowOf } from '../../../core/model/strips'
import { least, most } from '../../../core/units/extremes'
import clsx from 'clsx'
import { ChevronDown, ChevronUp } from 'lucide-react'
import { Fragment, memo, useEffect, useMemo, useRef } from 'react'
import { insertKindOf } from '../../../core/model/inserts/insert-kinds'
import { levelWords } from '../../../core/model/inserts/level-words'
import { TO_MIX, type Region, type Session, type Track } from '../../../core/model/session'
import { stageId, type ProbedStage } from '../../../core/render'
import { showDb, showLength } from '../../../core/units/typed'
import { insertOf, isAutomated, isBypassed, stripOf, type LaneRef } from '../../../core/edit'
import { parameterOf, parametersOf, stageParameters, type Parameter } from '../../../core/model/parameters'
import { beadOf, parameterOfBead, type Bead } from '../../../store/beads'
import { current } from '../../../store/current'
import { beadPicked, dialogShown, pathFolded, type InsertRef } from '../../../store/view'
import { threadText } from '../../look/colours'
import { useAppDispatch, useAppSelector, useMedia } from '../../parts/hooks'
import { OneStop } from '../../parts/commands/one-stop'
import { slotOfWatched, watchedPlaces, type Watched } from '../parts/watch/watched'
import { usePathSubject } from '../parts/path-subject'
import { useLiveValue } from '../parts/fields/use-live-value'
import { BeadLevel } from './bead-level'
import { InsertBeads, usePathWatch } from './insert-beads'
import { ListenHere } from './listen-here'
import { Level, onThread, Station } from './path-parts'
import { TrimStation } from './trim-station'

interface Stage {
  bead: Bead
  name: string
  place: string
  value: string
  about: string
  /** Of a parameter: the lanes that move it. */
  lanes?: readonly LaneRef[]
}

/** A value that several regions share, or the span of theirs. */
export function spanDb(values: readonly number[]): string {
  const [low, high] = [least(values, Number), most(values, Number)]
  return low === high ? showDb(low) : `${showDb(low).replace(' dB', '')} … ${showDb(high)}`
}

function fadesWords(regions: readonly Region[], rate: number): string {
  if (regions.length !== 1) return regions.length ? `${regions.length} regions` : '—'
  const [{ fadeIn, fadeOut }] = regions as [Region]
  const parts = [
    fadeIn && `in ${showLength(fadeIn.length, rate)}`,
    fadeOut && `out ${showLength(fadeOut.length, rate)}`,
  ].filter(Boolean)
  return parts.length ? parts.join(' · ') : 'none'
}

function threadWords(session: Session, regions: readonly Region[]): string {
  const counts = regions.map((r) =>
    r.gainThreadId === null ? 0 : session.gainThreads[r.gainThreadId]!.knots.length,
  )
  const total = counts.reduce((a, b) => a + b, 0)
  return regions.length === 0 ? '—' : total === 0 ? 'no knots' : `${total} ${total === 1 ? 'knot' : 'knots'}`
}

/** A parameter of a track, or with null of the mix, as a stage. */
function parameterStage(session: Session, track: Track | null, parameter: Parameter): Stage {
  const trackId = track?.id ?? null
  const words = track ? parameter.path.track(track) : parameter.path.mix
  const strip = track ?? session.mix
  // A pair of channels has a pan for each.
  const shown = parametersOf(strip).filter((p) => p.shownAt === parameter.key)
  const all = shown.length ? shown : [parameter]
  const about =
    parameter.stage === 'volume' ? `${levelWords(session, trackId, 'after')} ${words.about}` : words.about
  return {
    ...words,
    about,
    bead: beadOf(trackId, parameter.key),
    value: all
      .map((p) => (p.value ? p.value.show(p.value.read(strip)) : p.scale.show(p.laneDefault(strip))))
      .join(' / '),
    lanes: all.map((p): LaneRef => ({ kind: 'lane', trackId, lane: p.key })),
  }
}

/** The stages that the sound of a track passes, in order. */
function stagesOf(session: Session, track: Track, regions: readonly Region[]): Stage[] {
  const ofRegions: Stage[] = [
    {
      bead: 'clip-gain',
      name: 'Clip gain',
      place: 'of the region',
      value: regions.length ? spanDb(regions.map((r) => r.clipGainDb)) : '—',
      about: levelWords(session, track.id, 'before'),
    },
    {
      bead: 'gain-thread',
      name: 'Gain thread',
      place: 'inside it',
      value: threadWords(session, regions),
      about:
        `${levelWords(session, track.id, 'before')} ` +
        'Level inside a region: double-click adds a knot, drag knots and stretches. Hold P and sweep ' +
        'over a word to raise or lower it. Linked copies follow.',
    },
    {
      bead: 'fades',
      name: 'Fades',
      place: 'of the region',
      value: fadesWords(regions, session.sampleRate),
      about: 'Fades shape how a region begins and ends. Drag the round handles at its upper corners.',
    },
  ]
  return [
    // A bus has no regions.
    ...(isBus(session, track.id) ? [] : ofRegions),
    ...stageParameters().map((parameter) => parameterStage(session, track, parameter)),
    ...stageParameters()
      .filter((parameter) => parameter.actsOn(session.mix))
      .map((parameter) => parameterStage(session, null, parameter)),
  ]
}

/** Where the level of a stage is watched. */
function placeOf(track: Track, bead: Bead): Watched {
  const at = parameterOfBead(bead)
  return {
    stripId: at?.mix ? null : track.id,
    insertId: stageId((at?.parameter.key ?? bead) as ProbedStage),
  }
}

/** How many of the stages belong to the track: the others are the mix's. */
const ofTrack = (stages: readonly Stage[]) => stages.findIndex((s) => parameterOfBead(s.bead)?.mix)

/**
 * The signal path of the leading track: it flows from left to right as a thread with a bead for every stage. The picked
 * bead is what keys and fields shape; the sentence beside the thread says what that does. Folds to one line.
 */
export const PathPanel = memo(function PathPanel() {
  const { session, track, regions: selected } = usePathSubject()
  const dispatch = useAppDispatch()
  const bead = useAppSelector((s) => (current(s).bench.kind === 'insert' ? null : current(s).bead))
  const picked = useAppSelector(({ selection: { lead } }) => (lead.kind === 'insert' ? lead.ref : null))
  // A low window has room for one line.
  const low = useMedia('(max-height: 520px)')
  const chosen = useAppSelector((s) => s.preferences.pathFolded)
  const folded = chosen || low
  const list = useRef<HTMLDivElement>(null)
  // A bead that is picked elsewhere, by a key or a press on its value, comes into view.
  useEffect(() => {
    list.current
      ?.querySelector('[aria-pressed="true"]')
      ?.scrollIntoView({ block: 'nearest', inline: 'nearest' })
  }, [bead, folded, picked?.stripId, picked?.insertId])
  const watched = useMemo(() => (session && track ? watchedPlaces(session, track) : []), [session, track])
  usePathWatch(watched, picked)
  if (!session || !track) return null
  // Regions of other tracks may be selected, too: this is the way of one.
  const regions = selected.filter((r) => r.trackId === track.id)
  const stages = stagesOf(session, track, regions)
  const mixFrom = ofTrack(stages)
  const about = picked ? insertWords(session, picked) : stages.find((s) => s.bead === bead)?.about
  const insertsAt = stages.findIndex((s) => parameterOfBead(s.bead))
  const row = rowIds(session).indexOf(track.id)
  const beads = { session, track, folded, picked, watched }
  return (
    <aside
      className={clsx(
        'apart flex shrink-0 items-stretch border-t border-seam bg-cloth select-none',
        folded ? 'h-7' : 'h-15',
      )}
      aria-label="Path"
    >
      <OneStop area="path" className="flex min-w-0 flex-1 items-stretch">
        <div className="flex w-52 shrink-0 flex-col justify-center border-r border-seam pr-1.5 pl-3">
          <div className="flex items-center gap-1">
            <h2
              className="min-w-0 flex-1 truncate text-sm leading-6 font-bold"
              title="The way of the track’s sound, from its regions to the mix. Each stage is a bead; the picked bead is what your gestures shape."
            >
              Path of “{track.name}”
            </h2>
            <button
              type="button"
              aria-label={folded ? 'Unfold the Path' : 'Fold the Path to one line'}
              title={folded ? 'Unfold the Path' : 'Fold the Path to one line'}
              aria-expanded={!folded}
              onClick={() => dispatch(pathFolded(!folded))}
              className="flex h-6 w-6 shrink-0 items-center justify-center rounded-md text-soft hover:bg-fold hover:text-ink"
            >
              {folded ? <ChevronUp size={15} /> : <ChevronDown size={15} />}
            </button>
          </div>
          {!folded && <ListenHere />}
        </div>
        <div
          role="group"
          ref={list}
          aria-label={`Stages of ${track.name}`}
          className="flex min-w-0 flex-1 scroll-px-6 items-stretch overflow-x-auto overflow-y-hidden pl-1 [scrollbar-width:thin]"
        >
          {stages.map((stage, i) => (
            <Fragment key={stage.bead}>
              {i === insertsAt && (
                <>
                  <TrimStation
                    track={track}
                    folded={folded}
                    slot={slotOfWatched(watched, { stripId: track.id, insertId: stageId('trim') })}
                  />
                  <InsertBeads {...beads} stripId={track.id} chain="inserts" />
                </>
              )}
              {i === mixFrom && (
                <>
                  <Level slot={row + 1} name={track.name} folded={folded} />
                  <Station
                    name="Ways"
                    value={waysWords(session, track)}
                    title={`Where ${track.name} leads: its output and its sends`}
                    folded={folded}
                    onClick={() => dispatch(dialogShown('strip'))}
                  />
                  <InsertBeads {...beads} stripId={null} chain="inserts" />
                </>
              )}
              <button
                type="button"
                aria-pressed={stage.bead === bead}
                data-lead={stage.bead === bead || undefined}
                title={`${stage.name} ${stage.place}`}
                onClick={() => dispatch(beadPicked(stage.bead))}
                className={clsx('group/bead', onThread(folded))}
              >
                <span
                  className={clsx(
                    'relative flex items-center gap-1.5 rounded-md border py-px pr-2 pl-1.5 text-sm leading-5 font-medium whitespace-nowrap',
                    stage.bead === bead
                      ? 'border-oak bg-linen'
                      : 'border-transparent bg-cloth group-hover/bead:bg-linen',
                  )}
                >
                  <span
                    className={clsx(
                      'h-2.5 w-2.5 rotate-45 border-2 border-walnut',
                      stage.bead === bead ? 'bg-walnut' : 'bg-cloth',
                    )}
                    aria-hidden
                  />
                  {stage.name}
                  <span className="sr-only"> {stage.place}</span>
                </span>
                {!folded && (
                  <>
                    <BeadLevel slot={slotOfWatched(watched, placeOf(track, stage.bead))} name={stage.name} />
                    <span className="relative flex h-4 items-center pl-6">
                      <StageValue session={session} stage={stage} />
                    </span>
                  </>
                )}
              </button>
            </Fragment>
          ))}
          <InsertBeads {...beads} stripId={null} chain="lastInserts" />
          <Level slot={0} name="the mix" folded={folded} />
        </div>
        {!folded && (
          <p className="flex w-68 shrink-0 items-center border-l border-seam px-3 text-xs leading-[1.05rem] text-soft max-[900px]:hidden">
            <span className="line-clamp-3" title={about}>
              {about}
            </span>
          </p>
        )}
      </OneStop>
    </aside>
  )
})

/** What an insert does, and what that has to do with level, in two sentences. */
function insertWords(session: Session, { stripId, insertId }: InsertRef): string {
  const insert = insertOf(session, stripId, insertId)
  if (!insert) return ''
  const { about, hearsLevel } = insertKindOf(insert.kind)
  const steers = insert.key ? rowOf(session, insert.key)?.name : undefined
  return steers
    ? `${about} It listens to “${steers}”: the level of what passes it does not matter to it.`
    : hearsLevel
      ? `${about} Level changed before it changes tone and density; after it, only level.`
      : about
}

/** Where a strip leads, in a few words. */
function waysWords(session: Session, { output, sends }: Track): string {
  const to = output === TO_MIX ? 'mix' : (session.buses[output]?.name ?? '')
  return sends.length ? `${to}, ${sends.length} ${sends.length === 1 ? 'send' : 'sends'}` : to
}

/** A stage's value; where a lane moves it, the one at the playhead. */
function StageValue({ session, stage }: { session: Session; stage: Stage }) {
  const lanes = stage.lanes ?? []
  const [first] = lanes
  const automated = lanes.some((ref) => isAutomated(session, ref))
  const bypassed = lanes.some((ref) => isBypassed(session, ref))
  const live = useLiveValue(automated ? lanes : [])
  // Elements of their own: the text of the first is written with every frame, past React.
  return automated && first ? (
    <span
      key="live"
      ref={live}
      title="At the playhead"
      className={`shrink-0 font-mono text-xs font-semibold ${threadText[parameterOf(stripOf(session, first.trackId)!, first.lane).dye]}`}
    />
  ) : (
    <span key="still" className="flex shrink-0 items-center gap-1 font-mono text-xs">
      {bypassed && (
        <span
          title="Its lane is bypassed: the static value holds"
          className="rounded border border-dashed border-walnut px-1 font-sans text-2xs"
        >
          bypassed
        </span>
      )}
      {stage.value}
    </span>
  )
}
