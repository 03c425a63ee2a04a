import { RotateCcw } from 'lucide-react'
import { useVirtualizer } from '@tanstack/react-virtual'
import { Fragment, memo, useMemo, useRef, useState, type ReactNode } from 'react'
import {
  changeClipGain,
  fadeMix,
  laneKeysOf,
  lanesWithKnots,
  resetClipGain,
  setClipGain,
  setLanesBypassed,
  setMixPan,
  setMixVolume,
  setPanMode,
  setTrack,
  threadWords,
  type LaneKey,
} from '../../../core/edit'
import { sessionLength } from '../../../core/model/queries'
import { levelOf, showLevel, type LevelKind, type RegionMeasure } from '../../../core/measure/region-meter'
import type { Region, Session, Track } from '../../../core/model/session'
import { CLIP_GAIN_DB, FADER_DB } from '../../../core/units/decibel'
import {
  parseLength,
  parseLevel,
  parseLevelOrChange,
  parsePan,
  showDb,
  showLength,
  showPan,
  showTime,
} from '../../../core/units/typed'
import { commit } from '../../../store/edits'
import { splitHere } from '../../../store/region-actions'
import { rangeInRegion, shiftRange } from '../../../store/thread-actions'
import { dialogShown } from '../../../store/view-slice'
import { Button } from '../../parts/button'
import { useAppDispatch, useAppFields, useAppSelector } from '../../parts/hooks'
import { ValueField } from '../../parts/value-field'
import { BenchCrossfade } from './crossfade-view'
import { BenchLane, useLaneChoice } from './lane-view'
import { BenchPicture } from './region-view'
import { AutomationFields } from './automation-fields'
import { nudgedDb, nudgedPan } from '../../../core/units/nudge'
import { FadeFields } from '../parts/fade-fields'
import { useFollowed } from '../parts/path-subject'
import { useMeasured } from '../parts/use-measured'
import { Choice, Tick } from '../../parts/panel'
import { ThreadFields } from './thread-fields'
import { WeaveFields } from './weave-fields'

/** The close-up at the bottom: what is selected, large, with every value as a field. The pictures in it follow a hand at once, all else a moment later. */
export const Bench = memo(function Bench() {
  const { session, track, regions } = useFollowed()
  const { bead, crossfadeId, worked } = useAppFields(({ view: { bead, crossfadeId, knots, lastWeave } }) => ({
    bead,
    crossfadeId,
    worked: knots?.ref ?? lastWeave?.ref ?? null,
  }))
  const dispatch = useAppDispatch()
  if (!session) return null
  if (session.crossfades[crossfadeId ?? '']) return <BenchCrossfade crossfadeId={crossfadeId!} />
  // A lane opened below its track is here while its knots are selected, whatever bead is picked.
  const opened =
    worked?.kind === 'lane' && worked.trackId !== null && bead !== 'volume' && bead !== 'pan'
      ? session.tracks[worked.trackId]
      : undefined
  if (opened && worked?.kind === 'lane') {
    const own = worked.lane === 'volume' ? 'volume' : 'pan'
    return (
      <LaneFrame
        session={session}
        bead={own}
        lane={worked.lane}
        trackId={opened.id}
        title={opened.name}
        about={[opened.channels === 1 ? 'mono track' : 'stereo track']}
      >
        <TrackFields track={opened} bead={own} />
      </LaneFrame>
    )
  }
  if (bead === 'mix')
    return (
      <LaneFrame session={session} bead="volume" trackId={null} title="Mix" about={['all tracks added']}>
        <MixFields session={session} />
      </LaneFrame>
    )
  if (bead === 'mix-pan')
    return (
      <LaneFrame session={session} bead="pan" trackId={null} title="Mix" about={['all tracks added']}>
        <PanField
          name="mix-pan"
          label="Pan of the mix"
          pan={session.mix.pan ?? 0}
          onPan={(pan) => void dispatch(commit(setMixPan, { pan }))}
        />
      </LaneFrame>
    )
  if ((bead === 'volume' || bead === 'pan') && track)
    return (
      <LaneFrame
        session={session}
        bead={bead}
        trackId={track.id}
        title={track.name}
        about={[track.channels === 1 ? 'mono track' : 'stereo track']}
      >
        <TrackFields track={track} bead={bead} />
      </LaneFrame>
    )
  if (regions.length === 0) {
    return (
      <section
        aria-label="Bench"
        className="apart flex h-full items-center justify-center bg-linen p-6 text-center text-soft"
      >
        {track
          ? 'Select a region to see it here close up and to type its values. Shift adds more; a sweep over empty cloth takes all it touches.'
          : 'Import audio to begin: drop files anywhere here, or press Import above the tracks.'}
      </section>
    )
  }
  const single = regions.length === 1 ? regions[0]! : null
  return (
    <Frame
      title={single ? single.name : `${regions.length} regions`}
      about={
        single
          ? [
              session.tracks[single.trackId]!.name,
              `at ${showTime(single.start, session.sampleRate)}`,
              `${showLength(single.length, session.sampleRate)} long`,
            ]
          : ['selected']
      }
      measured={<Measured session={session} regions={regions} />}
      picture={
        single ? (
          <BenchPicture regionId={single.id} threaded={bead === 'gain-thread'} />
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
          {bead !== 'fades' && <GainField regions={regions} />}
          <FadeFields session={session} regions={regions} edge="in" full={bead === 'fades'} />
          <FadeFields session={session} regions={regions} edge="out" full={bead === 'fades'} />
          {bead === 'fades' && (
            <div className="flex gap-2">
              <Button
                className="flex-1"
                title="Fades of all selected regions (Shift F)"
                onClick={() => void dispatch(dialogShown('fades'))}
              >
                Fades…
              </Button>
              <Button
                className="flex-1"
                title="Crossfades at the joins of the selected regions (Shift C)"
                disabled={regions.length < 2}
                onClick={() => void dispatch(dialogShown('crossfades'))}
              >
                Crossfades…
              </Button>
            </div>
          )}
        </>
      )}
    </Frame>
  )
})

