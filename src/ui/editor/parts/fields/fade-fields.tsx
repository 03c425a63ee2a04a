import { clamp } from '../../../../core/units/clamp'
import { type FadeChange, type FadeEdge, setFade } from '../../../../core/edit'
import type { FadeCurve, Region, Session } from '../../../../core/model/session'
import { least } from '../../../../core/units/extremes'
import { commit, dropPreview, preview } from '../../../../store/edits'
import { useAppDispatch, useAppSelector } from '../../../parts/hooks'
import { LengthField } from '../../../parts/fields/length-field'
import { PercentField } from '../../../parts/fields/percent-field'
import { ValueField } from '../../../parts/fields/value-field'
import { CurveChoice } from './curve-choice'
import { LengthMenu } from './length-menu'
import { useReachWords } from './use-reach'

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
  const reach = useReachWords(regionIds)
  const key = edge === 'in' ? 'fadeIn' : 'fadeOut'
  const fades = regions.map((r) => r[key])
  const first = fades[0] ?? null
  const alike = fades.every((f) => f?.length === first?.length)
  const any = fades.some((f) => f !== null)
  const shortest = least(regions, (r) => r.length)
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
    <LengthField
      session={session}
      name={`fade-${edge}`}
      className="min-w-0 flex-1"
      label={`Fade ${edge}`}
      frames={first?.length ?? 0}
      several={!alike}
      none="none"
      min={0}
      max={shortest}
      all={
        regions.length > 1
          ? {
              words: reach,
              by: (byFrames) => {
                const beyond = regions.find((r) => {
                  const length = (r[key]?.length ?? 0) + byFrames
                  return length < 0 || length > r.length
                })
                if (beyond)
                  return `The fade of “${beyond.name}” cannot change so much: it goes from nothing to the whole region. Nothing was changed.`
                change({ byFrames })
                return null
              },
            }
          : undefined
      }
      onFrames={(lengthFrames) => change({ lengthFrames })}
      onNudge={(direction, fine) =>
        change({ byFrames: direction * Math.round(session.sampleRate * (fine ? 0.001 : 0.02)) })
      }
    />
  )
  if (!full) {
    return (
      <fieldset className="flex min-w-0 flex-1 flex-col gap-1">
        <legend className="sr-only">Fade {edge}</legend>
        {length}
        <div>
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
    <fieldset className="flex min-w-0 flex-1 flex-col gap-2">
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
                k: clamp(Math.round(((first.k ?? 1) + d * (fine ? 0.05 : 0.25)) * 100) / 100, 0.5, 4),
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
            <PercentField
              name={`fade-${edge}-bend`}
              className="flex-1"
              label="Bend"
              disabled={!any}
              {...(any ? {} : { shown: '' })}
              value={first?.bend ?? 0}
              min={-1}
              max={1}
              what="a bend"
              step={0.1}
              onValue={(bend) => change({ bend })}
            />
            <PercentField
              name={`fade-${edge}-level`}
              className="flex-1"
              label={edge === 'in' ? 'Start level' : 'End level'}
              disabled={!any}
              {...(any ? {} : { shown: '' })}
              value={first?.level ?? 0}
              min={0}
              max={1}
              what="a level"
              onValue={(level) => change({ level })}
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
