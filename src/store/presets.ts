import { putChain, setPreset, type Chain } from '../core/edit'
import { insertKindOf } from '../core/model/insert-kinds'
import { presetFile, readPreset, type Preset, type PresetInsert } from '../core/model/presets'
import type { Insert } from '../core/model/session'
import { presetsDb, recordKeys } from '../engine/storage'
import { commit } from './edits'
import { observable } from './observable'
import type { Thunk } from './store'
import { noticed } from './transport-slice'

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

/** Sets an insert to a preset, or puts the inserts of one on a chain. */
export const givePreset = (
  id: string | null,
  insert: Insert,
  name: string,
  preset: PresetInsert,
): Thunk<boolean> => commit(setPreset, { id, insertId: insert.id, name, preset })
export const putPreset = (
  id: string | null,
  chain: Chain,
  preset: Preset,
  replaces: boolean,
): Thunk<boolean> => commit(putChain, { id, chain, preset, replaces })

/** The name that is proposed for what is saved. */
export const proposedName = (inserts: readonly Insert[]): string =>
  inserts.length === 1
    ? `My ${insertKindOf(inserts[0]!.kind).name.toLowerCase()}`
    : `My chain of ${inserts.length}`
