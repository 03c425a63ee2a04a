import { RotateCcw, Trash2 } from 'lucide-react'
import { useState } from 'react'
import { refKey, sameRef, threadOf, type ThreadRef } from '../../../core/edit'
import { moveKnots, stretchKnots, type ThreadKind } from '../../../core/curve/knots'
import type { Knot, Session } from '../../../core/model/session'
import { parseFactor, parseLevel } from '../../../core/units/typed'
import { parseDbAmount, scaleChange } from '../../../core/units/typed-change'
import {
  changeKnots,
  dropKnots,
  resetKnots,
  scaleKnots,
  setKnots,
  shapeStretches,
  shiftKnots,
  shiftKnotsWithin,
  thinThread,
} from '../../../store/actions/thread-actions'
import { shownSession } from '../../../store/selectors'
import { shouldersSet, thinningSet } from '../../../store/view'
import { Button } from '../../parts/button'
import { useThrottledSelector } from '../../parts/rendering/throttled-selector'
import { useAppDispatch, useAppFields } from '../../parts/hooks'
import { Tick } from '../../parts/panel'
import { LengthField } from '../../parts/fields/length-field'
import { PercentField } from '../../parts/fields/percent-field'
import { ValueField } from '../../parts/fields/value-field'

const shapes: { shape: Knot['shape']; name: string; path: string }[] = [
  { shape: 'line', name: 'Straight stretch', path: 'M1 14 L19 2' },
  { shape: 's-curve', name: 'S-curve stretch', path: 'M1 14 C10 14 10 2 19 2' },
  { shape: 'hold', name: 'Held stretch, then a step', path: 'M1 14 H17 V2 H19' },
]

/**
 * A thread's values as fields: the selected knots, operations on them or on all, the shoulders of plateaus,
 * and reset. `origin` is the thread frame from which times count, `length` the thread's length.
 */
