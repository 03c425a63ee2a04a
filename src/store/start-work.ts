import { sweepExports } from '../engine/export'
import { loadPresets } from './actions/presets'
import { startRiding } from './actions/riding'
import { startAutosave } from './opening/autosave'
import { startKeepingPlaces } from './opening/kept-places'
import { startAnsweringTabs } from './opening/other-tabs'
import { startPlayback } from './playback/playback'
import type { Store } from './store'

let whenSaved: (() => Promise<void>) | null = null

/**
 * Starts what an open session needs: saving, playing, riding, presets, answers to other tabs; and removes exported files of earlier
 * visits. Acts once; returns a function that resolves when every step is saved.
 */
export function startWork(store: Store): () => Promise<void> {
  if (whenSaved) return whenSaved
  whenSaved = startAutosave(store)
  startPlayback(store)
  void loadPresets().catch(() => undefined)
  startRiding(store)
  startKeepingPlaces(store)
  startAnsweringTabs(store, whenSaved)
  void sweepExports().catch(() => undefined)
  return whenSaved
}
