import { mixAside, plainMix } from '../core/model/plain-mix'
import type { Session } from '../core/model/session'
import { showTime } from '../core/units/typed'
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

/** The name that is proposed for a rendered file: what it holds. */
export function proposedName(
  session: Session,
  { plain, range }: { plain: boolean; range: { from: number; to: number } | null },
): string {
  const { soloed } = mixAside(session)
  const what =
    plain || soloed.length === 0 ? 'mix' : soloed.length === 1 ? soloed[0]! : `${soloed.length} tracks`
  const time = (frame: number) => showTime(frame, session.sampleRate, 0).replace(':', '.')
  const span = range ? ` ${time(range.from)} to ${time(range.to)}` : ''
  return fileStem(`${session.title} - ${what}${span}`, 'mix')
}

/** Forgets the last export and lets go of its file. */
export const forgetExport = (): Thunk => (dispatch, getState) => {
  const { exported } = getState().jobs
  if (exported) URL.revokeObjectURL(exported.url)
  dispatch(exportEnded({ file: null, failure: null }))
}

/**
 * Renders session frames `from` ≤ n < `to` of the mix into a file of a name, as it is heard or, with `plain`, with nothing
 * soloed, muted or bypassed; as a job; the file or what went wrong is
 * in the store then.
 */
export const renderMix =
  (
    session: Session,
    { name: stem, ...part }: { format: WavFormat; from: number; to: number; plain: boolean; name: string },
  ): Thunk<Promise<void>> =>
  async (dispatch) => {
    dispatch(forgetExport())
    const { plain, ...options } = part
    const outcome = await dispatch(
      runJob('export', session.id, (onProgress, signal) =>
        exportMix(plain ? plainMix(session) : session, { ...options, seed: 1 }, onProgress, signal),
      ),
    )
    if (!outcome.done) {
      if (!outcome.cancelled) dispatch(exportEnded({ file: null, failure: outcome.message }))
      return
    }
    const { file, ...measured } = outcome.value
    const url = URL.createObjectURL(file)
    const name = `${fileStem(stem, 'mix')}.wav`
    dispatch(
      exportEnded({ file: { session, ...part, ...measured, url, name, size: file.size }, failure: null }),
    )
  }