/** A lane of a track or of the mix in the bench, with what can be done to it. */
function LaneFrame({
  session,
  trackId,
  bead,
  lane: given,
  title,
  about,
  children,
}: {
  session: Session
  trackId: string | null
  bead: 'volume' | 'pan'
  lane?: LaneKey
  title: string
  about: string[]
  children: ReactNode
}) {
  const dispatch = useAppDispatch()
  const weaving = useAppSelector((s) => s.view.hand === 'weave' || s.view.lastWeave !== null)
  const [chosen, setLane] = useLaneChoice(
    laneKeysOf(session, trackId).filter((key) => (key === 'volume') === (bead === 'volume')),
  )
  const lane = given ?? chosen
  const ref = { kind: 'lane' as const, trackId, lane }
  const lanes = trackId === null ? session.mix.lanes : session.tracks[trackId]!.lanes
  const has = (lanes[lane]?.knots.length ?? 0) > 0
  const allLanes = lanesWithKnots(session)
  const isBypassed = (l: (typeof allLanes)[number]) =>
    (l.trackId === null ? session.mix.lanes : session.tracks[l.trackId]!.lanes)[l.lane]!.bypassed
  const ownLanes = allLanes.filter((l) => l.trackId === trackId)
  const choices = laneKeysOf(session, trackId).filter((key) => key !== 'volume')
  return (
    <Frame
      title={title}
      about={[threadWords(session, ref).split(' of ')[0]!, ...about]}
      picture={<BenchLane trackId={trackId} lane={lane} />}
    >
      {bead === 'pan' && !given && choices.length > 1 && (
        <Choice
          label="Which channel"
          value={lane}
          onChange={setLane}
          options={[
            { value: 'panLeft', text: 'Left' },
            { value: 'panRight', text: 'Right' },
          ]}
        />
      )}
      {children}
      {has && (
        <Tick
          checked={lanes[lane]!.bypassed}
          onChange={(bypassed) => void dispatch(commit(setLanesBypassed, { lanes: [ref], bypassed }))}
        >
          Bypass this lane
        </Tick>
      )}
      {ownLanes.length > 1 && (
        <Tick
          checked={ownLanes.every(isBypassed)}
          onChange={(bypassed) => void dispatch(commit(setLanesBypassed, { lanes: ownLanes, bypassed }))}
        >
          Bypass all lanes of {trackId === null ? 'the mix' : 'this track'}
        </Tick>
      )}
      {allLanes.length > 1 && (
        <Tick
          checked={allLanes.every(isBypassed)}
          onChange={(bypassed) => void dispatch(commit(setLanesBypassed, { lanes: allLanes, bypassed }))}
        >
          Bypass all automation
        </Tick>
      )}
      {weaving && <WeaveFields session={session} />}
      {trackId !== null && lane === 'volume' && (
        <Button
          title="Lower this track while others sound (G)"
          onClick={() => void dispatch(dialogShown('give-way'))}
        >
          {lanes.volume?.giveWay ? 'Gives way: change, make anew…' : 'Give way…'}
        </Button>
      )}
      <ThreadFields thread={ref} origin={0} length={Math.max(sessionLength(session), 1)} />
      <AutomationFields session={session} />
      {!weaving && <WeaveFields session={session} />}
    </Frame>
  )
}

