import { clamp } from '../../../../core/units/clamp'
import { useCallback, useMemo, useRef } from 'react'
import { processorKind, type ProcessorSetup } from '../../../../core/dsp/processors'
import { insertKindOf } from '../../../../core/model/inserts/insert-kinds'
import { FOUR_BANDS } from '../../../../core/model/inserts/kinds/four-bands'
import type { Insert } from '../../../../core/model/session'
import { gainToDb } from '../../../../core/units/decibel'
import { getPlayer } from '../../../../store/playback/playback'
import { colour, faded } from '../../../look/colours'
import { write } from '../../../look/writing'
import { drawFrequencies, drawLevels, drawLine, FIGURES, hzToX } from '../../drawing/axes'
import { LiveCanvas } from '../../parts/live-canvas'

/** Seconds of the past that are seen, and how often they are looked at. */
const SECONDS = 6
const STEPS = 360
const LOWEST_DB = -60

const one = (db: number) => db.toFixed(1).replace('-', '−')

const DYES = ['madder', 'weld', 'pine', 'woad'] as const

/**
 * What turns down: the curve of steady levels with the level that moves on it, and the reduction of the last seconds, from
 * the top down, of each band in a dye of its own.
 */
export function ReductionPicture({
  insert,
  setup,
  slots,
}: {
  insert: Insert
  setup: ProcessorSetup
  /** Where the numbers of what comes in, and of what leaves it, begin in a row of meters. */
  slots: { before: number; after: number }
}) {
  const past = useRef({ at: 0, next: 0, values: new Float32Array(STEPS * 4) })
  const kind = insertKindOf(insert.kind)
  const bands = Math.max(1, new Set(kind.parameters.flatMap((p) => p.group ?? [])).size)
  const range = kind.reduces === 'soft' ? 48 : 24
  const steadyOf = useCallback(
    (frame: number) => processorKind(insert.kind).steadyCurve?.(setup, frame) ?? null,
    [insert.kind, setup],
  )
  const curve = useMemo(() => steadyOf(0) !== null, [steadyOf])
  const words = useMemo(() => {
    const steady = steadyOf(0)
    if (!steady) return 'Reduction of each of the four bands, now and over the last 6 seconds'
    const examples = [-40, -20, -10, 0].map((db) => `${one(db)} as ${one(steady.of(db))}`)
    return `Steady levels come out so, in dB: ${examples.join(', ')}. Beside it the reduction of the last 6 seconds.`
  }, [steadyOf])
  return (
    <LiveCanvas
      label={words}
      draw={(ctx, width, height) => {
        const numbers = slots.after < 0 ? null : (getPlayer()?.meters() ?? null)
        const side = Math.min(curve ? height : 2 * height, width * 0.4)
        if (!curve) drawBands(ctx, side, height, range, setup, numbers && numbers.subarray(slots.after + 3))
        else drawCurve(ctx, side, height, insert.kind, setup, slots, numbers)
        // One place of the past for each sixtieth of a second.
        const p = past.current
        const now = performance.now()
        // What was before it is seen is not known.
        const passed = p.at === 0 ? 1 / 60 : (now - p.at) / 1000
        const steps = Math.min(STEPS, Math.floor(passed * (STEPS / SECONDS)))
        if (numbers && steps > 0) {
          p.at = now
          for (let n = 0; n < steps; n++, p.next = (p.next + 1) % STEPS)
            for (let b = 0; b < 4; b++) p.values[p.next * 4 + b] = numbers[slots.after + 3 + b]!
        }
        const left = side + 28
        const span = width - left - 8
        const toY = (db: number) => (db / range) * height
        ctx.save()
        ctx.translate(left, 0)
        drawLevels(ctx, [0, range / 4, range / 2, (3 * range) / 4], toY, span, (db) => (db ? `−${db}` : ''))
        for (let b = 0; b < bands; b++) {
          const points = Array.from({ length: STEPS }, (_, i): [number, number] => [
            (i / (STEPS - 1)) * span,
            toY(Math.min(range, p.values[((p.next + i) % STEPS) * 4 + b]!)),
          ])
          const dye = bands === 1 ? 'madder' : DYES[b]!
          if (bands === 1) drawLine(ctx, points, { dye, opacity: 0.2, fill: 0 })
          drawLine(ctx, points, { dye })
          if (bands > 1)
            write(ctx, FOUR_BANDS[b]![1], span - 60, height - 46 + b * 12, { ...FIGURES, face: 'words', dye })
        }
        write(ctx, 'turned down, last 6 s', 4, height - 8, { ...FIGURES, face: 'words' })
        ctx.restore()
      }}
    />
  )
}

