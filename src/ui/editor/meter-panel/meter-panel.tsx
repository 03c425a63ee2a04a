import clsx from 'clsx'
import { RotateCcw, X } from 'lucide-react'
import { memo, useEffect, useMemo, useRef, type RefObject } from 'react'
import { stageId, type ProbedStage } from '../../../core/render'
import type { Watched } from '../../../engine/playback'
import type { HeardPlace } from '../../../engine/playback'
import { parameterOfBead } from '../../../store/beads'
import { current } from '../../../store/current'
import { getPlayer } from '../../../store/playback/playback'
import { pathTrack, shownSession } from '../../../store/selectors'
import { setWatch } from '../../../store/playback/watching'
import { metersLed, metersShown } from '../../../store/view'
import { showText, useAppDispatch, useAppSelector, useFrame } from '../../parts/hooks'
import { drawFrequencies } from '../drawing/axes'
import { LiveCanvas } from '../parts/live-canvas'
import { LiveSpectrum } from '../parts/inserts/live-spectrum'
import { drawLevelBars, drawScope } from './draw-panel'
import { LiveMeasure } from './live-measure'

const LEADS = [
  { of: 'mix', text: 'Mix', title: 'The mix, as it is heard' },
  { of: 'strip', text: 'Strip', title: 'The picked track or bus, after its fader and pan' },
  { of: 'here', text: 'Here', title: 'The sound as it leaves the picked bead of the Path' },
] as const

/** Between two changes of the figures, in milliseconds. */
const FIGURES_MS = 100

const written = (value: number) => (value < -99 ? '—' : value.toFixed(1).replace('-', '−'))

/**
 * What is heard in figures and pictures: loudness, levels, phase and spectrum, of the mix, of a strip or of a place of the Path. It
 * measures only while it is shown.
 */
export const MeterPanel = memo(function MeterPanel() {
  const dispatch = useAppDispatch()
  const of = useAppSelector((s) => s.preferences.metersOf)
  const playing = useAppSelector((s) => s.transport.playing)
  const sampleRate = useAppSelector((s) => s.session.session!.sampleRate)
  const name = useAppSelector((s) => (of === 'mix' ? null : (pathTrack(s)?.name ?? null)))
  const place = usePlace(of)
  useEffect(() => {
    setWatch({ scope: place })
    return () => setWatch({ scope: null })
  }, [place])
  const measure = useMemo(() => new LiveMeasure(sampleRate), [sampleRate])
  // Another place, or another start, is another measurement.
  useEffect(() => measure.reset(), [measure, place, of])
  useEffect(() => {
    if (playing) measure.reset()
  }, [measure, playing])
  useMeasuring(measure, of === 'mix' ? 'mix' : 'scope')
  const mono = useRef<Float32Array>(null)
  const spectrum = useMemo(
    () =>
      new LiveSpectrum((samples) => {
        if (!getPlayer()?.playing) return null
        const { left, right } = measure
        const from = left.length - samples
        const mid = (mono.current ??= new Float32Array(samples))
        for (let i = 0; i < samples; i++) mid[i] = (left[from + i]! + right[from + i]!) / 2
        return mid
      }),
    [measure],
  )
  return (
    <aside
      aria-label="Meters"
      className="apart flex w-56 shrink-0 flex-col gap-2 overflow-y-auto border-l border-seam bg-cloth p-2 select-none [scrollbar-width:thin]"
    >
      <div className="flex items-center gap-1">
        <div role="radiogroup" aria-label="What is measured" className="flex flex-1 gap-0.5">
          {LEADS.map(({ of: lead, text, title }) => (
            <button
              key={lead}
              type="button"
              role="radio"
              aria-checked={of === lead}
              title={title}
              onClick={() => dispatch(metersLed(lead))}
              className={clsx(
                'h-6 rounded-md px-2 text-xs font-medium',
                of === lead ? 'bg-oak text-white' : 'hover:bg-fold',
              )}
            >
              {text}
            </button>
          ))}
        </div>
        <button
          type="button"
          aria-label="Measure from now on"
          title="Measure from now on: integrated loudness, range and true peak begin anew"
          onClick={() => measure.reset()}
          className="flex h-6 w-6 items-center justify-center rounded-md text-soft hover:bg-fold hover:text-ink"
        >
          <RotateCcw size={14} />
        </button>
        <button
          type="button"
          aria-label="Hide the meters"
          title="Hide the meters"
          onClick={() => dispatch(metersShown(false))}
          className="flex h-6 w-6 items-center justify-center rounded-md text-soft hover:bg-fold hover:text-ink"
        >
          <X size={15} />
        </button>
      </div>
      {name !== null && (
        <p className="-mt-1 truncate text-xs text-soft">
          {name}
          {of === 'here' && ', at the picked bead'}
        </p>
      )}
      <Figures measure={measure} />
      <LiveCanvas
        className="relative h-11 shrink-0"
        label="Level of left and right: RMS full, the peak pale, its highest place as a line"
        draw={(ctx, width, height) => drawLevelBars(ctx, measure, width, height)}
      />
      <LiveCanvas
        everyMs={45}
        className="relative aspect-square max-h-52 min-h-24 w-full shrink overflow-hidden rounded-lg bg-linen"
        label="Phase: left and right turned by 45°, so that what is alike stands upright"
        draw={(ctx, width, height) => drawScope(ctx, measure, width, height)}
      />
      <LiveCanvas
        everyMs={45}
        turn={0.5}
        className="relative h-24 shrink-0 overflow-hidden rounded-lg bg-linen"
        label="Spectrum from 20 Hz to 20 kHz"
        draw={(ctx, width, height) => {
          drawFrequencies(ctx, width, height)
          spectrum.step(width, sampleRate)
          spectrum.draw(ctx, width, height, 'pine', true)
        }}
      />
    </aside>
  )
})

