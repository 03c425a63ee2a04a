import { rowOf, isBus } from '../../../core/model/strips'
import { useState } from 'react'
import {
  fadeMix,
  isOutOfDate,
  lanesWithKnots,
  refKey,
  setLanesBypassed,
  setPanMode,
  stripOf,
  type LaneRef,
} from '../../../core/edit'
import { FADER, parameterOf } from '../../../core/model/parameters'
import { sessionLength } from '../../../core/model/queries'
import type { Session } from '../../../core/model/session'
import { parseLength } from '../../../core/units/typed'
import { lanesAt, parameterOfBead, type Bead } from '../../../store/beads'
import { current } from '../../../store/current'
import { commit } from '../../../store/edits'
import type { Thunk } from '../../../store/store'
import { dialogShown, lanesToggled } from '../../../store/view'
import { toast } from '../../parts/messages/toast'
import { shownSession } from '../../../store/selectors'
import { useThrottledSelector } from '../../parts/rendering/throttled-selector'
import { Button } from '../../parts/button'
import { useAppDispatch, useAppSelector } from '../../parts/hooks'
import { useKeyWords } from '../../parts/commands/use-key-words'
import { Choice, Tick } from '../../parts/panel'
import { ValueField } from '../../parts/fields/value-field'
import { ResettableField } from '../parts/inserts/parameter-field'
import { AutomationFields } from './automation-fields'
import { BenchFrame } from './bench-frame'
import { LaneView } from './lane-view'
import { ThreadFields } from './thread-fields'
import { WeaveFields } from './weave-fields'
import { WholeLaneFields } from './whole-lane-fields'

const stripAbout = (session: Session, trackId: string | null) =>
  trackId === null
    ? 'all tracks added'
    : isBus(session, trackId)
      ? 'bus'
      : session.tracks[trackId]!.channels === 1
        ? 'mono track'
        : 'stereo track'

/**
 * A parameter of a track, or with null of the mix, in the bench: its lane large, its static value, and what
 * can be done to both. `lane` is one of those at the bead, where that was worked on.
 */
export function StripBench({
  session,
  trackId,
  bead,
  lane: given,
}: {
  session: Session
  trackId: string | null
  bead: Bead
  lane: string | null
}) {
  const dispatch = useAppDispatch()
  const keys = useKeyWords()
  const weaving = useAppSelector(
    (s) => s.selection.hand === 'weave' || s.selection.lastWeave !== null || s.selection.pickedWeave !== null,
  )
  const [chosen, setChosen] = useState<string | null>(null)
  const strip = stripOf(session, trackId)!
  const shown = lanesAt(session, trackId, bead)
  const lane = given ?? (chosen !== null && shown.includes(chosen) ? chosen : shown[0]!)
  const ref: LaneRef = { kind: 'lane', trackId, lane }
  const { words, scale } = parameterOf(strip, lane)
  const givesWay = trackId !== null && lane === FADER && !isBus(session, trackId)
  const giveWay = strip.lanes[lane]?.giveWay
  const outOfDate = useThrottledSelector((s) => {
    const now = shownSession(s)
    return giveWay !== undefined && now !== null && isOutOfDate(now, giveWay)
  })
  const has = (strip.lanes[lane]?.knots.length ?? 0) > 0
  const allLanes = lanesWithKnots(session)
  const isBypassed = (l: LaneRef) => stripOf(session, l.trackId)!.lanes[l.lane]!.bypassed
  const ownLanes = allLanes.filter((l) => l.trackId === trackId)
  return (
    <BenchFrame
      session={session}
      title={trackId === null ? 'Mix' : rowOf(session, trackId)!.name}
      about={[words, stripAbout(session, trackId)]}
      picture={<LaneView trackId={trackId} lane={lane} scale={scale} />}
    >
      {!given && shown.length > 1 && (
        <Choice
          label="Which channel"
          value={lane}
          onChange={setChosen}
          options={shown.map((key) => ({ value: key, text: parameterOf(strip, key).shortName }))}
        />
      )}
      <StripFields session={session} trackId={trackId} bead={bead} />
      {outOfDate && (
        <p role="status" className="rounded-md bg-fold px-2 py-1 text-xs">
          Out of date: what it gives way to has changed. Recalculate it.
        </p>
      )}
      {(has || givesWay) && (
        <div className="flex items-center justify-between gap-2">
          {has && (
            <Tick
              checked={isBypassed(ref)}
              onChange={(bypassed) => void dispatch(commit(setLanesBypassed, { lanes: [ref], bypassed }))}
            >
              Bypass lane
            </Tick>
          )}
          {givesWay && (
            <Button
              className={has ? '' : 'flex-1'}
              title={`Lower this track while others sound${keys.inBrackets('give-way')}`}
              onClick={() => void dispatch(dialogShown('give-way'))}
            >
              {strip.lanes[FADER]?.giveWay ? 'Recalculate…' : 'Give way…'}
            </Button>
          )}
        </div>
      )}
      {weaving && <WeaveFields lane={ref} />}
      <ThreadFields thread={ref} origin={0} length={Math.max(sessionLength(session), 1)} />
      <AutomationFields session={session} scale={scale} />
      <WholeLaneFields key={refKey(ref)} lane={ref} />
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
      {!weaving && <WeaveFields lane={ref} />}
    </BenchFrame>
  )
}

