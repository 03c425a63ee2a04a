import { tempoChangeSchema, type Session } from '../model/session'
import type { TempoChange } from '../units/tempo'
import { defineEdit } from './edit'
import { withWeavesInTempo } from './weave'

/** The tempo change that holds at a beat (quarter notes from the start). */
export const tempoAt = (session: Session, beat: number): TempoChange =>
  session.tempo.findLast((t) => t.beat <= beat) ?? session.tempo[0]!

/**
 * Sets tempo and metre from the change that holds at a beat on. Regions, knots and markers stay where they
 * are in time; the bars move under them. Weaves stay, too, and their cycles follow the beats. Throws a RangeError for a tempo outside 10…1000 bpm or a metre that
 * there is not.
 */
export const setTempo = defineEdit<{ atBeat: number; change: Partial<Omit<TempoChange, 'beat'>> }>({
  name: 'setTempo',
  label: (_session, { change }) =>
    change.bpm === undefined
      ? `Metre ${change.beatsPerBar ?? ''}/${change.beatUnit ?? ''}`
      : `Tempo ${change.bpm} bpm`,
  apply(session, { atBeat, change }) {
    const before = tempoAt(session, atBeat)
    const after = tempoChangeSchema.safeParse({ ...before, ...change })
    if (!after.success)
      throw new RangeError(
        `a tempo of ${change.bpm ?? before.bpm} bpm in ` +
          `${change.beatsPerBar ?? before.beatsPerBar}/${change.beatUnit ?? before.beatUnit} ` +
          `is out of range: ${after.error.issues[0]!.message}`,
      )
    if ((Object.keys(change) as (keyof typeof change)[]).every((key) => before[key] === change[key]))
      return session
    const tempo = session.tempo.map((t) => (t === before ? (after.data as TempoChange) : t))
    return withWeavesInTempo({ ...session, tempo }, session)
  },
})
