import { sendLaneKey } from '../../model/parameters'
import { LIMITS, type Send, type Session } from '../../model/session'
import { canFeed, rowOf } from '../../model/strips'
import { defineEdit } from '../shared/edit'
import { withTrack } from '../shared/with-strip'
import { freshId } from '../shared/span'
import { stripWords } from '../automation/thread'

const sendOf = (session: Session, id: string, sendId: string) =>
  rowOf(session, id)?.sends.find((s) => s.id === sendId)

/** The bus of a send in words. */
function targetWords(session: Session, id: string, sendId: string): string {
  const send = sendOf(session, id, sendId)
  return send ? stripWords(session, send.to) : 'a bus'
}

/** Adds a send from strips to a bus, at -12 dB and after the fader. What would form a circle gets none. */
export const addSend = defineEdit<{ ids: readonly string[]; to: string }>({
  name: 'addSend',
  label: (session, { ids, to }) =>
    `Send ${ids.length === 1 ? stripWords(session, ids[0]!) : `${ids.length} strips`} to ${stripWords(session, to)}`,
  apply: (session, { ids, to }) =>
    ids.reduce((next, id) => {
      const row = rowOf(next, id)
      if (!row || !next.buses[to] || row.sends.length >= LIMITS.sends || !canFeed(next, id, to)) return next
      const taken = Object.fromEntries(row.sends.map((s) => [s.id, s]))
      const send: Send = { id: freshId(taken, 'send'), to, levelDb: -12, muted: false, point: 'post' }
      return withTrack(next, id, { sends: [...row.sends, send] })
    }, session),
})

/** Mutes a send, takes it before or after the fader, or leads it to another bus. */
export const setSend = defineEdit<{
  id: string
  sendId: string
  change: Partial<Pick<Send, 'muted' | 'point' | 'to'>>
}>({
  name: 'setSend',
  label(session, { id, sendId, change }) {
    const what = `send of ${stripWords(session, id)} to ${targetWords(session, id, sendId)}`
    if (change.muted !== undefined) return `${change.muted ? 'Mute' : 'Unmute'} the ${what}`
    if (change.point) return `Take the ${what} ${change.point === 'pre' ? 'before' : 'after'} the fader`
    return `Lead the ${what} to ${stripWords(session, change.to ?? null)}`
  },
  apply(session, { id, sendId, change }) {
    const send = sendOf(session, id, sendId)
    if (!send || Object.entries(change).every(([key, value]) => send[key as keyof Send] === value))
      return session
    if (change.to !== undefined && !(session.buses[change.to] && canFeed(session, id, change.to)))
      return session
    const sends = rowOf(session, id)!.sends.map((s) => (s === send ? { ...s, ...change } : s))
    return withTrack(session, id, { sends })
  },
})

/** Removes a send with its lane. */
export const removeSend = defineEdit<{ id: string; sendId: string }>({
  name: 'removeSend',
  label: (session, { id, sendId }) =>
    `Remove the send of ${stripWords(session, id)} to ${targetWords(session, id, sendId)}`,
  apply(session, { id, sendId }) {
    if (!sendOf(session, id, sendId)) return session
    const { sends, lanes } = rowOf(session, id)!
    const { [sendLaneKey(sendId)]: _, ...others } = lanes
    return withTrack(session, id, { sends: sends.filter((s) => s.id !== sendId), lanes: others })
  },
})
