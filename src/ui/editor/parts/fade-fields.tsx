import { least } from '../../../core/units/extremes'
import { ChevronDown } from 'lucide-react'
import { DropdownMenu } from 'radix-ui'
import { setFade, type FadeChange, type FadeEdge } from '../../../core/edit'
import { fadeCurve } from '../../../core/curve/fade'
import { regionEnd } from '../../../core/model/queries'
import { fadeCurves, type FadeCurve, type Region, type Session } from '../../../core/model/session'
import { findPhrases, usualFloor } from '../../../core/suggest/even-out'
import { parseLength, parsePercent, showLength } from '../../../core/units/typed'
import { phraseSteps } from '../../../engine/analysis'
import { commit, dropPreview, preview } from '../../../store/edits'
import { getPlayer } from '../../../store/playback'
import { useAppDispatch, useAppSelector } from '../../parts/hooks'
import { toast } from '../../parts/toast'
import { ValueField } from '../../parts/value-field'

export const curveNames: Record<FadeCurve, string> = {
  linear: 'Linear',
  'equal-power': 'Equal power',
  's-curve': 'S-curve',
  exponential: 'Exponential (slow start)',
  logarithmic: 'Logarithmic (fast start)',
}

/** A small picture of a curve, rising for a fade in and falling for a fade out. */
export function CurvePicture({
  curve,
  falling,
  small,
}: {
  curve: FadeCurve
  falling?: boolean
  small?: boolean
}) {
  const path = Array.from(
    { length: 13 },
    (_, i) =>
      `${i ? 'L' : 'M'}${(1 + (18 * i) / 12).toFixed(1)} ${(15 - 14 * fadeCurve(curve, i / 12)).toFixed(1)}`,
  ).join('')
  return (
    <svg
      viewBox="0 0 20 16"
      className={`h-4 ${small ? 'w-4' : 'w-5'} ${falling ? '-scale-x-100' : ''}`}
      aria-hidden
    >
      <path d={path} fill="none" stroke="currentColor" strokeWidth="1.8" strokeLinecap="round" />
    </svg>
  )
}

/** The five curves to choose from. `onTry` is called while the pointer is over one, with null when it leaves. */
export function CurveChoice({
  label,
  value,
  falling,
  small,
  disabled,
  onChange,
  onTry,
}: {
  label: string
  value: FadeCurve | null
  falling?: boolean
  small?: boolean
  disabled?: boolean
  onChange(curve: FadeCurve): void
  onTry?(curve: FadeCurve | null): void
}) {
  return (
    <div
      className="flex rounded-lg border border-seam bg-linen"
      role="group"
      aria-label={label}
      onPointerLeave={() => onTry?.(null)}
    >
      {fadeCurves.map((curve) => (
        <button
          key={curve}
          type="button"
          title={curveNames[curve]}
          aria-label={curveNames[curve]}
          disabled={disabled}
          aria-pressed={value === curve}
          onPointerEnter={() => onTry?.(curve)}
          onClick={() => onChange(curve)}
          className={`flex flex-1 justify-center rounded-lg ${small ? 'px-0.5' : 'px-1.5'} py-1.5 hover:bg-white disabled:opacity-40 aria-pressed:bg-oak aria-pressed:text-white`}
        >
          <CurvePicture curve={curve} {...(falling ? { falling } : {})} {...(small ? { small } : {})} />
        </button>
      ))}
    </div>
  )
}

/** What of a fade several regions share: its value where all agree, else null. */
function shared<T>(values: readonly T[]): T | null {
  return values.every((v) => v === values[0]) ? (values[0] ?? null) : null
}

