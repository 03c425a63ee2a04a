import { useEffect, useLayoutEffect, useMemo, useRef, useState } from 'react'
import { Trash2 } from 'lucide-react'
import { worstDeviation, type Relation } from '../../../core/curve/crossfade'
import {
  alignCrossfade,
  crossfadeJoins,
  joinRoom,
  removeCrossfades,
  setCrossfade,
  shiftCrossfade,
  spread,
} from '../../../core/edit'
import { regionEnd } from '../../../core/model/queries'
import { crossfadeLaws, type Crossfade, type Session } from '../../../core/model/session'
import type { Slip } from '../../../core/suggest/slip'
import { showLength } from '../../../core/units/typed'
import { overlapPicture, slipFor } from '../../../engine/background'
import type { OverlapPicture } from '../../../engine/background/analysis.worker'
import { commit } from '../../../store/edits'
import { loopOver } from '../../../store/playback/playback'
import { shownSession } from '../../../store/selectors'
import { faded } from '../../look/colours'
import { write } from '../../look/writing'
import { Button } from '../../parts/button'
import { preparedContext, useAppDispatch, useAppSelector, useSize } from '../../parts/hooks'
import { LengthField } from '../../parts/fields/length-field'
import { PercentField } from '../../parts/fields/percent-field'
import { CurveChoice } from '../parts/fields/curve-choice'
import { drawCrossfade } from '../drawing/draw-region'
import { lawNames } from '../parts/fields/law-names'
import { useRelations } from '../parts/watch/use-relations'

const showCorrelation = (value: number) => value.toFixed(2).replace('-', '−')
const showWorst = (db: number) =>
  Math.abs(db) < 0.05 ? '0.0 dB' : `${db > 0 ? 'bulges' : 'dips'} ${Math.abs(db).toFixed(1)} dB`

/** A crossfade in the bench: what was measured, both sounds and their sum, and every value as a field. */
export function CrossfadeView({ crossfadeId }: { crossfadeId: string }) {
  const session = useAppSelector(shownSession)
  const fade = session?.crossfades[crossfadeId]
  return session && fade && <CrossfadeBench session={session} fade={fade} />
}

function CrossfadeBench({ session, fade }: { session: Session; fade: Crossfade }) {
  const ids = useMemo(() => [fade.id], [fade.id])
  const relation = useRelations(session, ids).get(fade.id) ?? null
  const [left, right] = [session.regions[fade.leftId]!, session.regions[fade.rightId]!]
  return (
    <section aria-label="Bench" data-area="bench" className="apart flex h-full min-h-0 bg-linen">
      <div className="w-52 shrink-0 overflow-auto border-r border-seam px-4 py-3">
        <p className="text-xs text-soft">Crossfade</p>
        <h2 className="text-base leading-5 font-bold wrap-anywhere">
          {left.name} → {right.name}
        </h2>
        <p className="text-sm text-soft">
          {showLength(regionEnd(left) - right.start, session.sampleRate)}, {lawNames[fade.law]}
        </p>
        <p className="mt-2 text-sm">
          <span className="text-soft">Correlation</span>{' '}
          <span className="font-mono text-xs">{relation ? showCorrelation(relation.correlation) : '…'}</span>
        </p>
        <SlipOffer session={session} fade={fade} />
      </div>
      <CrossfadePicture session={session} fade={fade} relation={relation} />
      <div className="flex w-72 shrink-0 flex-col gap-2 overflow-auto border-l border-seam bg-cloth px-4 py-3 max-[1100px]:w-64">
        <CrossfadeFields session={session} fade={fade} relation={relation} />
      </div>
    </section>
  )
}

