import type { Session } from '../core/model/session'
import { exportMix } from '../engine/export-mix'
import type { WavFormat } from '../formats/wav-write'
import { runJob } from './jobs'
import { exportEnded } from './jobs-slice'
import type { Thunk } from './store'

/** The first part of a file's name, made of a title: letters, digits, spaces, dashes. */
export const fileStem = (title: string, otherwise: string) =>
  title
    .normalize('NFC')
    .replace(/[^\p{L}\p{N} ._-]+/gu, ' ')
    .replace(/\s+/g, ' ')
    .trim()
    .slice(0, 80) || otherwise

/** The name of a rendered file. */
export const fileName = (title: string) => `${fileStem(title, 'mix')}.wav`

/** Forgets the last export and lets go of its file. */
export const forgetExport = (): Thunk => (dispatch, getState) => {
  const { exported } = getState().jobs
  if (exported) URL.revokeObjectURL(exported.url)
  dispatch(exportEnded({ file: null, failure: null }))
}

/**
 * Renders session frames `from` ≤ n < `to` of the mix into a file, as a job; the file or what went wrong is
 * in the store then.
 */
export const renderMix =
  (session: Session, part: { format: WavFormat; from: number; to: number }): Thunk<Promise<void>> =>
  async (dispatch) => {
    dispatch(forgetExport())
    const outcome = await dispatch(
      runJob('export', session.id, (onProgress, signal) =>
        exportMix(session, { ...part, seed: 1 }, onProgress, signal),
      ),
    )
    if (!outcome.done) {
      if (!outcome.cancelled) dispatch(exportEnded({ file: null, failure: outcome.message }))
      return
    }
    const { file, peak, clipped } = outcome.value
    const url = URL.createObjectURL(file)
    const name = fileName(session.title)
    dispatch(
      exportEnded({ file: { session, ...part, url, name, size: file.size, peak, clipped }, failure: null }),
    )
  }