/** Four ranges of frequencies, and how far each is turned down now, from the top. */
function drawBands(
  ctx: CanvasRenderingContext2D,
  side: number,
  height: number,
  range: number,
  { values }: ProcessorSetup,
  reductions: Float32Array<ArrayBufferLike> | null,
): void {
  const frame = getPlayer()?.position() ?? 0
  const ends = [1, 2, 3].map((n) => hzToX(values[`crossover${n}Hz`]!.at(frame), side))
  ctx.fillStyle = colour('cloth')
  ctx.fillRect(0, 0, side, height)
  ;[0, ...ends].forEach((from, band) => {
    const to = ends[band] ?? side
    const down = Math.min(1, (reductions?.[band] ?? 0) / range) * height
    ctx.fillStyle = faded(DYES[band]!, 0.35)
    ctx.fillRect(from + 1, 0, to - from - 2, down)
    ctx.fillStyle = colour(DYES[band]!)
    ctx.fillRect(from + 1, Math.max(0, down - 2), to - from - 2, 2)
    if (to - from > 30)
      write(ctx, FOUR_BANDS[band]![1], from + 5, height - 20, { ...FIGURES, face: 'words', dye: DYES[band]! })
  })
  drawFrequencies(ctx, side, height)
  ctx.fillStyle = colour('walnut')
  for (const x of ends) ctx.fillRect(Math.round(x), 0, 1, height)
}

function drawCurve(
  ctx: CanvasRenderingContext2D,
  side: number,
  height: number,
  kind: Insert['kind'],
  setup: ProcessorSetup,
  slots: { before: number; after: number },
  numbers: Float32Array<ArrayBufferLike> | null,
): void {
  const frame = getPlayer()?.position() ?? 0
  const { of: out, makeupDb } = processorKind(kind).steadyCurve!(setup, frame)
  const toX = (db: number) => (1 - db / LOWEST_DB) * side
  const toY = (db: number) =>
    (clamp(db, LOWEST_DB, 6) / (LOWEST_DB - 6)) * height + (6 / (6 - LOWEST_DB)) * height
  ctx.fillStyle = colour('cloth')
  ctx.fillRect(0, 0, side, height)
  ctx.strokeStyle = faded('seam', 0.7)
  ctx.lineWidth = 1
  for (const db of [-48, -36, -24, -12, 0]) {
    ctx.beginPath()
    ctx.moveTo(toX(db), 0)
    ctx.lineTo(toX(db), height)
    ctx.moveTo(0, toY(db))
    ctx.lineTo(side, toY(db))
    ctx.stroke()
    write(ctx, db ? `−${-db}` : '0', toX(db) - 22, height - 7, FIGURES)
  }
  const line = (of: (db: number) => number) =>
    Array.from({ length: 121 }, (_, i): [number, number] => {
      const db = LOWEST_DB + (i / 120) * -LOWEST_DB
      return [toX(db), toY(of(db))]
    })
  drawLine(
    ctx,
    line((db) => db),
    { dye: 'walnut', opacity: 0.3, width: 1 },
  )
  drawLine(ctx, line(out), { dye: 'heather', width: 2 })
  write(ctx, 'in →', side - 28, height - 20, { ...FIGURES, face: 'words' })
  write(ctx, '↑ out', 5, 10, { ...FIGURES, face: 'words' })
  if (!numbers || slots.before < 0) return
  const level = gainToDb(Math.max(1e-5, numbers[slots.before]!, numbers[slots.before + 1]!))
  if (level <= LOWEST_DB) return
  // Where it is now: what comes in, less what is taken off at this moment.
  const now = level - numbers[slots.after + 3]! + makeupDb
  ctx.fillStyle = colour('madder')
  ctx.beginPath()
  ctx.arc(toX(Math.min(0, level)), toY(now), 4.5, 0, 2 * Math.PI)
  ctx.fill()
}
