import { gainToDb } from '../src/core/units/decibel'
import { listSeams, measureSeamOf } from '../src/core/suggest/seams'
import { openSessionFile, sourceReader } from './session-file'

const rounded = (x: number) => Math.round(x * 100) / 100

/** `oaken seams`: every edge and join of a session with its measured jump, whether it clicks, and the shortest cure. */
export async function seams(file: string): Promise<object[]> {
  const opened = await openSessionFile(file)
  const { session } = opened
  const reader = await sourceReader(file, opened)
  return listSeams(session).map((seam) => {
    const { jump, times, clicks, cure } = measureSeamOf(session, seam, reader)
    return {
      track: session.tracks[seam.trackId]!.name,
      kind: seam.kind,
      frame: seam.frame,
      seconds: seam.frame / session.sampleRate,
      left: seam.leftId,
      right: seam.rightId,
      jumpDb: jump > 0 ? rounded(gainToDb(jump)) : null,
      times: rounded(times),
      clicks,
      cure: cure && { ...cure, lengthMs: rounded((cure.lengthFrames / session.sampleRate) * 1000) },
    }
  })
}
