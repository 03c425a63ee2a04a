import { clamp } from '../../../../core/units/clamp'
import { echoesOf, type ProcessorSetup } from '../../../../core/dsp/processors'
import { getPlayer } from '../../../../store/playback/playback'
import { beatToSeconds, secondsToBeat, type TempoChange } from '../../../../core/units/tempo'
import { colour, faded } from '../../../look/colours'
import { write } from '../../../look/writing'
import { drawLevels, FIGURES } from '../../drawing/axes'
import { LiveCanvas } from '../../parts/live-canvas'

/** The length of a beat at a frame, the time of the delay there, and its repeats. */
function repeatsAt({ values, sampleRate }: ProcessorSetup, tempo: readonly TempoChange[], frame: number) {
  const seconds = frame / sampleRate
  const beatMs = (beatToSeconds(tempo, secondsToBeat(tempo, seconds) + 1) - seconds) * 1000
  const beats = values.noteValue!.still
  const timeMs = beats > 0 ? beats * beatMs : values.timeMs!.at(frame)
  return {
    beatMs,
    timeMs,
    echoes: echoesOf({ timeMs, feedback: values.feedback!.at(frame), mix: values.mix!.at(frame) }),
  }
}

function words(setup: ProcessorSetup, tempo: readonly TempoChange[]): string {
  const { echoes, beatMs } = repeatsAt(setup, tempo, 0)
  const first = echoes
    .slice(0, 4)
    .map(({ ms, db }) => `${Math.round(ms)} ms at ${db.toFixed(1).replace('-', '−')} dB`)
  return `${echoes.length} repeats: ${first.join(', ')}${echoes.length > 4 ? ' …' : ''}. A beat is ${Math.round(beatMs)} ms.`
}

/** The repeats of a delay after the sound, against the beats of the grid. */
export function EchoPicture({ setup, tempo }: { setup: ProcessorSetup; tempo: readonly TempoChange[] }) {
  return (
    <LiveCanvas
      label={words(setup, tempo)}
      draw={(ctx, width, height) => {
        const frame = getPlayer()?.position() ?? 0
        const { values } = setup
        const { beatMs, timeMs, echoes } = repeatsAt(setup, tempo, frame)
        const seen = clamp(echoes.at(-1)?.ms ?? 0, 4 * timeMs, 8 * timeMs) * 1.08
        const left = 30
        const toX = (ms: number) => left + (ms / seen) * (width - left - 12)
        const toY = (db: number) => 10 + (-db / 60) * (height - 30)
        drawLevels(ctx, [0, -20, -40], toY, width)
        ctx.fillStyle = faded('seam', 0.9)
        for (let ms = 0; ms < seen; ms += beatMs) ctx.fillRect(toX(ms), 0, 1, height - 16)
        const stem = (ms: number, db: number, dye: 'heather' | 'pine') => {
          ctx.fillStyle = colour(dye)
          ctx.fillRect(toX(ms) - 1.5, toY(db), 3, height - 20 - toY(db))
          ctx.beginPath()
          ctx.arc(toX(ms), toY(db), 4, 0, 2 * Math.PI)
          ctx.fill()
        }
        stem(0, 20 * Math.log10(Math.max(1e-3, 1 - values.mix!.at(frame))), 'pine')
        for (const { ms, db } of echoes) if (ms < seen) stem(ms, db, 'heather')
        write(ctx, `sound`, toX(0) + 6, height - 8, { ...FIGURES, face: 'words' })
        write(ctx, `${Math.round(timeMs)} ms`, toX(timeMs) + 4, height - 8, FIGURES)
      }}
    />
  )
}
