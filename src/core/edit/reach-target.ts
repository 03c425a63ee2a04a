import { FADER } from '../model/parameters'
import { LIMITS, type Insert, type Session } from '../model/session'
import { insertsOf, lastInsertsOf } from '../model/strips'
import { FADER_DB } from '../units/decibel'
import { showDb } from '../units/typed'
import { defineEdit } from './edit'
import { isAutomated, isBypassed } from './lane'
import { freshId } from './span'
import type { LaneRef } from './thread'
import { shiftLanes } from './whole-lane'

const VOLUME_OF_MIX: LaneRef = { kind: 'lane', trackId: null, lane: FADER }

const laneMoves = (session: Session) =>
  isAutomated(session, VOLUME_OF_MIX) && !isBypassed(session, VOLUME_OF_MIX)

/** By how many dB the volume of the mix can be raised; with a lane as far as its highest point allows it, which is cut there. */
export const mixRoomDb = (session: Session): number =>
  laneMoves(session) ? Infinity : FADER_DB.max - (session.mix.volumeDb ?? FADER_DB.min)

/** Changes the volume of the mix by so many dB: the static value, or the whole lane where one moves it. */
export const changeMixVolume = defineEdit<{ by: number }>({
  name: 'changeMixVolume',
  label: (_session, { by }) => `Change the volume of the mix by ${showDb(Math.round(by * 10) / 10)}`,
  apply(session, { by }) {
    if (laneMoves(session)) return shiftLanes.apply(session, { lanes: [VOLUME_OF_MIX], by })
    const { volumeDb } = session.mix
    if (volumeDb === null || by === 0) return session
    const next = Math.min(FADER_DB.max, Math.max(FADER_DB.min, volumeDb + by))
    return { ...session, mix: { ...session.mix, volumeDb: next } }
  },
})

/** Puts a ceiling at the very end of the mix, or sets the one that stands there and acts. */
export const endWithCeiling = defineEdit<{ ceilingDbtp: number }>({
  name: 'endWithCeiling',
  label: (_session, { ceilingDbtp }) =>
    `Ceiling of ${showDb(ceilingDbtp).replace(' dB', ' dBTP')} at the end of the mix`,
  apply(session, { ceilingDbtp }) {
    const { mix } = session
    const list = lastInsertsOf(mix)
    const last = list.at(-1)
    const values = { ...(last?.values ?? {}), ceilingDbtp }
    if (last?.kind === 'ceiling' && !last.bypassed)
      return { ...session, mix: { ...mix, lastInserts: [...list.slice(0, -1), { ...last, values }] } }
    if (list.length >= LIMITS.inserts) return session
    const taken = Object.fromEntries(insertsOf(mix).map((i) => [i.id, i]))
    const ceiling: Insert = {
      id: freshId(taken, 'ceiling'),
      kind: 'ceiling',
      bypassed: false,
      values: { ceilingDbtp },
    }
    return { ...session, mix: { ...mix, lastInserts: [...list, ceiling] } }
  },
})
