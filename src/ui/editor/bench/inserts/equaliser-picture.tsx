import { clamp } from '../../../../core/units/clamp'
import { useDrag } from '@use-gesture/react'
import clsx from 'clsx'
import { useMemo, useRef, useState, type KeyboardEvent, type MouseEvent } from 'react'
import { bandResponseDb, equaliserResponseDb, type ProcessorSetup } from '../../../../core/dsp/processors'
import { insertParameter } from '../../../../core/model/inserts/insert-kinds'
import { EQUALISER_BANDS } from '../../../../core/model/inserts/kinds/equaliser'
import { insertValue, type InsertValue } from '../../../../core/model/inserts/insert-values'
import type { Insert } from '../../../../core/model/session'
import { showNumber } from '../../../../core/units/number-scale'
import { dropPreview } from '../../../../store/edits'
import { getPlayer } from '../../../../store/playback/playback'
import { giveInsertValues } from '../../../../store/actions/strip-actions'
import { useAppDispatch, useSize } from '../../../parts/hooks'
import {
  drawFrequencies,
  drawLevels,
  drawLine,
  HIGHEST_HZ,
  hzToX,
  LOWEST_HZ,
  xToHz,
} from '../../drawing/axes'
import { LiveCanvas } from '../../parts/live-canvas'
import { watchedSpectrum } from './watched-spectrum'

/** The gains that are seen, in dB. */
const RANGE_DB = 24
const LINES = [-18, -12, -6, 0, 6, 12, 18]

const dbToY = (db: number, height: number) => ((RANGE_DB - db) / (2 * RANGE_DB)) * height
const yToDb = (y: number, height: number) => RANGE_DB - (y / height) * 2 * RANGE_DB

/** Gain and Q are not of every kind of band. */
const hasGain = (kind: InsertValue) => kind === 'bell' || kind === 'low-shelf' || kind === 'high-shelf'
const isCut = (kind: InsertValue) => kind === 'low-cut' || kind === 'high-cut'

interface Place {
  insert: Insert
  id: string | null
  setup: ProcessorSetup
}

/**
 * The curve of an equaliser over the spectrum before and after it. Each band that is on is a handle: dragging changes frequency
 * and gain, the wheel its Q; arrow keys do the same. A double press on the ground adds a band there, one on a handle switches it off.
 */
export function EqualiserPicture(place: Place) {
  const { insert, id, setup } = place
  const dispatch = useAppDispatch()
  const ground = useRef<HTMLDivElement>(null)
  const { width, height } = useSize(ground)
  const [before] = useState(() => watchedSpectrum('before'))
  const [after] = useState(() => watchedSpectrum('after'))
  const moves = useMemo(() => Object.values(setup.values).some(({ lane }) => lane !== null), [setup])
  const shown = useRef<{ setup: ProcessorSetup; frame: number; width: number; curves: Curves } | null>(null)
  const on = EQUALISER_BANDS.filter((band) => insertValue(insert, `${band}.on`) > 0)
  const addBand = (event: MouseEvent) => {
    if (event.target !== event.currentTarget || !ground.current) return
    const free = EQUALISER_BANDS.find((band) => !on.includes(band))
    if (!free) return
    const box = ground.current.getBoundingClientRect()
    const hz = Math.round(xToHz(event.clientX - box.left, width))
    const gainDb = rounded(yToDb(event.clientY - box.top, height), 0.1)
    dispatch(
      giveInsertValues({
        id,
        insertId: insert.id,
        what: `Add band ${free.slice(1)}`,
        values: {
          [`${free}.on`]: true,
          [`${free}.kind`]: 'bell',
          [`${free}.frequencyHz`]: hz,
          [`${free}.gainDb`]: gainDb,
        },
      }),
    )
  }
  return (
    <div ref={ground} className="absolute inset-0 overflow-hidden">
      <LiveCanvas
        label={`Curve of the equaliser. ${on.map((band) => bandWords(insert, band)).join('; ') || 'No band is on.'}`}
        draw={(ctx, w, h) => {
          const frame = moves ? (getPlayer()?.position() ?? 0) : 0
          const known = shown.current
          if (known?.setup !== setup || known.frame !== frame || known.width !== w)
            shown.current = { setup, frame, width: w, curves: curvesOf(setup, frame, w) }
          const { total, bands } = shown.current!.curves
          const toY = (db: number) => dbToY(db, h)
          drawFrequencies(ctx, w, h)
          drawLevels(ctx, LINES, toY, w)
          for (const spectrum of [before, after]) spectrum.step(w, setup.sampleRate)
          before.draw(ctx, w, h, 'pine', true)
          after.draw(ctx, w, h, 'pine', false)
          const line = (curve: Float64Array) =>
            Array.from(curve, (db, i): [number, number] => [i * STEP, toY(Math.max(-60, db))])
          for (const band of bands) drawLine(ctx, line(band), { dye: 'heather', opacity: 0.35, width: 1 })
          drawLine(ctx, [[0, toY(0)], ...line(total), [w, toY(0)]], {
            dye: 'heather',
            opacity: 0.08,
            fill: toY(0),
          })
          drawLine(ctx, line(total), { dye: 'heather', width: 2.2 })
        }}
      />
      <div
        className="absolute inset-0"
        onDoubleClick={addBand}
        title={on.length < 8 ? 'Double-click adds a bell here' : undefined}
      >
        {on.length === 0 && (
          <p className="pointer-events-none absolute inset-x-0 top-3 text-center text-sm text-soft">
            Double-click anywhere to raise or lower what lies there.
          </p>
        )}
        {width > 0 &&
          on.map((band) => <BandHandle key={band} {...place} band={band} width={width} height={height} />)}
      </div>
    </div>
  )
}