function Frame({
  title,
  about,
  measured,
  picture,
  children,
}: {
  title: string
  about: string[]
  measured?: ReactNode
  picture?: ReactNode
  children: ReactNode
}) {
  return (
    <section aria-label="Bench" className="apart flex h-full min-h-0 bg-linen">
      <div className="w-52 shrink-0 overflow-auto border-r border-seam px-4 py-3">
        <p className="text-xs text-soft">Bench</p>
        <h2 className="text-base leading-5 font-bold wrap-anywhere">{title}</h2>
        {about.map((line) => (
          <p key={line} className="text-sm text-soft">
            {line}
          </p>
        ))}
        {measured}
      </div>
      <div className="relative min-w-0 flex-1">{picture}</div>
      <div className="flex w-64 shrink-0 flex-col gap-2 overflow-auto border-l border-seam bg-cloth px-4 py-3 max-[1100px]:w-56">
        {children}
      </div>
    </section>
  )
}

const LINE = 28
const COLUMNS =
  'grid grid-cols-[minmax(6rem,1fr)_minmax(5rem,9rem)_5rem_5.5rem_5rem_6rem_7rem] items-center gap-x-3'

/** What is selected, a line each; only the lines in sight are made and measured. */
function RegionList({ session, regions }: { session: Session; regions: readonly Region[] }) {
  const box = useRef<HTMLDivElement>(null)
  const lines = useVirtualizer({
    count: regions.length,
    getScrollElement: () => box.current,
    estimateSize: () => LINE,
    overscan: 4,
  })
  const shown = lines.getVirtualItems()
  const seen = useMemo(() => shown.flatMap((line) => regions[line.index] ?? []), [shown, regions])
  const measures = useMeasured(session, seen)
  return (
    <div
      ref={box}
      className="absolute inset-0 overflow-auto px-4 py-2"
      role="table"
      aria-label="Selected regions"
      aria-rowcount={regions.length}
      tabIndex={0}
    >
      <div role="row" className={`${COLUMNS} text-xs text-soft`}>
        {['Region', 'Track', 'At', 'Length', 'Clip gain', 'Peak', 'Loudness'].map((h, i) => (
          <span key={h} role="columnheader" className={`py-1 ${i > 1 ? 'text-right' : ''}`}>
            {h}
          </span>
        ))}
      </div>
      <div className="relative" style={{ height: lines.getTotalSize() }}>
        {shown.map((line, i) => {
          const region = regions[line.index]
          return (
            region && (
              <div key={region.id} className="absolute inset-x-0" style={{ top: line.start, height: LINE }}>
                <RegionLine
                  region={region}
                  trackName={session.tracks[region.trackId]!.name}
                  rate={session.sampleRate}
                  measure={measures[i] ?? null}
                />
              </div>
            )
          )
        })}
      </div>
    </div>
  )
}

const RegionLine = memo(function RegionLine({
  region: r,
  trackName,
  rate,
  measure,
}: {
  region: Region
  trackName: string
  rate: number
  measure: RegionMeasure | null
}) {
  const level = (kind: LevelKind) => {
    const db = measure && levelOf(measure, kind, r.clipGainDb)
    return db === null ? '…' : Number.isFinite(db) ? showLevel(db, kind) : '—'
  }
  return (
    <div role="row" className={`${COLUMNS} h-full border-t border-fold text-sm`}>
      <span role="cell" className="truncate font-medium">
        {r.name}
      </span>
      <span role="cell" className="truncate text-soft">
        {trackName}
      </span>
      {[
        showTime(r.start, rate),
        showLength(r.length, rate),
        showDb(r.clipGainDb),
        level('peak'),
        level('loudness'),
      ].map((text, n) => (
        <span key={n} role="cell" className="text-right font-mono text-xs whitespace-nowrap">
          {text}
        </span>
      ))}
    </div>
  )
})