function SlipOffer({ session, fade }: { session: Session; fade: Crossfade }) {
  const dispatch = useAppDispatch()
  const [slip, setSlip] = useState<{ fade: Crossfade; slip: Slip } | null>(null)
  const { leftId, rightId } = fade
  const [left, right] = [session.regions[leftId], session.regions[rightId]]
  useEffect(() => {
    let over = false
    const timer = window.setTimeout(
      () =>
        void slipFor(session, fade.id).then(
          (found) => !over && setSlip({ fade, slip: found }),
          () => undefined,
        ),
      300,
    )
    return () => {
      over = true
      window.clearTimeout(timer)
    }
    // Asked anew when either side changes.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [fade.id, left, right])
  if (!slip || slip.fade.id !== fade.id) return null
  const { byFrames, before, after } = slip.slip
  if (byFrames === 0 || after - before < 0.02)
    return <p className="mt-1 text-xs text-soft">No shift within 10 ms makes both sides agree better.</p>
  return (
    <div className="mt-2 text-xs">
      <p className="text-soft">
        {showLength(Math.abs(byFrames), session.sampleRate)} {byFrames > 0 ? 'later' : 'earlier'} it would be{' '}
        {showCorrelation(after)}.
      </p>
      <Button
        className="mt-1 h-7"
        onClick={() => void dispatch(commit(alignCrossfade, { crossfadeId: fade.id, byFrames }))}
      >
        Slip it there
      </Button>
    </div>
  )
}

function CrossfadeFields({
  session,
  fade,
  relation,
}: {
  session: Session
  fade: Crossfade
  relation: Relation | null
}) {
  const dispatch = useAppDispatch()
  const [left, right] = [session.regions[fade.leftId]!, session.regions[fade.rightId]!]
  const overlap = regionEnd(left) - right.start
  const room = joinRoom(session, fade)
  const longest = room ? room.left + room.right : overlap
  const crossfadeIds = [fade.id]
  const rate = session.sampleRate
  const roll = Math.round((useAppSelector((s) => s.preferences.rollMs) / 1000) * rate)
  const resize = (lengthFrames: number) =>
    void dispatch(
      commit(crossfadeJoins, { joins: [fade], lengthFrames: Math.max(1, lengthFrames), law: fade.law }),
    )
  const bend = (value: number) =>
    void dispatch(
      commit(setCrossfade, {
        crossfadeIds,
        change: { out: { ...fade.out, bend: value }, in: { ...fade.in, bend: value } },
      }),
    )
  const asked = room ? spread(room, overlap) : null
  return (
    <>
      <div className="flex items-end gap-2">
        <LengthField
          session={session}
          name="fade-in"
          className="flex-1"
          label="Length"
          frames={overlap}
          min={1}
          max={longest}
          onFrames={resize}
          onNudge={(d, fine) => resize(overlap + d * Math.round(rate * (fine ? 0.001 : 0.01)))}
        />
        <Button
          title="Hear it in a loop, with pre- and post-roll (their length is set under Seams)"
          onClick={() => dispatch(loopOver(Math.max(0, right.start - roll), regionEnd(left) + roll))}
        >
          Loop
        </Button>
        <Button
          className="w-9 !px-0"
          aria-label="Remove the crossfade"
          title="Remove the crossfade"
          onClick={() => void dispatch(commit(removeCrossfades, { crossfadeIds }))}
        >
          <Trash2 size={15} />
        </Button>
      </div>
      <div
        role="radiogroup"
        aria-label="Law"
        className="shrink-0 overflow-hidden rounded-lg border border-seam bg-linen"
      >
        {crossfadeLaws.map((law) => (
          <button
            key={law}
            type="button"
            role="radio"
            aria-checked={fade.law === law}
            onClick={() => void dispatch(commit(setCrossfade, { crossfadeIds, change: { law } }))}
            className="flex w-full items-center justify-between border-b border-fold px-2.5 py-1 text-left text-sm last:border-0 hover:bg-white aria-checked:bg-oak aria-checked:text-white"
          >
            <span>{lawNames[law][0]!.toUpperCase() + lawNames[law].slice(1)}</span>
            <span className="font-mono text-2xs">
              {relation ? showWorst(worstDeviation({ ...fade, law }, relation)) : '…'}
            </span>
          </button>
        ))}
      </div>
      {fade.law === 'free' ? (
        (['out', 'in'] as const).map((side) => (
          <div key={side} className="flex items-end gap-2">
            <div className="flex-1">
              <p className="mb-0.5 text-xs text-soft">{side === 'out' ? 'Outgoing' : 'Incoming'}</p>
              <CurveChoice
                label={`Curve of the ${side === 'out' ? 'outgoing' : 'incoming'} side`}
                falling={side === 'out'}
                value={fade[side].curve}
                onChange={(curve) =>
                  void dispatch(
                    commit(setCrossfade, { crossfadeIds, change: { [side]: { ...fade[side], curve } } }),
                  )
                }
              />
            </div>
            <PercentField
              className="w-20"
              label="Bend"
              value={fade[side].bend}
              min={-1}
              max={1}
              what="a bend"
              step={0.1}
              onValue={(value) =>
                void dispatch(
                  commit(setCrossfade, { crossfadeIds, change: { [side]: { ...fade[side], bend: value } } }),
                )
              }
            />
          </div>
        ))
      ) : (
        <PercentField
          label="Bend (earlier − later +)"
          value={fade.in.bend}
          min={-1}
          max={1}
          what="a bend"
          step={0.1}
          onValue={bend}
        />
      )}
      {room && (
        <p className="text-xs text-soft">
          Hidden sound: {showLength(room.left, rate)} of the outgoing, {showLength(room.right, rate)} of the
          incoming
          {asked && asked.left !== asked.right ? '; it lies off the middle' : ''}. Longest:{' '}
          {showLength(longest, rate)}.
        </p>
      )}
      <div className="flex gap-2">
        {(['start', 'end'] as const).map((edge) => (
          <Button
            key={edge}
            className="h-7 flex-1 text-xs"
            title={`The ${edge === 'start' ? 'incoming' : 'outgoing'} region’s edge by 5 ms`}
            onClick={() =>
              void dispatch(
                commit(shiftCrossfade, {
                  crossfadeId: fade.id,
                  edge,
                  byFrames: Math.round(rate * 0.005) * (edge === 'start' ? -1 : 1),
                }),
              )
            }
          >
            {edge === 'start' ? '← start 5 ms' : 'end 5 ms →'}
          </Button>
        ))}
      </div>
    </>
  )
}

/** The two sounds one above the other with their curves, and their sum below. */
function CrossfadePicture({
  session,
  fade,
  relation,
}: {
  session: Session
  fade: Crossfade
  relation: Relation | null
}) {
  const box = useRef<HTMLDivElement>(null)
  const canvas = useRef<HTMLCanvasElement>(null)
  const { width, height } = useSize(box)
  const [picture, setPicture] = useState<OverlapPicture | null>(null)
  const [left, right] = [session.regions[fade.leftId]!, session.regions[fade.rightId]!]
  const columns = Math.max(1, Math.floor(width - 60))
  useEffect(() => {
    let over = false
    if (columns > 20)
      overlapPicture(session, fade.id, columns).then(
        (made) => !over && setPicture(made),
        () => undefined,
      )
    return () => void (over = true)
    // Made anew when the crossfade, a side or the place changes.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [fade, left, right, columns])
  useLayoutEffect(() => {
    const ctx =
      canvas.current && width > 60 && height > 40 ? preparedContext(canvas.current, width, height) : null
    if (!ctx || !picture) return
    const dye = session.tracks[left.trackId]!.colour
    const lane = (height - 12) / 3
    const across = (frame: number) => 52 + ((frame - picture.from) / (picture.to - picture.from)) * columns
    const overlap = { x: across(right.start), width: across(regionEnd(left)) - across(right.start) }
    ctx.fillStyle = faded('oak', 0.1)
    ctx.fillRect(overlap.x, 4, overlap.width, height - 8)
    for (let n = 0; n < 3; n++) {
      const middle = 6 + lane * (n + 0.5)
      write(ctx, ['outgoing', 'incoming', 'sum'][n]!, 4, middle, { face: 'words', size: 11, dye: 'soft' })
      ctx.fillStyle = faded('seam', 0.8)
      ctx.fillRect(52, Math.round(middle), columns, 1)
      ctx.fillStyle = faded(n === 2 ? 'ink' : dye, n === 2 ? 0.7 : 0.86)
      const half = lane / 2 - 2
      for (let i = 0; i < picture.min[n]!.length; i++) {
        const [low, high] = [Math.max(-1, picture.min[n]![i]!), Math.min(1, picture.max[n]![i]!)]
        if (high > low) ctx.fillRect(52 + i, middle - high * half - 0.5, 1, (high - low) * half + 1)
      }
    }
    drawCrossfade(ctx, { ...overlap, y: 8, height: 2 * lane - 6 }, fade, relation?.correlation ?? 0)
  }, [picture, width, height, columns, fade, left, right, session.tracks, relation])
  return (
    <div ref={box} className="relative min-w-0 flex-1">
      <canvas
        ref={canvas}
        className="absolute inset-0 block"
        style={{ width, height }}
        role="img"
        aria-label="Both sounds of the crossfade and their sum"
      />
    </div>
  )
}