/** Places a stereo track another way, says what that changes, and opens the lanes that act now where others were open. */
const placeBy =
  (trackId: string, panMode: 'balance' | 'pair'): Thunk =>
  (dispatch, getState) => {
    const lanesNow = () => lanesAt(getState().session.session!, trackId, 'pan')
    const before = lanesNow()
    if (!dispatch(commit(setPanMode, { trackId, panMode }))) return
    const open = getState().navigation.openLanes.filter(
      (o) => o.trackId === trackId && before.includes(o.lane),
    )
    if (open.length) {
      dispatch(lanesToggled({ trackId, lanes: open.map((o) => o.lane) }))
      dispatch(lanesToggled({ trackId, lanes: lanesNow() }))
    }
    toast({
      text:
        panMode === 'pair'
          ? 'Each channel has a pan of its own now, from the nearest places. Balance lowers one side, placing keeps each side’s power: only the centre sounds the same. The balance is kept for the way back.'
          : 'The balance acts again. The pans of both channels are kept for the way back.',
      stays: 10_000,
    })
  }

const NONE: readonly string[] = []

/** The static value of a bead's parameter, and what belongs to it. */
function StripFields({ session, trackId, bead }: { session: Session; trackId: string | null; bead: Bead }) {
  const dispatch = useAppDispatch()
  const parameter =
    parameterOfBead(bead)?.parameter ?? parameterOf(stripOf(session, trackId)!, bead.replace(/^mix-/, ''))
  const along = useAppSelector((state) => {
    const { keys } = current(state)
    return keys?.kind === 'parameter' ? keys.trackIds : NONE
  }).filter((id) => id !== null && id !== trackId) as string[]
  const track = trackId === null ? null : rowOf(session, trackId)!
  return (
    <>
      {track?.channels === 2 && parameter.stage === 'pan' && (
        <Choice
          label="How the track is placed"
          value={track.panMode}
          onChange={(panMode) => dispatch(placeBy(track.id, panMode))}
          options={[
            { value: 'balance', text: 'Balance' },
            { value: 'pair', text: 'Both channels' },
          ]}
        />
      )}
      <ResettableField session={session} trackId={trackId} along={along} parameter={parameter} name={bead} />
      {!track && parameter.key === FADER && <MixFadeFields session={session} />}
    </>
  )
}

/** Fades of the whole mix, which are knots of its volume lane. */
function MixFadeFields({ session }: { session: Session }) {
  const dispatch = useAppDispatch()
  const context = { sampleRate: session.sampleRate, bpm: session.tempo[0]!.bpm }
  return (['in', 'out'] as const).map((edge) => (
    <ValueField
      key={edge}
      label={edge === 'in' ? 'Fade the mix in at the start' : 'Fade the mix out at the end'}
      shown=""
      placeholder="e.g. 8 s"
      parse={(t) => parseLength(t, context, { min: 1, max: Math.max(1, sessionLength(session)) }, 's')}
      onValue={(lengthFrames) => void dispatch(commit(fadeMix, { edge, lengthFrames }))}
    />
  ))
}
