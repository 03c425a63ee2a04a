import fs from 'node:fs/promises'
import {
  measureCorrelations,
  planSession,
  Renderer,
  type Correlations,
  type RenderPlan,
  type Stage,
} from '../src/core/render'
import { plainOutput, type OutputFormat } from './output'
import { InputError, UsageError } from './failure'
import { openSessionFile, sourceReader } from './session-file'
import type { Session } from '../src/core/model/session'

/** Options of `oaken render`, as typed. */
export interface RenderOptions {
  output: string
  format: OutputFormat
  from: number | null
  to: number | null
  track: string | null
  region: string | null
  stage: Stage | null
  unshaped: boolean
  seed: number
}

/** The part of a session that is to be rendered, and at which stage. */
function choose(
  session: Session,
  options: RenderOptions,
  correlations: Correlations,
): { plan: RenderPlan; stage: Stage; from: number; to: number } {
  const track =
    options.track === null
      ? null
      : Object.values(session.tracks).find((t) => t.name === options.track || t.id === options.track)
  if (track === undefined)
    throw new InputError(
      `there is no track named “${options.track}”; there are: ${session.trackIds.map((id) => session.tracks[id]!.name).join(', ')}`,
    )
  const region = options.region === null ? null : session.regions[options.region]
  if (region === undefined) throw new InputError(`there is no region with the id “${options.region}”`)
  const plan = planSession(session, {
    unshaped: options.unshaped,
    correlations,
    ...(track ? { trackId: track.id } : {}),
    ...(region ? { regionId: region.id, trackId: region.trackId } : {}),
  })
  const seconds = (s: number) => Math.round(s * session.sampleRate)
  const from = options.from !== null ? seconds(options.from) : (region?.start ?? 0)
  const to = options.to !== null ? seconds(options.to) : region ? region.start + region.length : plan.length
  if (to <= from)
    throw new UsageError(
      plan.length === 0
        ? 'the session is empty; there is nothing to render'
        : `--to must be later than --from (${from / session.sampleRate} s)`,
    )
  return { plan, stage: options.stage ?? (region ? 'clip' : track ? 'track' : 'mix'), from, to }
}

/** `oaken render`: writes the mix, a track or a region to a file. */
export async function render(file: string, options: RenderOptions): Promise<void> {
  const opened = await openSessionFile(file)
  const { session } = opened
  const reader = await sourceReader(file, opened)
  const { plan, stage, from, to } = choose(session, options, measureCorrelations(session, reader))
  const left = new Float32Array(to - from)
  const right = new Float32Array(to - from)
  new Renderer(plan, reader).renderStage(stage, from, left, right)
  const cues = session.markers
    .filter((m) => m.frame >= from && m.frame < to)
    .map((m) => ({ frame: m.frame - from, name: m.name }))
  // Before the pan a mono track has one channel.
  const tracks = plan.tracks.filter((t) => t.audible)
  const mono =
    (stage === 'clip' || stage === 'insert') && tracks.length > 0 && tracks.every((t) => t.channels === 1)
  const bytes = plainOutput(mono ? [left] : [left, right], {
    format: options.format,
    sampleRate: session.sampleRate,
    seed: options.seed,
    title: session.title,
    from,
    cues,
  })
  try {
    await fs.writeFile(options.output, bytes)
  } catch (error) {
    throw new InputError(`${options.output}: cannot be written: ${(error as Error).message}`)
  }
}
