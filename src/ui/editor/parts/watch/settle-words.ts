import { processorKind } from '../../../../core/dsp/processors'
import { insertKindOf } from '../../../../core/model/inserts/insert-kinds'
import type { Session } from '../../../../core/model/session'
import { rowOf } from '../../../../core/model/strips'
import type { RenderPlan } from '../../../../core/render'

/** Shorter memories are not spoken of, in seconds. */
const WORTH_SAYING = 2

const seconds = (frames: number, rate: number) =>
  frames / rate < 120 ? `${Math.round(frames / rate)} s` : `${Math.round(frames / rate / 60)} min`

/**
 * How long it takes after a jump or an edit until what is heard is what the file will be, and which insert remembers longest;
 * nothing where that is short.
 */
export function settleWords(session: Session, plan: RenderPlan): string {
  const { settleFrames } = plan.memory
  if (settleFrames / plan.sampleRate <= WORTH_SAYING) return ''
  let longest = { frames: 0, words: '' }
  const strips = [
    ...plan.tracks.map((t) => ({ whose: `of “${rowOf(session, t.id)?.name ?? ''}”`, inserts: t.inserts })),
    { whose: 'of the mix', inserts: [...plan.mix.inserts, ...plan.mix.lastInserts] },
  ]
  for (const { whose, inserts } of strips)
    for (const { kind, setup } of inserts) {
      const frames = processorKind(kind).memory(setup)?.settleFrames ?? 0
      if (frames > longest.frames)
        longest = { frames, words: `${insertKindOf(kind).name.toLowerCase()} ${whose}` }
    }
  return `Settles in ${seconds(settleFrames, plan.sampleRate)} after a jump: ${longest.words}, ${seconds(longest.frames, plan.sampleRate)}.`
}