/** The fades in or out of the selected regions as fields; `full` with all they have, else only length and curve. */
export function FadeFields({
  session,
  regions,
  edge,
  full,
}: {
  session: Session
  regions: readonly Region[]
  edge: FadeEdge
  full: boolean
}) {
  const dispatch = useAppDispatch()
  const playing = useAppSelector((s) => s.transport.playing)
  const regionIds = regions.map((r) => r.id)
  const key = edge === 'in' ? 'fadeIn' : 'fadeOut'
  const fades = regions.map((r) => r[key])
  const first = fades[0] ?? null
  const alike = fades.every((f) => f?.length === first?.length)
  const any = fades.some((f) => f !== null)
  const shortest = least(regions, (r) => r.length)
  const context = { sampleRate: session.sampleRate, bpm: session.tempo[0]!.bpm }
  const change = (what: FadeChange) => void dispatch(commit(setFade, { regionIds, edge, change: what }))
  const tape = first?.kind === 'tape'
  const curve = tape ? null : shared(fades.flatMap((f) => f?.curve ?? []))
  const tried = (c: FadeCurve | null) => {
    // Heard while it plays; pressing keeps it.
    if (!playing || !any) return
    if (c === null) dispatch(dropPreview())
    else dispatch(preview(setFade, { regionIds, edge, change: { curve: c, kind: 'gain' } }))
  }
  const length = (
    <ValueField
      name={`fade-${edge}`}
      className="flex-1"
      label={`Fade ${edge}`}
      shown={alike ? (first ? showLength(first.length, session.sampleRate) : 'none') : ''}
      placeholder={alike ? undefined : 'several lengths'}
      parse={(text) =>
        /^\s*(none|no|off|-)\s*$/i.test(text)
          ? { ok: true, value: 0 }
          : parseLength(text, context, { min: 0, max: shortest })
      }
      onValue={(lengthFrames) => change({ lengthFrames })}
      onNudge={(direction, fine) =>
        change({ byFrames: direction * Math.round(session.sampleRate * (fine ? 0.001 : 0.02)) })
      }
    />
  )
  if (!full) {
    return (
      <fieldset className="flex items-end gap-2">
        <legend className="sr-only">Fade {edge}</legend>
        {length}
        <div className="w-[6.6rem] shrink-0">
          <CurveChoice
            small
            label={`Curve of the fade ${edge}`}
            value={any ? curve : null}
            falling={edge === 'out'}
            disabled={!any}
            onChange={(c) => change({ curve: c, kind: 'gain' })}
            onTry={tried}
          />
        </div>
      </fieldset>
    )
  }
  return (
    <fieldset className="flex flex-col gap-2 border-b border-fold pb-2 last:border-0">
      <legend className="sr-only">Fade {edge}</legend>
      <div className="flex items-end gap-2">
        {length}
        <LengthMenu
          session={session}
          regions={regions}
          edge={edge}
          onLength={(id, lengthFrames) =>
            void dispatch(commit(setFade, { regionIds: [id], edge, change: { lengthFrames } }))
          }
        />
      </div>
      <div
        className="flex gap-1 rounded-lg border border-seam bg-linen p-0.5 text-xs"
        role="group"
        aria-label={`Kind of the fade ${edge}`}
      >
        {(['gain', 'tape'] as const).map((kind) => (
          <button
            key={kind}
            type="button"
            disabled={!any}
            aria-pressed={any && (kind === 'tape') === tape}
            onClick={() => change({ kind })}
            className="flex-1 rounded-md py-0.5 hover:bg-white disabled:opacity-40 aria-pressed:bg-oak aria-pressed:text-white"
          >
            {kind === 'gain' ? 'Level' : edge === 'in' ? 'Tape start' : 'Tape stop'}
          </button>
        ))}
      </div>
      {tape ? (
        <div className="flex items-end gap-2">
          <ValueField
            name={`fade-${edge}-k`}
            className="w-24"
            label="How it slows"
            shown={String(first.k ?? 1)}
            parse={(text) => factor(text)}
            onValue={(k) => change({ k })}
            onNudge={(d, fine) =>
              change({
                k: Math.max(
                  0.5,
                  Math.min(4, Math.round(((first.k ?? 1) + d * (fine ? 0.05 : 0.25)) * 100) / 100),
                ),
              })
            }
          />
          <TapePicture k={first.k ?? 1} edge={edge} />
        </div>
      ) : (
        <>
          <CurveChoice
            label={`Curve of the fade ${edge}`}
            value={any ? curve : null}
            falling={edge === 'out'}
            disabled={!any}
            onChange={(c) => change({ curve: c })}
            onTry={tried}
          />
          <div className="flex gap-2">
            <ValueField
              name={`fade-${edge}-bend`}
              className="flex-1"
              label="Bend"
              disabled={!any}
              shown={any ? `${Math.round((first?.bend ?? 0) * 100)} %` : ''}
              parse={(t) => parsePercent(t, { min: -1, max: 1 }, 'a bend')}
              onValue={(bend) => change({ bend })}
              onNudge={(d, fine) =>
                change({
                  bend: Math.max(
                    -1,
                    Math.min(1, Math.round(((first?.bend ?? 0) + d * (fine ? 0.01 : 0.1)) * 100) / 100),
                  ),
                })
              }
            />
            <ValueField
              name={`fade-${edge}-level`}
              className="flex-1"
              label={edge === 'in' ? 'Starts from' : 'Ends at'}
              disabled={!any}
              shown={any ? `${Math.round((first?.level ?? 0) * 1000) / 10} %` : ''}
              parse={(t) => parsePercent(t, { min: 0, max: 1 }, 'a level')}
              onValue={(level) => change({ level })}
              onNudge={(d, fine) =>
                change({
                  level: Math.max(
                    0,
                    Math.min(1, Math.round(((first?.level ?? 0) + d * (fine ? 0.01 : 0.05)) * 100) / 100),
                  ),
                })
              }
            />
          </div>
        </>
      )}
    </fieldset>
  )
}

