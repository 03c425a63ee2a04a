import { regionEnd } from '../model/queries'
import type { Region, Session } from '../model/session'

/** A stretch of session frames, `from` ≤ n < `to`. */
export interface Span {
  from: number
  to: number
}

/** The stretches in which two versions of a session may sound different; null where that may be anywhere. */
export function changedSpans(before: Session, after: Session): Span[] | null {
  if (
    before.id !== after.id ||
    before.tracks !== after.tracks ||
    before.mix !== after.mix ||
    before.panLaw !== after.panLaw ||
    before.trackIds !== after.trackIds
  )
    return null
  const spans: Span[] = []
  const add = (r: Region | undefined) => r && spans.push({ from: r.start, to: regionEnd(r) })
  const ids = new Set([...Object.keys(before.regions), ...Object.keys(after.regions)])
  for (const fade of [...Object.values(before.crossfades), ...Object.values(after.crossfades)]) {
    if (before.crossfades[fade.id] === after.crossfades[fade.id]) continue
    for (const id of [fade.leftId, fade.rightId]) {
      add(before.regions[id])
      add(after.regions[id])
    }
  }
  for (const id of ids) {
    const [a, b] = [before.regions[id], after.regions[id]]
    const thread = (s: Session, r: Region | undefined) =>
      r?.gainThreadId ? s.gainThreads[r.gainThreadId] : null
    if (a === b && thread(before, a) === thread(after, b)) continue
    add(a)
    add(b)
  }
  return spans
}
