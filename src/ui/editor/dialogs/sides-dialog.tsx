import { useEffect, useMemo, useState } from 'react'
import { moveRegions, setRegion, setRegionSides, SIDE_DB } from '../../../core/edit'
import { balanceKinds, balanceOf, type BalanceKind } from '../../../core/measure/region-meter'
import { regionEnd } from '../../../core/model/queries'
import type { Region, Session } from '../../../core/model/session'
import { sidesOf } from '../../../core/model/sides'
import type { PhaseRelation } from '../../../core/suggest/phase'
import { showTime } from '../../../core/units/typed'
import { phaseOf } from '../../../engine/analysis'
import { commit, dropPreview, preview } from '../../../store/edits'
import { getPlayer, togglePlay } from '../../../store/playback'
import type { Thunk } from '../../../store/store'
import { Button } from '../../parts/button'
import { useAppDispatch, useAppSelector } from '../../parts/hooks'
import { Choice, Panel } from '../../parts/panel'
import { SidesFields } from '../parts/sides-fields'
import { useMeasured } from '../parts/use-measured'

const KIND_WORDS: Record<BalanceKind, string> = { loudness: 'Loudness', rms: 'RMS', peak: 'Peak' }

/** Left against right of a stereo region, and two regions of one event against each other; what cancels can be heard cured first. */
export function SidesDialog({ session: heard, onClose }: { session: Session; onClose(): void }) {
  // What is only heard is not measured: that of before stays shown.
  const base = useAppSelector((s) => s.session.base)
  const session = base ?? heard
  const selection = useAppSelector((s) => s.view.selection)
  const regions = useMemo(
    () => selection.flatMap((id) => session.regions[id] ?? []),
    [selection, session.regions],
  )
  const stereo = regions.filter((r) => session.sources[r.sourceId]!.channels === 2)
  const [first, second, third] = regions
  const pair =
    first && second && !third && first.trackId !== second.trackId ? ([first, second] as const) : null
  return (
    <Panel
      title="Left and right, and phase"
      about={
        regions.length === 0
          ? 'Select a stereo region, or two regions of one event on two tracks.'
          : stereo.length === 1 && !pair
            ? `“${stereo[0]!.name}”`
            : pair
              ? `“${pair[0].name}” and “${pair[1].name}”`
              : `${stereo.length} stereo regions`
      }
      onClose={onClose}
      footer={<Button onClick={onClose}>Close</Button>}
    >
      {stereo.length > 0 && <OfRegions session={session} regions={stereo} />}
      {pair && <OfPair session={session} pair={pair} />}
      {stereo.length === 0 && !pair && (
        <p className="text-sm text-soft">
          {regions.length === 0
            ? 'Press a region in the tracks; this panel stays open.'
            : 'What is selected is mono: it has no sides. Select two regions on two tracks to compare them.'}
        </p>
      )}
    </Panel>
  )
}

/** The sides of stereo regions: their balance, fields, and where they cancel. */
function OfRegions({ session, regions }: { session: Session; regions: readonly Region[] }) {
  const dispatch = useAppDispatch()
  const [kind, setKind] = useState<BalanceKind>('loudness')
  const measures = useMeasured(session, regions)
  const regionIds = regions.map(({ id }) => id)
  const sides = sidesOf(regions[0]!)
  const one = regions.length === 1 ? measures[0] : null
  const balance = one ? balanceOf(one, kind) : null
  const evened = (region: Region, by: number) => {
    const [left, right] = sidesOf(region).gainDb
    const within = (db: number) => Math.round(Math.min(SIDE_DB.max, Math.max(SIDE_DB.min, db)) * 100) / 100
    return {
      regionIds: [region.id],
      change: { gainDb: [within(left - by / 2), within(right + by / 2)] as [number, number] },
    }
  }
  return (
    <div className="flex flex-col gap-3">
      {regions.length === 1 && (
        <div className="flex flex-col gap-2">
          <Choice
            label="Held against each other by"
            value={kind}
            onChange={setKind}
            options={balanceKinds.map((value) => ({ value, text: KIND_WORDS[value] }))}
          />
          <div className="flex items-center gap-3">
            <p role="status" className="flex-1 text-sm">
              {!one
                ? 'Measuring …'
                : balance === null
                  ? 'One side is silent, or it is too short for this measure.'
                  : Math.abs(balance) < 0.05
                    ? 'Left and right are even.'
                    : `${balance > 0 ? 'Left' : 'Right'} is ${Math.abs(balance).toFixed(1)} dB above ${balance > 0 ? 'right' : 'left'}.`}
            </p>
            <Button
              disabled={balance === null || Math.abs(balance) < 0.05}
              title="Half of it to each side, so that the whole stays about as loud"
              onClick={() => void dispatch(commit(setRegionSides, evened(regions[0]!, balance!)))}
            >
              Even out
            </Button>
          </div>
        </div>
      )}
      <SidesFields
        sides={sides}
        onChange={(change) => void dispatch(commit(setRegionSides, { regionIds, change }))}
      />
      {one && one.against.length > 0 && (
        <Cancelling session={session} region={regions[0]!} against={one.against} />
      )}
      {one?.against.length === 0 && <p className="text-sm text-soft">Left and right cancel nowhere in it.</p>}
    </div>
  )
}