/** What the selected regions measure as they leave their gain stages. */
function Measured({ session, regions }: { session: Session; regions: readonly Region[] }) {
  const measures = useMeasured(session, regions)
  const [region, measure] = [regions[0], measures[0]]
  if (regions.length !== 1 || !region) return null
  const rows: [string, string, boolean][] = measure
    ? (['loudness', 'peak', 'true-peak'] as const).map((kind) => {
        const level = levelOf(measure, kind, region.clipGainDb)
        return [
          { loudness: 'Loudness', peak: 'Peak', 'true-peak': 'True peak' }[kind],
          kind === 'loudness' && !Number.isFinite(level) && measure.peak > 0
            ? 'under 0.4 s'
            : showLevel(level, kind),
          kind !== 'loudness' && level > 0,
        ]
      })
    : [['Loudness', '…', false]]
  return (
    <dl className="mt-2 grid grid-cols-[1fr_auto] gap-y-0.5 text-sm" aria-label="Measured">
      {rows.map(([name, text, over]) => (
        <Fragment key={name}>
          <dt className="text-soft">{name}</dt>
          <dd className={`font-mono text-xs leading-5 ${over ? 'font-bold text-madder' : ''}`}>{text}</dd>
        </Fragment>
      ))}
    </dl>
  )
}

/** Clip gain of one region or several. Several keep their distances, unless they are to be made all the same. */
function GainField({ regions }: { regions: readonly Region[] }) {
  const dispatch = useAppDispatch()
  const [same, setSame] = useState(false)
  const regionIds = regions.map((r) => r.id)
  const first = regions[0]!
  const several = regions.length > 1
  const differ = regions.some((r) => r.clipGainDb !== first.clipGainDb)
  const range = useAppSelector((s) => s.view.range)
  const inRange = regions.filter((r) => rangeInRegion(r, range))
  const take = (db: number | null, relative = false) =>
    void (relative
      ? dispatch(commit(changeClipGain, { regionIds, byDb: db! }))
      : same || !several
        ? dispatch(commit(setClipGain, { regionIds, db: db! }))
        : dispatch(commit(changeClipGain, { regionIds, byDb: db! - first.clipGainDb })))
  return (
    <div>
      <div className="flex items-end gap-2">
        <ValueField
          name="clip-gain"
          className="flex-1"
          label={several ? `Clip gain of “${first.name}”` : 'Clip gain'}
          shown={showDb(first.clipGainDb)}
          parse={(text) => parseLevelOrChange(text, CLIP_GAIN_DB, several)}
          onValue={take}
          onNudge={(direction, fine) =>
            void dispatch(commit(changeClipGain, { regionIds, byDb: direction * (fine ? 0.1 : 1) }))
          }
        />
        <Button
          aria-label={`Reset clip gain of ${regions.length === 1 ? first.name : `${regions.length} regions`} to 0 dB`}
          title="Back to 0 dB"
          disabled={regions.every((r) => r.clipGainDb === 0)}
          onClick={() => void dispatch(commit(resetClipGain, { regionIds }))}
        >
          <RotateCcw size={15} />0 dB
        </Button>
      </div>
      {several && (
        <label
          title="Tick to give all regions the typed value"
          className="mt-1 flex items-center gap-2 text-xs text-soft"
        >
          <input
            type="checkbox"
            checked={same}
            onChange={(e) => setSame(e.target.checked)}
            className="accent-oak"
          />
          {same
            ? 'Typed value for all'
            : differ
              ? 'Others keep their distance; +2 adds to all'
              : 'All move together; +2 adds to all'}
        </label>
      )}
      {inRange.length > 0 && (
        <div className="mt-2 flex items-end gap-2">
          <ValueField
            name="range-gain"
            className="flex-1"
            label="Gain in the range only"
            shown=""
            placeholder="−3 dB"
            parse={(text) => parseLevel(text, { min: -60, max: 40 })}
            onValue={(db) => dispatch(shiftRange(inRange, db!))}
          />
          <Button
            title="Split at the ends of the range instead, and level the piece (K)"
            onClick={() => dispatch(splitHere())}
          >
            Split
          </Button>
        </div>
      )}
      <div className="mt-2 flex gap-2">
        <Button
          className="flex-1"
          title="Match the level of what is selected (E)"
          onClick={() => void dispatch(dialogShown('match'))}
        >
          Match…
        </Button>
        <Button
          className="flex-1"
          title="Even out the phrases inside (Shift E)"
          onClick={() => void dispatch(dialogShown('even-out'))}
        >
          Even out…
        </Button>
      </div>
    </div>
  )
}

