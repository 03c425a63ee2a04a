import { insertOf } from '../../core/edit'
import { bandAlone } from '../../core/model/inserts/band-alone'
import { insertsOf, stripOf } from '../../core/model/strips'
import { sessionLength } from '../../core/model/queries'
import type { Session } from '../../core/model/session'
import type { Heard, HeardPlace } from '../../core/render'
import { dbToGain } from '../../core/units/decibel'
import { compareLoudness } from '../../engine/background'
import type { Listening } from '../../engine/playback'
import { parameterOfBead } from '../beads'
import { current } from '../current'
import { pathTrack } from '../selectors'
import type { RootState, Thunk } from '../store'
import { noticed } from '../transport-slice'
import { listenSet, type Compare, type Compared, type InsertRef, type Listen } from '../view'

/**
 * By how much (dB ≤ 0) playback is lowered so that shaped and unshaped sound are equally loud; 0 when that is
 * off or not measured yet.
 */
export function listenOffset({ unshaped, equal, shapedLufs, unshapedLufs }: Listen): number {
  if (!equal || shapedLufs === null || unshapedLufs === null) return 0
  const difference = unshaped ? shapedLufs - unshapedLufs : unshapedLufs - shapedLufs
  return Number.isFinite(difference) ? Math.min(0, difference) : 0
}

/** The strip of the picked place of the Path, and the place; null where it has none. */
function pickedPlace(state: RootState): { stripId: string | null; place: HeardPlace } | null {
  const { bench, bead } = current(state)
  const track = pathTrack(state)
  if (bench.kind === 'insert') return { stripId: bench.ref.stripId, place: { insertId: bench.ref.insertId } }
  if (!track) return null
  if (bead === 'clip-gain' || bead === 'gain-thread' || bead === 'fades')
    return { stripId: track.id, place: bead }
  const parameter = parameterOfBead(bead)
  if (!parameter) return null
  return {
    stripId: parameter.mix ? null : track.id,
    place: parameter.parameter.stage === 'volume' ? 'volume' : 'pan',
  }
}

/** The ids of the inserts that a comparison leaves out; null for all of the session. */
function comparedIds(
  session: Session,
  what: Compared,
  { stripId, insertId }: InsertRef,
): readonly string[] | null {
  if (what === 'everything') return null
  if (what === 'insert') return [insertId]
  const strip = stripOf(session, stripId)
  return strip ? insertsOf(strip).map(({ id }) => id) : []
}

const originalOf = (session: Session, { what, ref }: Pick<Compare, 'what' | 'ref'>): Heard => ({
  kind: 'without',
  stripId: ref.stripId,
  insertIds: comparedIds(session, what, ref),
})

/** What is heard at the picked place, as `here` says. */
function heardHere(state: RootState): Heard | null {
  const { here } = state.listening
  const { session } = state.session
  const picked = here && session ? pickedPlace(state) : null
  if (!here || !session || !picked) return null
  const { stripId, place } = picked
  if (here !== 'difference') return { kind: 'at', stripId, place, alone: here === 'alone' }
  // Of an insert what it changes, of any other place what all inserts of the strip do.
  const strip = stripOf(session, stripId)
  const insertIds =
    typeof place === 'object' ? [place.insertId] : strip ? insertsOf(strip).map(({ id }) => id) : []
  return { kind: 'difference', stripId, insertIds }
}

/** The band of an equaliser that is heard alone; null where that is not the picked insert any more. */
function heardBand(state: RootState): Heard | null {
  const { band } = state.listening
  const { bench } = current(state)
  const { session } = state.session
  if (!band || !session || bench.kind !== 'insert' || bench.ref.insertId !== band.insertId) return null
  const insert = insertOf(session, band.stripId, band.insertId)
  if (!insert) return null
  const { stripId, insertId } = band
  return { kind: 'values', stripId, insertId, values: bandAlone(insert, band.band) }
}

/** Hears a band of an equaliser alone, or all again. */
export const hearBand =
  (ref: InsertRef, band: string): Thunk =>
  (dispatch, getState) => {
    const now = getState().listening.band
    const same = now?.insertId === ref.insertId && now.band === band
    dispatch(listenSet({ band: same ? null : { ...ref, band } }))
  }

/** How the session is heard now. */
export function listeningOf(state: RootState): Listening {
  const listen = state.listening
  const { session } = state.session
  const { compare } = listen
  const here = heardBand(state) ?? heardHere(state)
  const original = !here && session && compare?.position === 'original' ? originalOf(session, compare) : null
  const offset = here
    ? listen.band
      ? 0
      : (listen.hereDb ?? 0)
    : compare?.position === 'matched'
      ? (compare.offsetDb ?? 0)
      : 0
  return {
    unshaped: listen.unshaped,
    gain: dbToGain(listenOffset(listen) + offset),
    heard: here ?? original,
  }
}

