import { useEffect, useMemo, useState } from 'react'
import { copyFades, setFades, type FadeEdge } from '../../../core/edit'
import type { FadeCurve, Session } from '../../../core/model/session'
import { commit, dropPreview, preview } from '../../../store/edits'
import { Button } from '../../parts/button'
import { useAppDispatch, useAppSelector } from '../../parts/hooks'
import { Choice, Panel, Tick } from '../../parts/panel'
import { LengthField } from '../../parts/fields/length-field'
import { PercentField } from '../../parts/fields/percent-field'
import { CurveChoice } from '../parts/fields/curve-choice'

type Which = 'in' | 'out' | 'both'
interface Kept {
  which: Which
  by: 'length' | 'part'
  seconds: number
  part: number
  curve: FadeCurve
  bend: number
  /** Where a fade in starts and a fade out ends, 0…1. */
  level: number
}

const KEY = 'oaken-thread/fades'
const first: Kept = {
  which: 'both',
  by: 'length',
  seconds: 0.02,
  part: 0.1,
  curve: 'linear',
  bend: 0,
  level: 0,
}

/** The settings of the last use. */
function remembered(): Kept {
  try {
    return { ...first, ...(JSON.parse(localStorage.getItem(KEY) ?? '{}') as Partial<Kept>) }
  } catch {
    return first
  }
}

/** The same fade on many regions at once, as a length or as a part of each region; seen before it is kept. */
export function FadesDialog({ session, onClose }: { session: Session; onClose(): void }) {
  const dispatch = useAppDispatch()
  const selection = useAppSelector((s) => s.selection.regionIds)
  const base = useAppSelector((s) => s.session.base) ?? session
  const regionIds = useMemo(() => selection.filter((id) => base.regions[id]), [selection, base.regions])
  const [kept, setKept] = useState(remembered)
  const [shown, setShown] = useState(true)
  const rate = base.sampleRate
  const edges: readonly FadeEdge[] = kept.which === 'both' ? ['in', 'out'] : [kept.which]
  const args = {
    regionIds,
    edges,
    change: {
      kind: 'gain' as const,
      curve: kept.curve,
      bend: kept.bend,
      level: kept.level,
      ...(kept.by === 'length'
        ? { lengthFrames: Math.round(kept.seconds * rate) }
        : { proportion: kept.part }),
    },
  }
  const wanted = JSON.stringify(args)
  useEffect(() => {
    if (shown) dispatch(preview(setFades, JSON.parse(wanted) as typeof args))
    else dispatch(dropPreview())
  }, [dispatch, wanted, shown])
  const close = () => {
    dispatch(dropPreview())
    onClose()
  }
  const done = (run: () => void) => () => {
    dispatch(dropPreview())
    run()
    onClose()
  }
  const name = base.regions[regionIds[0] ?? '']?.name ?? ''
  const set = (more: Partial<Kept>) => setKept((k) => ({ ...k, ...more }))
  return (
    <Panel
      title="Fades"
      about={
        regionIds.length === 0
          ? 'Select regions first.'
          : 'For ' +
            `${regionIds.length === 1 ? `“${name}”` : `the ${regionIds.length} selected regions`}. ` +
            'A fade that is too long for a region is cut to fit.'
      }
      onClose={close}
      footer={
        <>
          <Tick checked={shown} onChange={setShown}>
            Preview
          </Tick>
          <span className="flex-1" />
          <Button onClick={close}>Cancel</Button>
          <Button
            kind="solid"
            disabled={regionIds.length === 0}
            onClick={done(() => {
              localStorage.setItem(KEY, JSON.stringify(kept))
              dispatch(commit(setFades, args))
            })}
          >
            Make fades
          </Button>
        </>
      }
    >
      <div className="flex flex-col gap-3">
        <Choice
          label="Which"
          value={kept.which}
          onChange={(which) => set({ which })}
          options={[
            { value: 'in', text: 'Fade in' },
            { value: 'out', text: 'Fade out' },
            { value: 'both', text: 'Both' },
          ]}
        />
        <div className="flex items-end gap-3">
          <div className="flex-1">
            <Choice
              label="Measured by"
              value={kept.by}
              onChange={(by) => set({ by })}
              options={[
                { value: 'length', text: 'Length' },
                { value: 'part', text: 'Part of the region' },
              ]}
            />
          </div>
          {kept.by === 'length' ? (
            <LengthField
              session={base}
              name="fades-length"
              className="w-28"
              label="Length"
              frames={Math.round(kept.seconds * rate)}
              min={1}
              max={600 * rate}
              onFrames={(f) => set({ seconds: f / rate })}
            />
          ) : (
            <PercentField
              className="w-28"
              label="Part"
              value={kept.part}
              min={0}
              max={1}
              what="a part"
              onValue={(part) => set({ part })}
            />
          )}
        </div>
        <CurveChoice label="Curve" value={kept.curve} onChange={(curve) => set({ curve })} />
        <div className="flex gap-3">
          <PercentField
            className="flex-1"
            label="Bend"
            value={kept.bend}
            min={-1}
            max={1}
            what="a bend"
            step={0.1}
            onValue={(bend) => set({ bend })}
          />
          <PercentField
            className="flex-1"
            label={kept.which === 'in' ? 'Start level' : kept.which === 'out' ? 'End level' : 'Outer level'}
            value={kept.level}
            min={0}
            max={1}
            what="a level"
            onValue={(level) => set({ level })}
          />
        </div>
        <div className="flex gap-2 border-t border-fold pt-3">
          <Button
            className="flex-1"
            disabled={regionIds.length < 2}
            title="Give all the fades that the first selected region has"
            onClick={done(
              () => void dispatch(commit(copyFades, { fromId: regionIds[0]!, regionIds, edges })),
            )}
          >
            Copy from “{name.slice(0, 14)}
            {name.length > 14 ? '…' : ''}”
          </Button>
          <Button
            className="flex-1"
            disabled={regionIds.length === 0}
            onClick={done(
              () => void dispatch(commit(setFades, { regionIds, edges, change: { lengthFrames: 0 } })),
            )}
          >
            Remove {kept.which === 'both' ? 'all' : `fades ${kept.which}`}
          </Button>
        </div>
      </div>
    </Panel>
  )
}