/** The place that is measured besides the mix as it is heard. */
function usePlace(of: 'mix' | 'strip' | 'here'): Watched | null {
  const words = useAppSelector((s) => {
    if (of === 'mix' || !shownSession(s)) return ''
    const track = pathTrack(s)
    if (!track) return ''
    if (of === 'strip') return JSON.stringify({ stripId: track.id, insertId: stageId('pan') })
    const { lead } = s.selection
    if (lead.kind === 'insert')
      return JSON.stringify({ stripId: lead.ref.stripId, insertId: lead.ref.insertId })
    const { bead } = current(s)
    const at = parameterOfBead(bead)
    return JSON.stringify({
      stripId: at?.mix ? null : track.id,
      insertId: stageId((at?.parameter.key ?? bead) as ProbedStage),
    })
  })
  return useMemo(() => (words === '' ? null : (JSON.parse(words) as Watched)), [words])
}

/** Feeds what is heard to the measuring, with every picture, and twice a second where there are none. */
function useMeasuring(measure: LiveMeasure, what: 'mix' | 'scope'): void {
  const since = useRef<HeardPlace | null>(null)
  const last = useRef(0)
  const step = useRef(() => undefined as void)
  useEffect(() => {
    since.current = null
  }, [what])
  useEffect(() => {
    step.current = () => {
      const now = performance.now()
      const seconds = Math.min(0.5, (now - last.current) / 1000)
      last.current = now
      const heard = getPlayer()?.heardSince(what, since.current) ?? null
      since.current = heard?.at ?? null
      if (heard) measure.add(heard.left, heard.right)
      else measure.rest(seconds)
    }
  }, [measure, what])
  useFrame(() => step.current())
  useEffect(() => {
    const timer = setInterval(() => document.hidden && step.current(), 500)
    return () => clearInterval(timer)
  }, [])
}

/** Figures that are read from two metres, and the others below them. */
function Figures({ measure }: { measure: LiveMeasure }) {
  const momentary = useRef<HTMLElement>(null)
  const shortTerm = useRef<HTMLElement>(null)
  const integrated = useRef<HTMLElement>(null)
  const range = useRef<HTMLElement>(null)
  const truePeak = useRef<HTMLElement>(null)
  const correlation = useRef<HTMLElement>(null)
  const told = useRef(0)
  useFrame(() => {
    // Figures that change more often cannot be read.
    if (performance.now() - told.current < FIGURES_MS) return
    told.current = performance.now()
    const { now, whole, truePeakDb } = measure
    const put = (at: RefObject<HTMLElement | null>, text: string) => at.current && showText(at.current, text)
    put(momentary, written(now.momentary))
    put(shortTerm, written(now.shortTerm))
    put(integrated, written(whole.integrated))
    put(range, whole.range.toFixed(1))
    put(truePeak, written(truePeakDb))
    truePeak.current?.classList.toggle('text-fault', truePeakDb > 0)
    put(correlation, measure.correlation.toFixed(2).replace('-', '−'))
    correlation.current?.classList.toggle('text-fault', measure.correlation < -0.3)
  })
  return (
    <dl className="grid grid-cols-2 gap-x-3 gap-y-1">
      <div className="col-span-2">
        <dt className="text-2xs leading-3 text-soft">short-term, LUFS</dt>
        <dd ref={shortTerm} className="font-mono text-[2.9rem] leading-none font-bold tracking-tight">
          —
        </dd>
      </div>
      <Figure name="momentary, LUFS" at={momentary} large />
      <Figure name="true peak, dBTP" at={truePeak} large />
      <Figure name="integrated, LUFS" at={integrated} />
      <Figure name="range, LU" at={range} />
      <Figure name="left against right" at={correlation} />
    </dl>
  )
}

function Figure({
  name,
  at,
  large = false,
}: {
  name: string
  at: RefObject<HTMLElement | null>
  large?: boolean
}) {
  return (
    <div>
      <dt className="text-2xs leading-3 text-soft">{name}</dt>
      <dd
        ref={at}
        className={clsx('font-mono font-semibold', large ? 'text-2xl leading-7' : 'text-base leading-5')}
      >
        —
      </dd>
    </div>
  )
}
