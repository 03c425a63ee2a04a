import { carrying, edgeRoom, moveRegions, setLengths, trimRegions } from '../../../core/edit'
import { regionEnd } from '../../../core/model/queries'
import { LIMITS, type Region, type Session } from '../../../core/model/session'
import { least } from '../../../core/units/extremes'
import { commit } from '../../../store/edits'
import { removeTimeOfRange } from '../../../store/actions/time-actions'
import { dialogShown, rangeSet } from '../../../store/view'
import { useAppDispatch, useAppSelector } from '../../parts/hooks'
import { useKeyWords } from '../../parts/commands/use-key-words'
import { Button } from '../../parts/button'
import { LengthField } from '../../parts/fields/length-field'
import { useReachWords } from '../parts/fields/use-reach'

/** Narrow fields, two abreast. */
const SMALL = 'min-w-0 flex-1 [&_input]:h-7 [&_input]:px-1.5 [&_input]:text-xs'

/** Start, end and length of the selected regions: the start moves them, the end and the length trim them. */
export function RegionTimes({ session, regions }: { session: Session; regions: readonly Region[] }) {
  const dispatch = useAppDispatch()
  const travels = useAppSelector((s) => s.preferences.travels)
  const regionIds = regions.map((r) => r.id)
  const [first] = regions
  const words = useReachWords(regionIds)
  if (!first) return null
  const start = least(regions, (r) => r.start)
  const several = regions.length > 1
  const move = (byFrames: number) =>
    void dispatch(commit(carrying(moveRegions, travels), { regionIds, byFrames, byTracks: 0 }))
  const trim = (byFrames: number) => void dispatch(commit(trimRegions, { regionIds, edge: 'end', byFrames }))
  return (
    <div className="mt-1 flex flex-col gap-1.5" role="group" aria-label="Place in time">
      <div className="flex gap-1.5">
        <LengthField
          session={session}
          name="region-start"
          className={SMALL}
          label={several ? 'First start' : 'Start'}
          as="time"
          bareUnit="s"
          frames={start}
          min={0}
          max={LIMITS.frames - first.length}
          onFrames={(frame) => move(frame - start)}
        />
        {!several && (
          <LengthField
            session={session}
            name="region-end"
            className={SMALL}
            label="End"
            as="time"
            bareUnit="s"
            frames={regionEnd(first)}
            min={first.start + 1}
            max={LIMITS.frames}
            onFrames={(frame) => trim(frame - regionEnd(first))}
          />
        )}
        {several && (
          <LengthField
            session={session}
            name="region-length"
            className={SMALL}
            label="Length"
            bareUnit="s"
            frames={first.length}
            several={regions.some((r) => r.length !== first.length)}
            min={1}
            max={LIMITS.frames}
            all={{
              words,
              by: (byFrames) => {
                const beyond = regions.find((r) => r.length + byFrames < 1)
                if (beyond) return `“${beyond.name}” is too short for that. Nothing was changed.`
                const ends = regions.find(
                  (r) => byFrames > edgeRoom(r, session.sources[r.sourceId]!).endRight,
                )
                if (ends) return `The sound of “${ends.name}” ends before that. Nothing was changed.`
                trim(byFrames)
                return null
              },
            }}
            onFrames={(frames) => void dispatch(commit(setLengths, { regionIds, frames }))}
          />
        )}
      </div>
      {!several && (
        <LengthField
          session={session}
          name="region-length"
          className="[&_input]:h-7 [&_input]:px-1.5 [&_input]:text-xs"
          label="Length"
          bareUnit="s"
          frames={first.length}
          min={1}
          max={LIMITS.frames}
          onFrames={(frames) => trim(frames - first.length)}
        />
      )}
    </div>
  )
}

/** Start, end and length of the marked range; nothing without one. */
export function RangeTimes({ session }: { session: Session }) {
  const dispatch = useAppDispatch()
  const keys = useKeyWords()
  const range = useAppSelector((s) => s.selection.range)
  if (!range) return null
  const { from, to } = range
  const set = (next: { from: number; to: number }) => void dispatch(rangeSet(next))
  return (
    <div
      className="mt-2 flex flex-col gap-1.5 border-t border-fold pt-1.5"
      role="group"
      aria-label="Marked range"
    >
      <div className="flex gap-1.5">
        <LengthField
          session={session}
          name="range-start"
          className={SMALL}
          label="Range start"
          as="time"
          bareUnit="s"
          frames={from}
          min={0}
          max={to - 1}
          onFrames={(frame) => set({ from: frame, to })}
        />
        <LengthField
          session={session}
          name="range-end"
          className={SMALL}
          label="Range end"
          as="time"
          bareUnit="s"
          frames={to}
          min={from + 1}
          max={LIMITS.frames}
          onFrames={(frame) => set({ from, to: frame })}
        />
      </div>
      <LengthField
        session={session}
        name="range-length"
        className="[&_input]:h-7 [&_input]:px-1.5 [&_input]:text-xs"
        label="Range length"
        bareUnit="s"
        frames={to - from}
        min={1}
        max={LIMITS.frames - from}
        onFrames={(frames) => set({ from, to: from + frames })}
      />
      <div className="flex gap-1.5">
        <Button
          className="h-7! flex-1 px-1! text-xs"
          title={`Inserts time on all tracks where the range begins${keys.inBrackets('insert-time')}`}
          onClick={() => void dispatch(dialogShown('insert-time'))}
        >
          Insert time…
        </Button>
        <Button
          className="h-7! flex-1 px-1! text-xs"
          title="Removes the time of the range from all tracks, with what lies in it"
          onClick={() => void dispatch(removeTimeOfRange())}
        >
          Remove time
        </Button>
      </div>
    </div>
  )
}