interface Curves {
  total: Float64Array
  bands: readonly Float64Array[]
}

/** Pixels from one point of a curve to the next. */
const STEP = 3

function curvesOf(setup: ProcessorSetup, frame: number, width: number): Curves {
  const frequencies = Float64Array.from({ length: Math.ceil(width / STEP) + 1 }, (_, i) =>
    xToHz(i * STEP, width),
  )
  return {
    total: equaliserResponseDb(setup, frame, frequencies),
    bands: EQUALISER_BANDS.flatMap((_, band) => bandResponseDb(setup, band, frame, frequencies) ?? []),
  }
}

const rounded = (value: number, to: number) => Math.round(value / to) * to
/** Three digits of a frequency are enough for a hand. */
const roundedHz = (hz: number) => Number(hz.toPrecision(3))

function bandWords(insert: Insert, band: string): string {
  const value = (key: string) => insertValue(insert, `${band}.${key}`)
  const words = (key: string) => showNumber(value(key), insertParameter('equaliser', `${band}.${key}`)!.range)
  const kind = insert.values[`${band}.kind`] ?? 'bell'
  const { choices } = insertParameter('equaliser', `${band}.kind`)!
  const name = choices!.find((choice) => choice.value === kind)!.label.toLowerCase()
  return `Band ${band.slice(1)}, ${name}: ${words('frequencyHz')}${hasGain(kind) ? `, ${words('gainDb')}` : ''}${isCut(kind) ? '' : `, Q ${words('q')}`}`
}

function BandHandle({
  insert,
  id,
  setup,
  band,
  width,
  height,
}: Place & { band: string; width: number; height: number }) {
  const dispatch = useAppDispatch()
  const kind = insert.values[`${band}.kind`] ?? 'bell'
  const value = (key: string) => insertValue(insert, `${band}.${key}`)
  const [hz, gainDb, q] = [value('frequencyHz'), hasGain(kind) ? value('gainDb') : 0, value('q')]
  const start = useRef({ hz, gainDb })
  const give = (values: Record<string, number | boolean>, moving = false) =>
    dispatch(
      giveInsertValues(
        {
          id,
          insertId: insert.id,
          what: `Band ${band.slice(1)}`,
          values: Object.fromEntries(Object.entries(values).map(([key, v]) => [`${band}.${key}`, v])),
        },
        moving,
      ),
    )
  const moved = (toHz: number, toDb: number) => ({
    frequencyHz: clamp(roundedHz(toHz), LOWEST_HZ, HIGHEST_HZ),
    ...(hasGain(kind) ? { gainDb: rounded(clamp(toDb, -24, 24), 0.1) } : {}),
  })
  const bind = useDrag<PointerEvent>(
    ({ movement: [dx, dy], first, last, canceled, tap, altKey }) => {
      if (first) start.current = { hz, gainDb }
      const fine = altKey ? 0.2 : 1
      const to = moved(
        xToHz(hzToX(start.current.hz, width) + dx * fine, width),
        start.current.gainDb - ((dy * fine) / height) * 2 * RANGE_DB,
      )
      if (canceled) dispatch(dropPreview())
      else if (!tap) give(to, !last)
    },
    { pointer: { keys: false }, filterTaps: true },
  )
  const onKeyDown = (event: KeyboardEvent) => {
    const fine = event.altKey
    const octaves = fine ? 1 / 48 : 1 / 12
    const by = fine ? 0.1 : 0.5
    const to =
      event.key === 'ArrowLeft'
        ? moved(hz * 2 ** -octaves, gainDb)
        : event.key === 'ArrowRight'
          ? moved(hz * 2 ** octaves, gainDb)
          : event.key === 'ArrowUp'
            ? moved(hz, gainDb + by)
            : event.key === 'ArrowDown'
              ? moved(hz, gainDb - by)
              : event.key === 'Delete' || event.key === 'Backspace'
                ? { on: false }
                : null
    if (!to) return
    event.preventDefault()
    event.stopPropagation()
    give(to)
  }
  // Where the curve of the band itself is at its frequency: a cut is 3 dB down there.
  const index = EQUALISER_BANDS.indexOf(band as (typeof EQUALISER_BANDS)[number])
  const own = hasGain(kind)
    ? gainDb
    : kind === 'notch'
      ? 0
      : (bandResponseDb(setup, index, 0, [hz])?.[0] ?? -3)
  return (
    <button
      type="button"
      {...bind()}
      data-handle=""
      aria-label={bandWords(insert, band)}
      title={`${bandWords(insert, band)}. Drag it; wheel: Q; arrow keys; Delete or a double press switches it off`}
      onKeyDown={onKeyDown}
      onDoubleClick={() => give({ on: false })}
      onWheel={(event) => {
        if (!isCut(kind)) give({ q: clamp(Number((q * 2 ** (-event.deltaY / 500)).toPrecision(3)), 0.1, 30) })
      }}
      className={clsx(
        'absolute flex h-6 w-6 select-none -translate-x-1/2 -translate-y-1/2 cursor-grab touch-none items-center justify-center rounded-full border-2 border-heather bg-linen font-mono text-2xs font-bold text-ink shadow-sm active:cursor-grabbing',
      )}
      style={{
        left: clamp(hzToX(hz, width), 10, width - 10),
        top: clamp(dbToY(own, height), 12, height - 12),
      }}
    >
      {band.slice(1)}
    </button>
  )
}