const factor = (text: string) => {
  const k = Number(text.trim().replace(',', '.'))
  return /\d/.test(text) && k >= 0.5 && k <= 4
    ? { ok: true as const, value: k }
    : {
        ok: false as const,
        message: 'Type a number from 0.5 (stays fast for long) to 4 (slows at once); 1 slows evenly.',
      }
}

/** The pace of the tape over the fade. */
function TapePicture({ k, edge }: { k: number; edge: FadeEdge }) {
  const pace = (u: number) => (edge === 'in' ? u : 1 - u) ** k
  const path = Array.from(
    { length: 25 },
    (_, i) => `${i ? 'L' : 'M'}${(2 + (96 * i) / 24).toFixed(1)} ${(30 - 28 * pace(i / 24)).toFixed(1)}`,
  ).join('')
  return (
    <svg
      viewBox="0 0 100 32"
      className="h-8 flex-1 rounded-lg border border-seam bg-linen"
      role="img"
      aria-label={`The pace of the tape, ${edge === 'in' ? 'from standing to full' : 'from full to standing'}`}
    >
      <path d={path} fill="none" stroke="var(--color-walnut)" strokeWidth={2} />
    </svg>
  )
}

/** Lengths that follow from something else: the playhead, the range, the first or last phrase. */
function LengthMenu({
  session,
  regions,
  edge,
  onLength,
}: {
  session: Session
  regions: readonly Region[]
  edge: FadeEdge
  onLength(regionId: string, lengthFrames: number): void
}) {
  const range = useAppSelector((s) => s.view.range)
  const upTo = (frameOf: (region: Region) => number | null) => {
    let none = true
    for (const region of regions) {
      const frame = frameOf(region)
      const length = frame === null ? 0 : edge === 'in' ? frame - region.start : regionEnd(region) - frame
      if (length <= 0 || length > region.length) continue
      none = false
      onLength(region.id, Math.round(length))
    }
    if (none) toast({ text: 'That place lies outside the selected regions, so no fade was made.' })
  }
  const toPhrase = async () => {
    for (const region of regions) {
      const steps = await phraseSteps(session, region)
      const phrases = findPhrases(steps, session.sampleRate, usualFloor(steps))
      const phrase = edge === 'in' ? phrases[0] : phrases.at(-1)
      const length = phrase ? (edge === 'in' ? phrase.from : region.length - phrase.to) : 0
      if (length > 0) onLength(region.id, length)
    }
  }
  const item =
    'cursor-pointer rounded-lg px-3 py-1 outline-none data-disabled:opacity-45 data-highlighted:bg-cloth'
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger
        aria-label={`Length of the fade ${edge} up to …`}
        title="Up to …"
        className="flex h-8 items-center rounded-lg border border-seam bg-linen px-2 text-sm hover:bg-white"
      >
        to
        <ChevronDown size={14} />
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="end"
          sideOffset={4}
          className="z-50 min-w-48 rounded-xl border border-seam bg-white p-1 text-sm shadow-lg"
        >
          <DropdownMenu.Item className={item} onSelect={() => upTo(() => getPlayer()?.position() ?? 0)}>
            To the playhead
          </DropdownMenu.Item>
          <DropdownMenu.Item
            className={item}
            disabled={!range}
            onSelect={() => upTo(() => (edge === 'in' ? range!.to : range!.from))}
          >
            Over the range
          </DropdownMenu.Item>
          <DropdownMenu.Item
            className={item}
            onSelect={() => void toPhrase().catch((e: unknown) => toast({ text: String(e) }))}
          >
            {edge === 'in' ? 'To the first phrase' : 'From the last phrase'}
          </DropdownMenu.Item>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  )
}
