import { gainToDb } from '../src/core/units/decibel'
import { listSeams, measureSeamOf, seamSpans } from '../src/core/suggest/seams'
import { openSessionFile, openSounds } from './session-file'

const rounded = (x: number) => Math.round(x * 100) / 100

/** `oaken seams`: every edge and join of a session with its measured jump, whether it clicks, and the shortest cure. */
export async function seams(file: string): Promise<object[]> {
  const opened = await openSessionFile(file)
  const sounds = await openSounds(file, opened).catch(async (error: unknown) => {
    await opened.close()
    throw error
  })
  try {
    const { session } = opened
    const list: object[] = []
    for (const seam of listSeams(session)) {
      const { jump, times, clicks, cure } = await sounds.cache.using(seamSpans(session, seam), () =>
        measureSeamOf(session, seam, sounds.cache),
      )
      list.push({
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
      })
    }
    return list
  } finally {
    await sounds.close()
    await opened.close()
  }
}