/** Switches between shaped and unshaped. */
export const switchListening = (): Thunk => (dispatch, getState) =>
  void dispatch(listenSet({ unshaped: !getState().listening.unshaped }))

/** The stretch over which loudness is compared: the range, or all of the session. */
function measuredStretch({
  session: { session },
  selection: { range },
}: RootState): [from: number, to: number] {
  return [range?.from ?? 0, range?.to ?? (session ? sessionLength(session) : 0)]
}

const PLAIN = { unshaped: false, heard: null }

const cannotMeasure = (error: unknown) =>
  noticed({
    id: 'equal',
    text: `The loudness could not be measured: ${error instanceof Error ? error.message : String(error)}`,
  })

/** Turns listening at equal loudness on or off: both are measured over the range, or over the whole session. */
export const switchEqual = (): Thunk<Promise<void>> => async (dispatch, getState) => {
  const {
    session: { session },
    listening: listen,
  } = getState()
  dispatch(listenSet({ equal: !listen.equal, shapedLufs: null, unshapedLufs: null }))
  if (!session || listen.equal) return
  try {
    const [shapedLufs, unshapedLufs] = await compareLoudness(session, ...measuredStretch(getState()), [
      PLAIN,
      { ...PLAIN, unshaped: true },
    ])
    dispatch(listenSet({ shapedLufs: shapedLufs!, unshapedLufs: unshapedLufs! }))
  } catch (error) {
    dispatch(listenSet({ equal: false }))
    dispatch(cannotMeasure(error))
  }
}

/** Listens at the picked place of the Path in a way, or, where it is that way already, to the whole again. */
export const listenHere =
  (way: NonNullable<Listen['here']>): Thunk =>
  (dispatch, getState) => {
    const { here } = getState().listening
    dispatch(listenSet({ here: here === way ? null : way, hereDb: null }))
  }

/** Brings what is heard at the picked place to the loudness of the whole mix, or back to its own. */
export const hereEqually = (): Thunk<Promise<void>> => async (dispatch, getState) => {
  const state = getState()
  const { session } = state.session
  const heard = heardHere(state)
  if (state.listening.hereDb !== null || !session || !heard) return void dispatch(listenSet({ hereDb: null }))
  try {
    const [whole, here] = await compareLoudness(session, ...measuredStretch(state), [
      PLAIN,
      { ...PLAIN, heard },
    ])
    const db = whole! - here!
    // It may have been left meanwhile.
    if (getState().listening.here) dispatch(listenSet({ hereDb: Number.isFinite(db) ? db : 0 }))
  } catch (error) {
    dispatch(cannotMeasure(error))
  }
}

/** The session of which the offset of a comparison was measured. */
let measuredOf: Session | null = null

/** Hears one of the three positions of a comparison; the third is measured when it is not known for the session as it is. */
export const compareAt =
  (what: Compared, ref: InsertRef, position: Compare['position']): Thunk<Promise<void>> =>
  async (dispatch, getState) => {
    const { session } = getState().session
    if (!session) return
    const before = getState().listening.compare
    const same =
      before?.what === what && before.ref.stripId === ref.stripId && before.ref.insertId === ref.insertId
    const known = same && measuredOf === session ? before.offsetDb : null
    dispatch(listenSet({ here: null, hereDb: null, compare: { what, ref, position, offsetDb: known } }))
    if (known !== null || position !== 'matched') return
    try {
      const [processed, original] = await compareLoudness(session, ...measuredStretch(getState()), [
        PLAIN,
        { ...PLAIN, heard: originalOf(session, { what, ref }) },
      ])
      const db = original! - processed!
      const now = getState().listening.compare
      if (!now || now.what !== what || now.ref.insertId !== ref.insertId) return
      measuredOf = session
      dispatch(listenSet({ compare: { ...now, offsetDb: Number.isFinite(db) ? db : 0 } }))
    } catch (error) {
      dispatch(cannotMeasure(error))
    }
  }

const ROUND = { processed: 'original', original: 'matched', matched: 'processed' } as const

/** Goes on to the next of the three positions, of what was compared last or of the picked insert. */
export const compareRound = (): Thunk => (dispatch, getState) => {
  const state = getState()
  const { bench } = current(state)
  const { compare } = state.listening
  const ref = bench.kind === 'insert' ? bench.ref : (compare?.ref ?? { stripId: null, insertId: '' })
  const what = compare?.what ?? (bench.kind === 'insert' ? 'insert' : 'everything')
  void dispatch(compareAt(what, ref, ROUND[compare?.position ?? 'processed']))
}

/** Hears the session as it is again. */
export const listenPlainly = (): Thunk => (dispatch) =>
  void dispatch(listenSet({ here: null, hereDb: null, compare: null, band: null, unshaped: false }))