function TrackFields({ track, bead }: { track: Track; bead: 'volume' | 'pan' }) {
  const dispatch = useAppDispatch()
  const trackIds = [track.id]
  const volume = (volumeDb: number | null) =>
    void dispatch(commit(setTrack, { trackIds, change: { volumeDb } }))
  const pan = (value: number) => void dispatch(commit(setTrack, { trackIds, change: { pan: value } }))
  if (bead === 'volume')
    return (
      <LevelField name="volume" label="Fader, where no lane moves it" db={track.volumeDb} onDb={volume} />
    )
  return (
    <>
      {track.channels === 2 && (
        <Choice
          label="How the track is placed"
          value={track.panMode}
          onChange={(panMode) => void dispatch(commit(setPanMode, { trackId: track.id, panMode }))}
          options={[
            { value: 'balance', text: 'Balance' },
            { value: 'pair', text: 'Both channels' },
          ]}
        />
      )}
      <PanField name="pan" label="Pan" pan={track.pan} onPan={pan} />
    </>
  )
}

function MixFields({ session }: { session: Session }) {
  const dispatch = useAppDispatch()
  const context = { sampleRate: session.sampleRate, bpm: session.tempo[0]!.bpm }
  return (
    <>
      <LevelField
        name="mix"
        label="Volume of the mix"
        db={session.mix.volumeDb}
        onDb={(volumeDb) => void dispatch(commit(setMixVolume, { volumeDb }))}
      />
      {(['in', 'out'] as const).map((edge) => (
        <ValueField
          key={edge}
          label={edge === 'in' ? 'Fade the mix in at the start' : 'Fade the mix out at the end'}
          shown=""
          placeholder="8 s"
          parse={(t) => parseLength(t, context, { min: 1, max: Math.max(1, sessionLength(session)) }, 's')}
          onValue={(lengthFrames) => void dispatch(commit(fadeMix, { edge, lengthFrames }))}
        />
      ))}
    </>
  )
}

/** A pan as a field, with its way back to the centre. */
function PanField({
  name,
  label,
  pan,
  onPan,
}: {
  name: string
  label: string
  pan: number
  onPan(pan: number): void
}) {
  return (
    <div className="flex items-end gap-2">
      <ValueField
        name={name}
        className="flex-1"
        label={label}
        shown={showPan(pan)}
        parse={parsePan}
        onValue={onPan}
        onNudge={(direction, fine) => onPan(nudgedPan(pan, direction, fine))}
      />
      <Button aria-label={`${label} to the centre`} disabled={pan === 0} onClick={() => onPan(0)}>
        <RotateCcw size={15} />C
      </Button>
    </div>
  )
}

/** A fader's level as a field, with its way back to 0 dB. */
function LevelField({
  name,
  label,
  db,
  onDb,
}: {
  name: string
  label: string
  db: number | null
  onDb(db: number | null): void
}) {
  return (
    <div className="flex items-end gap-2">
      <ValueField
        name={name}
        className="flex-1"
        label={label}
        shown={showDb(db)}
        parse={(text) => parseLevel(text, { ...FADER_DB, silence: true })}
        onValue={onDb}
        onNudge={(direction, fine) => onDb(nudgedDb(db, direction, fine))}
      />
      <Button aria-label={`${label} to 0 dB`} disabled={db === 0} onClick={() => onDb(0)}>
        <RotateCcw size={15} />0 dB
      </Button>
    </div>
  )
}
