import { putChain, setPreset, type Chain } from '../../core/edit'
import { insertKindOf } from '../../core/model/inserts/insert-kinds'
import { insertsOf, rowOf, stripOf } from '../../core/model/strips'
import { presetFile, readPreset, type Preset, type PresetInsert } from '../../core/model/inserts/presets'
import type { Insert } from '../../core/model/session'
import { presetsDb, recordKeys } from '../../engine/storage'
import { commit } from '../edits'
import { headsWith } from './heads'
import { observable } from '../observable'
import type { Thunk } from '../store'
import { noticed } from '../transport-slice'
import { sayWhyNot } from '../why-not'

/** The presets that this person saved, by name. */
export const savedPresets = observable<readonly Preset[]>([])

const keyOf = ({ name, inserts }: Preset) => `${inserts.length > 1 ? 'chain' : inserts[0]!.kind}/${name}`
const byName = (a: Preset, b: Preset) => a.name.localeCompare(b.name)

/** Reads what is kept; what cannot be read any more is left where it is. */
export async function loadPresets(): Promise<void> {
  const read: Preset[] = []
  for (const key of await recordKeys(presetsDb))
    try {
      read.push(readPreset(await presetsDb.getItem(key)))
    } catch {
      // Of a later version, perhaps: it must not be lost.
    }
  savedPresets.set(read.sort(byName))
}

/** Keeps a preset; one of the same name for the same is replaced. Says so where the browser did not keep it. */
export const savePreset =
  (preset: Preset): Thunk<Promise<boolean>> =>
  async (dispatch) => {
    try {
      await presetsDb.setItem(keyOf(preset), presetFile(preset))
    } catch (error) {
      const why = error instanceof Error ? error.message : String(error)
      dispatch(noticed({ id: 'preset', text: `The preset “${preset.name}” was not kept: ${why}` }))
      return false
    }
    savedPresets.set([...savedPresets.get().filter((p) => keyOf(p) !== keyOf(preset)), preset].sort(byName))
    return true
  }

/** Forgets a preset. */
export const deletePreset =
  (preset: Preset): Thunk<Promise<void>> =>
  async (dispatch) => {
    try {
      await presetsDb.removeItem(keyOf(preset))
      savedPresets.set(savedPresets.get().filter((p) => keyOf(p) !== keyOf(preset)))
    } catch (error) {
      const why = error instanceof Error ? error.message : String(error)
      dispatch(noticed({ id: 'preset', text: `The preset “${preset.name}” is still there: ${why}` }))
    }
  }

/** Gives a preset another name. */
export const renamePreset =
  (preset: Preset, name: string): Thunk<Promise<void>> =>
  async (dispatch) => {
    if (name !== preset.name && (await dispatch(savePreset({ ...preset, name }))))
      await dispatch(deletePreset(preset))
  }

/** Reads a file of a preset, and keeps it. Resolves to it; null where it is none, which is said. */
export const importPreset =
  (file: File): Thunk<Promise<Preset | null>> =>
  async (dispatch) => {
    try {
      if (file.size > 1_000_000) throw new Error('The file is too large to be a preset.')
      const preset = readPreset(await file.text())
      return (await dispatch(savePreset(preset))) ? preset : null
    } catch (error) {
      dispatch(noticed({ id: 'preset', text: error instanceof Error ? error.message : String(error) }))
      return null
    }
  }

/** A preset as a file to be taken away. */
export const presetBlob = (preset: Preset): Blob =>
  new Blob([`${JSON.stringify(presetFile(preset), null, 2)}\n`], { type: 'application/json' })

/**
 * Sets an insert of a strip to a preset, and those like it of all selected heads: of as many of its kind in each strip the first
 * by the first, the second by the second. Says which have none.
 */
export const givePreset =
  (id: string | null, insert: Insert, name: string, preset: PresetInsert): Thunk<boolean> =>
  (dispatch, getState) => {
    const state = getState()
    const session = state.session.session!
    const ofKind = (strip: string | null) =>
      insertsOf(stripOf(session, strip)!).filter(({ kind }) => kind === insert.kind)
    const place = ofKind(id).findIndex((i) => i.id === insert.id)
    const inserts: { id: string | null; insertId: string }[] = []
    const without: string[] = []
    for (const strip of headsWith(state, id)) {
      const like = strip === id ? insert : ofKind(strip)[place]
      if (like) inserts.push({ id: strip, insertId: like.id })
      else without.push(`“${rowOf(session, strip!)!.name}”`)
    }
    const done = dispatch(commit(setPreset, { inserts, name, preset }))
    if (done && without.length)
      sayWhyNot(
        `Not on ${without.join(', ')}: there is no such ${insertKindOf(insert.kind).name.toLowerCase()}.`,
      )
    return done
  }

/** Puts the inserts of a preset on a chain of a strip, and of all selected heads. */
export const putPreset =
  (id: string | null, chain: Chain, preset: Preset, replaces: boolean): Thunk<boolean> =>
  (dispatch, getState) =>
    dispatch(commit(putChain, { ids: headsWith(getState(), id), chain, preset, replaces }))

/** The name that is proposed for what is saved. */
export const proposedName = (inserts: readonly Insert[]): string =>
  inserts.length === 1
    ? `My ${insertKindOf(inserts[0]!.kind).name.toLowerCase()}`
    : `My chain of ${inserts.length}`
