import { clamp } from '../../../../core/units/clamp'
import { saturated, type ProcessorSetup, type SaturatorShape } from '../../../../core/dsp/processors'
import { getPlayer } from '../../../../store/playback/playback'
import { faded } from '../../../look/colours'
import { write } from '../../../look/writing'
import { drawLine, FIGURES } from '../../drawing/axes'
import { LiveCanvas } from '../../parts/live-canvas'

const SHAPES: readonly SaturatorShape[] = ['soft', 'hard', 'asymmetric']

const valuesAt = ({ values }: ProcessorSetup, frame: number) => ({
  driveDb: values.driveDb!.at(frame),
  shape: SHAPES[values.shape!.still]!,
  mix: values.mix!.at(frame),
  outputDb: values.outputDb!.at(frame),
})

function words(setup: ProcessorSetup): string {
  const of = valuesAt(setup, 0)
  const examples = [-1, -0.5, 0.1, 0.5, 1].map((x) => `${x} as ${saturated(x, of).toFixed(2)}`)
  return `Samples come out so: ${examples.join(', ')}. Over the curve how far the sound reaches now.`
}

/** What a saturator makes of samples: its curve, and over it the part that the sound reaches now. */
export function SaturatorPicture({ setup, before }: { setup: ProcessorSetup; before: number }) {
  return (
    <LiveCanvas
      label={words(setup)}
      draw={(ctx, width, height) => {
        const frame = getPlayer()?.position() ?? 0
        const of = valuesAt(setup, frame)
        const side = Math.min(width - 16, height * 2)
        const left = (width - side) / 2
        const toX = (x: number) => left + ((x + 1) / 2) * side
        const toY = (y: number) => height / 2 - (clamp(y, -1.2, 1.2) / 1.2) * (height / 2)
        ctx.strokeStyle = faded('seam', 0.8)
        ctx.lineWidth = 1
        for (const x of [-1, -0.5, 0, 0.5, 1]) {
          ctx.beginPath()
          ctx.moveTo(toX(x), 0)
          ctx.lineTo(toX(x), height)
          ctx.moveTo(left, toY(x))
          ctx.lineTo(left + side, toY(x))
          ctx.stroke()
        }
        const line = (from: number, to: number, f: (x: number) => number) =>
          Array.from({ length: 161 }, (_, i): [number, number] => {
            const x = from + (i / 160) * (to - from)
            return [toX(x), toY(f(x))]
          })
        drawLine(
          ctx,
          line(-1, 1, (x) => x),
          { dye: 'walnut', opacity: 0.3, width: 1 },
        )
        drawLine(
          ctx,
          line(-1, 1, (x) => saturated(x, of)),
          { dye: 'heather', width: 2 },
        )
        const numbers = before < 0 ? null : getPlayer()?.meters()
        const peak = numbers ? Math.min(1, Math.max(numbers[before]!, numbers[before + 1]!)) : 0
        if (peak > 0.002)
          drawLine(
            ctx,
            line(-peak, peak, (x) => saturated(x, of)),
            { dye: 'madder', width: 3 },
          )
        write(ctx, 'in →', left + side - 30, height - 8, { ...FIGURES, face: 'words' })
        write(ctx, '↑ out', left + 4, 10, { ...FIGURES, face: 'words' })
      }}
    />
  )
}
