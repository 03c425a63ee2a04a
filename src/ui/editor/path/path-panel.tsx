import { least, most } from '../../../core/units/extremes'
import clsx from 'clsx'
import { memo, useMemo, useRef } from 'react'
import type { Region, Session, Track } from '../../../core/model/session'
import { gainToDb } from '../../../core/units/decibel'
import { showDb, showLength } from '../../../core/units/typed'
import { isAutomated, isBypassed, laneKeysOf, type LaneRef } from '../../../core/edit'
import { parameterOf, stageParameters, type Parameter } from '../../../core/model/parameters'
import { getPlayer } from '../../../store/playback'
import { beadOf, type Bead } from '../../../store/beads'
import { current } from '../../../store/current'
import { beadPicked } from '../../../store/view-slice'
import { threadText } from '../../look/colours'
import { showText, useAppDispatch, useAppSelector, useFrame } from '../../parts/hooks'
import { usePathSubject } from '../parts/path-subject'
import { useLiveValue } from '../parts/use-live-value'

interface Stage {
  bead: Bead
  name: string
  place: string
  value: string
  about: string
  /** Of a parameter: the lane that moves it. */
  lane?: LaneRef
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
  const lane =
    laneKeysOf(session, trackId).find((key) => parameterOf(key).shownAt === parameter.key) ?? parameter.key
  return {
    ...words,
    bead: beadOf(trackId, parameter.key),
    value: parameter.value?.show(parameter.value.read(track ?? session.mix)) ?? '',
    lane: { kind: 'lane', trackId, lane },
  }
}

/** The stages that the sound of a track passes, in order. */
function stagesOf(session: Session, track: Track, regions: readonly Region[]): Stage[] {
  return [
    {
      bead: 'clip-gain',
      name: 'Clip gain',
      place: 'of the region',
      value: regions.length ? spanDb(regions.map((r) => r.clipGainDb)) : '—',
      about:
        'Shaping here changes the level of regions before anything else: what comes after, a compressor for instance, hears the change.',
    },
    {
      bead: 'gain-thread',
      name: 'Gain thread',
      place: 'inside it',
      value: threadWords(session, regions),
      about:
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
    ...stageParameters().map((parameter) => parameterStage(session, track, parameter)),
    ...stageParameters()
      .filter((parameter) => parameter.actsOn(session.mix))
      .map((parameter) => parameterStage(session, null, parameter)),
  ]
}

/**
 * The signal path of the selected track as a thread with a bead for every stage; the picked bead is what keys
 * and fields shape.
 */
export const PathPanel = memo(function PathPanel() {
  const { session, track, regions } = usePathSubject()
  const dispatch = useAppDispatch()
  const bead = useAppSelector((s) => current(s).bead)
  if (!session || !track)
    return (
      <aside
        className="apart w-64 shrink-0 border-l border-seam bg-cloth p-4 text-sm text-soft max-[1100px]:w-56"
        aria-label="Path"
      >
        The path of a track’s sound is shown here once there is a track.
      </aside>
    )
  const stages = stagesOf(session, track, regions)
  return (
    <aside
      className="apart flex w-64 shrink-0 flex-col overflow-auto border-l border-seam bg-cloth px-3 py-3 max-[1100px]:w-56"
      aria-label="Path"
    >
      <h2
        className="shrink-0 truncate px-1 text-sm font-bold"
        title="The way of the track’s sound, from its regions to the mix. Each stage is a bead; the picked bead is what your gestures shape."
      >
        Path of “{track.name}”
      </h2>
      <ol className="relative mt-2 before:absolute before:top-4 before:bottom-4 before:left-[0.95rem] before:border-l-2 before:border-dashed before:border-walnut/70">
        {stages.map((stage) => (
          <li key={stage.bead}>
            <button
              type="button"
              aria-pressed={stage.bead === bead}
              onClick={() => dispatch(beadPicked(stage.bead))}
              className={clsx(
                'relative flex h-8 w-full items-center gap-2 rounded-lg border py-1 pr-2 pl-8 text-left',
                stage.bead === bead ? 'border-oak bg-linen' : 'border-transparent hover:bg-linen/60',
              )}
            >
              <span
                className={clsx(
                  'absolute left-2.5 h-3 w-3 rotate-45 border-2 border-walnut',
                  stage.bead === bead ? 'bg-walnut' : 'bg-cloth',
                )}
                aria-hidden
              />
              <span className="min-w-0 flex-1 truncate text-sm font-medium">
                {stage.name} <span className="text-xs font-normal text-soft">{stage.place}</span>
              </span>
              <StageValue session={session} stage={stage} />
            </button>
          </li>
        ))}
      </ol>
      <p className="mt-3 border-t border-seam px-1 pt-3 text-sm leading-snug text-soft">
        {stages.find((s) => s.bead === bead)?.about}
      </p>
      <Peaks trackIndex={session.trackIds.indexOf(track.id)} trackName={track.name} />
    </aside>
  )
})

/** A stage's value; where a lane moves it, the one at the playhead. */
function StageValue({ session, stage }: { session: Session; stage: Stage }) {
  const { trackId, lane } = stage.lane ?? {}
  const ref = useMemo(
    (): LaneRef | null =>
      trackId === undefined || lane === undefined ? null : { kind: 'lane', trackId, lane },
    [trackId, lane],
  )
  const automated = ref !== null && isAutomated(session, ref)
  const bypassed = ref !== null && isBypassed(session, ref)
  const live = useLiveValue(automated ? ref : null)
  // Elements of their own: the text of the first is written with every frame, past React.
  return automated ? (
    <span
      key="live"
      ref={live}
      title="At the playhead"
      className={`shrink-0 font-mono text-xs font-semibold ${threadText[parameterOf(ref.lane).dye]}`}
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

/** Highest peaks since playing began, of the track and of the mix. */
function Peaks({ trackIndex, trackName }: { trackIndex: number; trackName: string }) {
  const playing = useAppSelector((s) => s.transport.playing)
  const held = useRef({ playing: false, track: 0, mix: 0, index: trackIndex })
  const track = useRef<HTMLElement>(null)
  const mix = useRef<HTMLElement>(null)
  useFrame(() => {
    const h = held.current
    if ((playing && !h.playing) || h.index !== trackIndex) [h.track, h.mix] = [0, 0]
    h.playing = playing
    h.index = trackIndex
    const levels = getPlayer()?.meters()
    if (levels) {
      h.mix = Math.max(h.mix, levels[0]!, levels[1]!)
      h.track = Math.max(h.track, levels[(trackIndex + 1) * 2] ?? 0, levels[(trackIndex + 1) * 2 + 1] ?? 0)
    }
    for (const [element, level] of [
      [track.current, h.track],
      [mix.current, h.mix],
    ] as const) {
      if (!element) continue
      const text = level === 0 ? '—' : showDb(Math.round(gainToDb(level) * 10) / 10).replace(' dB', ' dBFS')
      showText(element, text)
      element.classList.toggle('text-fault', level > 1)
    }
  })
  return (
    <dl className="mt-auto grid [@media(max-height:760px)]:hidden grid-cols-[1fr_auto] gap-y-1 px-1 pt-3 text-sm">
      <dt className="col-span-2 text-xs text-soft">Highest peak since play</dt>
      <dt className="truncate">{trackName}</dt>
      <dd ref={track} className="font-mono text-xs leading-5">
        —
      </dd>
      <dt>Mix</dt>
      <dd ref={mix} className="font-mono text-xs leading-5">
        —
      </dd>
    </dl>
  )
}