/** Stretches in which the sides cancel, and the cure, which can be heard before it is taken. */
function Cancelling({
  session,
  region,
  against,
}: {
  session: Session
  region: Region
  against: readonly { from: number; to: number; correlation: number }[]
}) {
  const { polarity } = sidesOf(region)
  const change = { polarity: [polarity[0], polarity[1] === 1 ? -1 : 1] as [1 | -1, 1 | -1] }
  const time = (frame: number) => showTime(region.start + frame, session.sampleRate, 1)
  const first = against[0]!
  return (
    <section aria-label="Left and right cancel" className="rounded-xl border border-fault/60 bg-white p-3">
      <p className="text-sm font-semibold">
        Left and right cancel each other
        {against.length === 1
          ? ` from ${time(first.from)} to ${time(first.to)}`
          : ` in ${against.length} stretches, first at ${time(first.from)}`}
        : correlation {first.correlation.toFixed(2).replace('-', '−')}.
      </p>
      <p className="mb-2 text-sm text-soft">In mono that sound is gone. Inverting one side brings it back.</p>
      <HearAndTake
        session={session}
        at={region.start + first.from}
        take="Invert the right side"
        cure={{
          preview: preview(setRegionSides, { regionIds: [region.id], change }),
          commit: commit(setRegionSides, { regionIds: [region.id], change }),
        }}
      />
    </section>
  )
}

/** Two regions of one event: inverted, or shifted by a few samples. */
function OfPair({ session, pair: [first, second] }: { session: Session; pair: readonly [Region, Region] }) {
  const key = JSON.stringify([first, second])
  const [found, setFound] = useState<{ key: string; is: PhaseRelation | null } | null>(null)
  useEffect(() => {
    let over = false
    phaseOf(session, first.id, second.id).then(
      (is) => over || setFound({ key, is }),
      () => over || setFound({ key, is: null }),
    )
    return () => void (over = true)
    // The session is new with every edit; what counts are the two regions.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [key])
  const relation = found?.key === key ? found.is : undefined
  if (relation === undefined) return <p className="mt-3 text-sm text-soft">Comparing both …</p>
  if (relation === null)
    return (
      <p className="mt-3 text-sm text-soft">
        They do not sound at the same time for long enough to be compared.
      </p>
    )
  const at = Math.max(first.start, second.start)
  const end = Math.min(regionEnd(first), regionEnd(second))
  const invert = { regionIds: [second.id], change: { polarity: (second.polarity === 1 ? -1 : 1) as 1 | -1 } }
  const shift = { regionIds: [second.id], byFrames: relation.shift, byTracks: 0 }
  const written = (r: number) => r.toFixed(2).replace('-', '−')
  return (
    <section
      aria-label="Phase of both"
      className="mt-3 flex flex-col gap-3 rounded-xl border border-seam bg-white p-3"
    >
      <p role="status" className="text-sm">
        Correlation of both <span className="font-mono">{written(relation.now)}</span>
        {relation.now < -0.3 ? ': they cancel each other.' : relation.now > 0.3 ? ': they go together.' : '.'}
      </p>
      {relation.now < -0.1 && (
        <HearAndTake
          session={session}
          at={Math.floor((at + end) / 2)}
          take={`Invert “${second.name}” (${written(-relation.now)})`}
          cure={{ preview: preview(setRegion, invert), commit: commit(setRegion, invert) }}
        />
      )}
      {relation.shift !== 0 && !relation.inverted && (
        <HearAndTake
          session={session}
          at={Math.floor((at + end) / 2)}
          take={`Shift “${second.name}” by ${Math.abs(relation.shift)} samples ${relation.shift > 0 ? 'later' : 'earlier'} (${written(relation.best)})`}
          cure={{ preview: preview(moveRegions, shift), commit: commit(moveRegions, shift) }}
        />
      )}
      {relation.shift !== 0 && relation.inverted && (
        <p className="text-sm text-soft">
          Inverted, and {Math.abs(relation.shift)} samples {relation.shift > 0 ? 'later' : 'earlier'}, they
          would agree best ({written(relation.best)}): invert it first, then this tells the shift.
        </p>
      )}
    </section>
  )
}

/** A cure: heard in place of what is, as long as the switch is down, and taken as one step. */
function HearAndTake({
  session,
  at,
  take,
  cure,
}: {
  session: Session
  /** From where it is heard. */
  at: number
  take: string
  cure: { preview: Thunk; commit: Thunk<boolean> }
}) {
  const dispatch = useAppDispatch()
  const playing = useAppSelector((s) => s.transport.playing)
  const [heard, setHeard] = useState(false)
  // What is only heard ends with the panel.
  useEffect(() => () => void dispatch(dropPreview()), [dispatch])
  const hear = (on: boolean) => {
    setHeard(on)
    dispatch(on ? cure.preview : dropPreview())
    if (playing) return
    getPlayer()?.seek(Math.max(0, at - session.sampleRate))
    dispatch(togglePlay())
  }
  return (
    <div className="flex flex-wrap gap-2">
      <Button
        aria-pressed={heard}
        title="Hear it cured; press again to hear it as it is"
        onClick={() => hear(!heard)}
      >
        {heard ? 'Heard cured' : 'Hear it cured'}
      </Button>
      <Button
        kind="solid"
        onClick={() => {
          setHeard(false)
          void dispatch(cure.commit)
        }}
      >
        {take}
      </Button>
    </div>
  )
}
