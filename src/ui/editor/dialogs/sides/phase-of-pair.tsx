import type { Session } from '../../../../core/model/session'
import type { PhaseRelation } from '../../../../core/suggest/phase'
import { HearAndTake } from './hear-and-take'
import type { Thunk } from '../../../../store/store'

/** What is done about one of two: heard first, then taken. */
export interface Cure {
  preview: Thunk
  commit: Thunk<boolean>
}

const written = (r: number) => r.toFixed(2).replace('-', '−')

/** How two regions or two tracks of one event stand to each other: inverted, or shifted by a few samples, they may agree. */
export function PhaseOfPair({
  session,
  relation,
  at,
  name,
  where,
  compared,
  invert,
  shift,
}: {
  session: Session
  /** Undefined while it is looked for; null where there is not enough to compare; or that it failed. */
  relation: PhaseRelation | 'failed' | null | undefined
  /** The session frame from which it is heard. */
  at: number
  /** What is inverted and shifted. */
  name: string
  /** Where they cancel, in words. */
  where?: string
  /** At which stage both are compared, in words. */
  compared: string
  invert: Cure
  /** Moves it by frames. */
  shift(byFrames: number): Cure
}) {
  if (relation === undefined) return <p className="mt-3 text-sm text-soft">Comparing both …</p>
  if (relation === 'failed')
    return (
      <p role="alert" className="mt-3 text-sm text-madder">
        They could not be compared: a sound is missing, or cannot be read.
      </p>
    )
  if (relation === null)
    return (
      <p className="mt-3 text-sm text-soft">
        They do not sound at the same time for long enough to be compared.
      </p>
    )
  const by = `${Math.abs(relation.shift)} samples ${relation.shift > 0 ? 'later' : 'earlier'}`
  return (
    <section
      aria-label="Phase of both"
      className="mt-3 flex flex-col gap-3 rounded-xl border border-seam bg-white p-3"
    >
      <p role="status" className="text-sm">
        Correlation of both <span className="font-mono">{written(relation.now)}</span>
        {relation.now < -0.3
          ? ': they cancel each other.'
          : relation.now > 0.3
            ? ': they go together.'
            : ': they have little in common.'}
        {where && <span className="block">{where}</span>}
        <span className="block text-soft">Compared {compared}.</span>
      </p>
      {(relation.now < -0.1 || (relation.inverted && relation.shift !== 0)) && (
        <HearAndTake
          session={session}
          at={at}
          take={`Invert “${name}” (${written(-relation.now)})`}
          cure={invert}
        />
      )}
      {relation.shift !== 0 && !relation.inverted && (
        <HearAndTake
          session={session}
          at={at}
          take={`Shift “${name}” by ${by} (${written(relation.best)})`}
          cure={shift(relation.shift)}
        />
      )}
      {relation.shift !== 0 && relation.inverted && (
        <p className="text-sm text-soft">
          Inverted and {by}, they agree best ({written(relation.best)}): invert it first, then the shift is
          offered here.
        </p>
      )}
    </section>
  )
}