export function ThreadFields({
  thread,
  origin,
  length,
}: {
  thread: ThreadRef | null
  origin: number
  length: number
}) {
  const dispatch = useAppDispatch()
  const session = useThrottledSelector(shownSession)!
  const {
    knots: selected,
    shoulderMs,
    thinning,
  } = useAppFields(({ selection: { knots }, preferences: { shoulderMs, thinning } }) => ({
    knots,
    shoulderMs,
    thinning,
  }))
  const state = thread && threadOf(session, thread)
  const rate = session.sampleRate
  const shoulders = (
    <LengthField
      session={session}
      name="shoulders"
      className="min-w-0 flex-1"
      label="Shoulders"
      title="Length of the ramps at both ends of a plateau"
      frames={Math.round((shoulderMs / 1000) * rate)}
      min={0}
      max={rate}
      onFrames={(frames) => void dispatch(shouldersSet(Math.round((frames / rate) * 1e4) / 10))}
    />
  )
  if (!thread || !state)
    return (
      <div className="flex flex-col gap-2">
        <p className="text-xs text-soft">Select one region to type the values of its thread.</p>
        {shoulders}
      </div>
    )
  const { knots, kind } = state
  const indices =
    selected && sameRef(selected.ref, thread) ? selected.indices.filter((i) => i < knots.length) : []
  const index = indices[0]
  const knot = index === undefined ? undefined : knots[index]
  const threadKind = thread.kind === 'region' ? 'gain thread' : 'lane'
  const clearWords = thread.kind === 'region' ? 'Clear thread' : 'Clear lane'
  const many = indices.length > 1 ? `${indices.length} knots` : `the ${threadKind}`
  const alike = indices.every((i) => knots[i]!.value === knot?.value)
  return (
    <div className="flex flex-col gap-2">
      {knot && index !== undefined ? (
        <>
          <div className="flex items-end gap-2">
            <ValueField
              name="knot-level"
              className="min-w-0 flex-1 [&_input]:px-1.5"
              label={indices.length > 1 ? `${indices.length} knots` : `${kind.label} of the knot`}
              title="Knots are the points of a thread, the drawn line of a level or a pan."
              shown={alike ? kind.show(knot.value, 2) : ''}
              placeholder={alike ? undefined : 'differ'}
              parse={kind.parse}
              onValue={(value) => dispatch(setKnots(thread, indices, value))}
              change={{
                ...scaleChange(kind, knot.value),
                showAmount: kind.showChange,
                all:
                  indices.length > 1
                    ? { words: many, by: (by) => dispatch(shiftKnotsWithin(thread, indices, by)) }
                    : undefined,
              }}
              onNudge={(direction, fine) =>
                dispatch(shiftKnots(thread, indices, direction * (fine ? kind.fineStep : kind.step)))
              }
            />
            {indices.length === 1 && (
              <LengthField
                session={session}
                name="knot-time"
                className="w-[5.25rem] shrink-0 [&_input]:px-1.5"
                label={thread.kind === 'region' ? 'From start' : 'At'}
                as={thread.kind === 'region' ? 'length' : 'time'}
                bareUnit="s"
                frames={knot.frame - origin}
                min={0}
                max={length}
                onFrames={(frames) =>
                  void dispatch(
                    changeKnots(thread, 'Move knot', (all) =>
                      moveKnots(all, [index], origin + frames - knot.frame, 0, kind),
                    ),
                  )
                }
              />
            )}
            <Button
              className="w-8 shrink-0 !px-0"
              aria-label={indices.length > 1 ? `Remove ${indices.length} knots` : 'Remove the knot'}
              title="Remove"
              onClick={() => dispatch(dropKnots(thread, indices))}
            >
              <Trash2 size={15} />
            </Button>
          </div>
          {indices.length > 1 && (
            <StretchFields
              thread={thread}
              knots={knots}
              kind={kind}
              indices={indices}
              origin={origin}
              length={length}
              session={session}
            />
          )}
          <div className="flex items-end gap-2">
            <div
              className="flex rounded-lg border border-seam bg-linen"
              role="group"
              aria-label="Shape of the stretch after the knot"
            >
              {shapes.map(({ shape, name, path }) => (
                <button
                  key={shape}
                  type="button"
                  title={name}
                  aria-label={name}
                  aria-pressed={knot.shape === shape}
                  onClick={() => dispatch(shapeStretches(thread, indices, { shape }))}
                  className="rounded-lg p-1.5 hover:bg-white aria-pressed:bg-oak aria-pressed:text-white"
                >
                  <svg viewBox="0 0 20 16" className="h-4 w-5" aria-hidden>
                    <path
                      d={path}
                      fill="none"
                      stroke="currentColor"
                      strokeWidth="1.8"
                      strokeLinecap="round"
                    />
                  </svg>
                </button>
              ))}
            </div>
            <PercentField
              name="bend"
              className="flex-1"
              label="Bend"
              disabled={knot.shape !== 'line'}
              value={knot.bend}
              min={-1}
              max={1}
              what="a bend"
              step={0.1}
              onValue={(bend) => dispatch(shapeStretches(thread, indices, { bend }))}
            />
          </div>
        </>
      ) : (
        <p className="text-xs text-soft">Double-click adds a knot; sweep over knots to select them.</p>
      )}
      {knots.length > 0 && (
        <div className="flex items-end gap-2">
          <ValueField
            name="thread-offset"
            className="flex-1"
            label={`${kind.changeVerb} ${many} by`}
            shown=""
            placeholder={`e.g. ${kind.changeExample}`}
            parse={kind.parseChange}
            onValue={(by) => dispatch(shiftKnots(thread, indices, by))}
          />
          <ValueField
            name="thread-scale"
            className="flex-1"
            label={kind.scaleLabel}
            shown=""
            placeholder="e.g. 50 %"
            parse={parseFactor}
            onValue={(factor) => dispatch(scaleKnots(thread, indices, factor))}
          />
        </div>
      )}
      {knots.length > 0 && (
        <div className="flex gap-2">
          <Button
            className="flex-1"
            title={`Leave out knots that a straight line replaces within ${thinning ?? 0.5} dB`}
            disabled={knots.length < 3}
            onClick={() => dispatch(thinThread(thread, indices, thinning ?? 0.5))}
          >
            Thin
          </Button>
          <Button
            className="flex-1"
            aria-label={indices.length ? 'Reset the selected knots' : `Reset the ${threadKind}`}
            title={indices.length ? 'The selected knots back to neutral' : 'No knots at all'}
            onClick={() => dispatch(resetKnots(thread, indices))}
          >
            <RotateCcw size={15} />
            {indices.length ? 'Reset' : clearWords}
          </Button>
          {indices.length > 0 && (
            <Button
              aria-label={`Reset the ${threadKind}`}
              title="No knots at all"
              onClick={() => dispatch(resetKnots(thread, []))}
            >
              <RotateCcw size={15} />
              {clearWords}
            </Button>
          )}
        </div>
      )}
      <div className="flex items-end gap-2">
        {shoulders}
        <ValueField
          name="thinning"
          className="flex-1"
          label="Thinning"
          disabled={thinning === null}
          shown={thinning === null ? 'raw' : `${thinning} dB`}
          parse={(t) => parseLevel(t, { min: 0, max: 12 })}
          change={{ from: thinning, show: (db) => `${db} dB`, amount: parseDbAmount }}
          onValue={(db) => void dispatch(thinningSet(db))}
        />
      </div>
      <Tick checked={thinning === null} onChange={(raw) => void dispatch(thinningSet(raw ? null : 0.5))}>
        Keep drawn lines raw
      </Tick>
    </div>
  )
}

/** A selection of several knots: its start and end, and how far it has been moved since it was selected. */
function StretchFields({
  thread,
  knots,
  kind,
  indices,
  origin,
  length,
  session,
}: {
  thread: ThreadRef
  knots: readonly Knot[]
  kind: ThreadKind
  indices: readonly number[]
  origin: number
  length: number
  session: Session
}) {
  const dispatch = useAppDispatch()
  const key = `${refKey(thread)} ${indices.join(' ')}`
  const [before, setBefore] = useState({ key, knots })
  if (before.key !== key) setBefore({ key, knots })
  const [first, last] = [knots[indices[0]!]!, knots[indices.at(-1)!]!]
  const was = before.knots[indices[0]!]
  const change = was && before.knots.length === knots.length ? kind.change(first.value, was.value) : 0
  const stretch = (about: number, from: number, to: number) =>
    from !== about &&
    dispatch(
      changeKnots(thread, 'Stretch in time', (all) =>
        stretchKnots(all, indices, about, Math.max(0.001, (to - about) / (from - about))),
      ),
    )
  const time = (name: string, label: string, knot: Knot, about: Knot) => (
    <LengthField
      session={session}
      name={name}
      className="flex-1"
      label={label}
      as={thread.kind === 'region' ? 'length' : 'time'}
      bareUnit="s"
      frames={knot.frame - origin}
      min={0}
      max={length}
      onFrames={(frames) => void stretch(about.frame, knot.frame, origin + frames)}
    />
  )
  return (
    <>
      <div className="flex items-end gap-2">
        {time('stretch-from', 'From', first, last)}
        {time('stretch-to', 'To', last, first)}
      </div>
      <p className="text-xs text-soft">{kind.changeWords(change) ?? 'unchanged since it was selected'}</p>
    </>
  )
}
