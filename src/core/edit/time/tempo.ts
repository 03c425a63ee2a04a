import { noteValueSeconds, tooLongWords } from '../../model/inserts/delay-time'
import type { Session } from '../../model/session'
import { issueWords } from '../../model/check/shape-words'
import { tempoChangeSchema } from '../../model/session-schema'
import { insertsOf, type Strip } from '../../model/strips'
import type { TempoChange } from '../../units/tempo'
import { defineEdit } from '../shared/edit'
import { withWeavesInTempo } from '../automation/weave'

/** The tempo change that holds at a beat (quarter notes from the start). */
export const tempoAt = (session: Session, beat: number): TempoChange =>
  session.tempo.findLast((t) => t.beat <= beat) ?? session.tempo[0]!

/** Why a tempo cannot be set, in a sentence: a delay would take longer than one may; null where it can. */
export function slowestRefusal(session: Session, bpm: number): string | null {
  const strips: Strip[] = [...Object.values(session.tracks), ...Object.values(session.buses), session.mix]
  for (const strip of strips)
    for (const insert of insertsOf(strip)) {
      const words = tooLongWords(noteValueSeconds(insert, [{ bpm }]))
      if (words) return `At ${bpm} bpm the note value of a delay ${words}.`
    }
  return null
}

/**
 * Sets tempo and metre from the change that holds at a beat on. Regions, knots and markers stay where they
 * are in time; the bars move under them. Weaves stay, too, and their cycles follow the beats. Throws a RangeError for a tempo
 * outside 10…1000 bpm, for one at which a delay takes too long, and for a metre that there is not.
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
          `is out of range: it ${issueWords(after.error.issues[0]!)}`,
      )
    const refusal = slowestRefusal(session, after.data.bpm)
    if (refusal) throw new RangeError(refusal)
    if ((Object.keys(change) as (keyof typeof change)[]).every((key) => before[key] === change[key]))
      return session
    const tempo = session.tempo.map((t) => (t === before ? (after.data as TempoChange) : t))
    return withWeavesInTempo({ ...session, tempo }, session)
  },
})
