import { fileNamePart } from '../src/formats/file-name'
import fs from 'node:fs/promises'
import path from 'node:path'
import {
  fetchCorrelations,
  planSession,
  renderedBlocks,
  latestEnd,
  tailEnd,
  stemIds,
  stemPlan,
  type Correlations,
  type RenderPlan,
  type TrackPlan,
  type Stage,
  type Tail,
} from '../src/core/render'
import type { Session } from '../src/core/model/session'
import { regionsOf } from '../src/core/model/queries'
import { rowIds, rowOf } from '../src/core/model/strips'
import { SoundMeter, type SoundMeasure } from '../src/core/measure/sound-meter'
import { gainFor, LEAST_SECONDS, type Target } from '../src/core/measure/target'
import { dbToGain, gainToDb } from '../src/core/units/decibel'
import { InputError, UsageError } from './failure'
import {
  extensionOf,
  openOutput,
  outputBytes,
  soundFormatOf,
  type OutputFormat,
  type OutputInfo,
} from './output'
import type { Tell } from './progress'
import { withSession, type Sounds } from './session-file'

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
  /** What comes after the last region, where no `to` is given. */
  tail: Tail
  seed: number
  /** Renders files that are very long or very large, too. */
  yes: boolean
  /** Brings the file to this loudness, by one gain over all of it. */
  target: Target | null
  tell: Tell
}

/** What was rendered: the largest sample, linear, and how many samples passed full scale. */
export interface Rendered {
  peak: number
  /** What is in the file. */
  measured: SoundMeasure
  /** By how many dB it was changed to meet a target. */
  gainDb: number
  clipped: number
  /** The ids of inserts that output NaN, and were left out. */
  faults: string[]
}

/** The part of a session that is to be rendered, and at which stage. */
interface Chosen {
  plan: RenderPlan
  stage: Stage
  from: number
  to: number
}

/** What is chosen, and how much of it. An audible tail is looked for in what is rendered. */
async function choose(
  session: Session,
  { cache }: Sounds,
  options: RenderOptions,
  correlations: Correlations,
): Promise<Chosen> {
  const tracks = rowIds(session).map((id) => rowOf(session, id)!)
  const track =
    options.track === null ? null : tracks.find((t) => t.name === options.track || t.id === options.track)
  if (track === undefined)
    throw new InputError(
      `there is no track or bus named “${options.track}”; there are: ${tracks.map((t) => t.name).join(', ')}`,
    )
  const regions = Object.values(session.regions)
  const region = options.region === null ? null : regions.find((r) => r.id === options.region)
  if (region === undefined) throw new InputError(`there is no region with the id “${options.region}”`)
  const plan = planSession(session, {
    unshaped: options.unshaped,
    correlations,
    ...(track ? { trackId: track.id } : {}),
    ...(region ? { regionId: region.id, trackId: region.trackId } : {}),
  })
  const frames = (seconds: number) => Math.round(seconds * session.sampleRate)
  const from = options.from !== null ? frames(options.from) : (region?.start ?? 0)
  const stage = options.stage ?? (region ? 'clip' : track ? 'track' : 'mix')
  if (plan.length === 0) throw new UsageError('the session is empty; there is nothing to render')
  const to =
    options.to !== null
      ? frames(options.to)
      : stage === 'clip'
        ? region
          ? region.start + region.length
          : plan.length
        : await endOf(plan, cache, stage, options)
  if (options.to === null && from >= to)
    throw new UsageError(
      `--from ${options.from} s is past the end, which is at ${(to / session.sampleRate).toFixed(3)} s`,
    )
  if (to <= from) throw new UsageError(`--to must be later than --from (${from / session.sampleRate} s)`)
  return { plan, stage, from, to }
}

/** The session frame at which a file with a tail ends. */
function endOf(
  plan: RenderPlan,
  cache: Sounds['cache'],
  stage: Exclude<Stage, 'clip'>,
  { tail, tell }: RenderOptions,
): Promise<number> {
  const most = (latestEnd(plan, tail) - plan.length) / plan.sampleRate
  const doing = `Up to ${most.toFixed(1)} s of tail; looking for its end`
  return tailEnd(plan, cache, { stage, tail, onPart: (part) => tell(doing, part) })
}

const LONG_HOURS = 4
const LARGE_BYTES = 4e9

/** Refuses what is probably a slip, such as a region that was moved to the end of the day. */
function expectSize(info: OutputInfo): void {
  const hours = info.frames / info.sampleRate / 3600
  const bytes = outputBytes(info)
  if (hours > LONG_HOURS || bytes > LARGE_BYTES)
    throw new UsageError(
      `that is ${hours.toFixed(1)} hours and up to ${(bytes / 1e9).toFixed(1)} GB; add --yes to render it all the same`,
    )
}

/** The blocks of what was chosen, times a gain, with how far it is told on the way. */
async function* blocksOf(
  { cache }: Sounds,
  { channels }: OutputInfo,
  chosen: Chosen,
  gainDb: number,
  { doing, tell, onFault }: { doing: string; tell: Tell; onFault?: (id: string) => void },
): AsyncGenerator<readonly Float32Array[]> {
  const gain = dbToGain(gainDb)
  const { from, to } = chosen
  for await (const { from: at, left, right } of renderedBlocks(chosen.plan, cache, {
    ...chosen,
    ...(onFault ? { onFault } : {}),
  })) {
    const block = channels === 1 ? [left] : [left, right]
    if (gainDb !== 0)
      for (const side of block) for (let i = 0; i < side.length; i++) side[i] = side[i]! * gain
    yield block
    tell(doing, (at + left.length - from) / (to - from))
  }
}

/**
 * The gain that brings what was chosen to a target; 0 without one. Throws `InputError` where no gain does it: for silence, for
 * what is too short to have a loudness, and, unless it is to be written all the same, where a true peak would be too high.
 */
async function gainToTarget(
  sounds: Sounds,
  info: OutputInfo,
  chosen: Chosen,
  { target, tell, yes }: RenderOptions,
): Promise<number> {
  if (!target) return 0
  const seconds = info.frames / info.sampleRate
  if (seconds < LEAST_SECONDS)
    throw new InputError(
      `${seconds.toFixed(3)} s have no loudness, which is measured over ${LEAST_SECONDS} s: nothing brings them to a target`,
    )
  const meter = new SoundMeter(info.sampleRate, info.channels)
  for await (const block of blocksOf(sounds, info, chosen, 0, { doing: 'Measuring', tell })) meter.add(block)
  const offer = gainFor(target, meter.finish())
  if (!offer) throw new InputError('what is to be rendered is silent: no gain brings it to a loudness')
  const { gainDb, truePeakDb, passesCeiling } = offer
  if (passesCeiling && !yes) {
    const change = `${gainDb < 0 ? '' : '+'}${gainDb.toFixed(1)} dB`
    const over = (truePeakDb - target.ceiling).toFixed(1)
    throw new InputError(
      `one gain cannot meet ${target.name}: ${change} lead to a true peak of ${truePeakDb.toFixed(1)} dBTP. ` +
        `A ceiling of ${target.ceiling.toFixed(1)} dBTP at the end of the mix would turn it down by up to ${over} dB; ` +
        'add --yes to write the file as it is',
    )
  }
  return gainDb
}

/** Renders what was chosen into a file, block by block; nothing is left of it where that fails. What is told is of the file. */
async function write(
  sounds: Sounds,
  file: string,
  info: OutputInfo,
  chosen: Chosen,
  gainDb: number,
  options: RenderOptions,
): Promise<Rendered> {
  const output = await openOutput(file, info)
  try {
    const faults = new Set<string>()
    const onFault = (id: string) => void faults.add(id)
    const meter = new SoundMeter(info.sampleRate, info.channels)
    const how = { doing: `Rendering ${path.basename(file)}`, tell: options.tell, onFault }
    let peak = 0
    for await (const block of blocksOf(sounds, info, chosen, gainDb, how)) {
      for (const side of block) for (const x of side) if (Math.abs(x) > peak) peak = Math.abs(x)
      await output.write(block)
      meter.add(block)
    }
    const measured = meter.finish()
    return { peak, measured, gainDb, clipped: await output.finish(measured), faults: [...faults] }
  } catch (error) {
    await output.discard()
    throw error
  } finally {
    options.tell('', 1)
  }
}

/** `oaken render`: writes the mix, a track or a region to a file. */
export const render = (file: string, options: RenderOptions): Promise<Rendered> =>
  withSession(file, async (session, sounds) => {
    const correlations = await fetchCorrelations(session, sounds.cache, options.unshaped)
    const chosen = await choose(session, sounds, options, correlations)
    const info = outputInfo(session, options, chosen)
    if (!options.yes) expectSize(info)
    const gainDb = await gainToTarget(sounds, info, chosen, options)
    return write(sounds, options.output, info, chosen, gainDb, options)
  })

/** A file of several: what it is called, and what of the session it has. */
interface Part {
  name: string
  chosen: Chosen
}

/** Names that any system takes, numbered in their order: "03 Mill race". */
function fileName(name: string, n: number, count: number): string {
  const digits = Math.max(2, String(count).length)
  const number = String(n + 1).padStart(digits, '0')
  return `${number} ${fileNamePart(name, 'unnamed')}`
}

/** A stem for each strip that feeds the mix directly, all of them as long as the mix. */
async function stemParts(
  session: Session,
  sounds: Sounds,
  options: RenderOptions,
  correlations: Correlations,
): Promise<Part[]> {
  const chosen = await choose(session, sounds, options, correlations)
  return stemIds(chosen.plan).map((id) => ({
    name: rowOf(session, id)!.name,
    chosen: { ...chosen, plan: stemPlan(chosen.plan, id) },
  }))
}

/** A file for each region, in the order of the tracks and of time. */
async function regionParts(
  session: Session,
  sounds: Sounds,
  options: RenderOptions,
  correlations: Correlations,
): Promise<Part[]> {
  const parts: Part[] = []
  for (const region of rowIds(session).flatMap((id) => regionsOf(session, id)))
    parts.push({
      name: region.name,
      chosen: await choose(session, sounds, { ...options, region: region.id }, correlations),
    })
  return parts
}

/** What was rendered into a file of several. */
export interface RenderedPart extends Rendered {
  file: string
}

/** `oaken render --stems` and `--regions`: writes several files into a folder, which is made where there is none. */
export const renderParts = (
  file: string,
  what: 'stems' | 'regions',
  options: RenderOptions,
): Promise<RenderedPart[]> =>
  withSession(file, async (session, sounds) => {
    const correlations = await fetchCorrelations(session, sounds.cache, options.unshaped)
    const parts = await (what === 'stems' ? stemParts : regionParts)(session, sounds, options, correlations)
    if (parts.length === 0)
      throw new UsageError(
        what === 'stems' ? 'nothing goes to the mix; there are no stems' : 'the session has no regions',
      )
    const infos = parts.map(({ chosen }) => outputInfo(session, options, chosen))
    if (!options.yes) infos.forEach(expectSize)
    // Before anything is written, all of them must be able to meet a target.
    const gains: number[] = []
    for (const [n, { chosen }] of parts.entries())
      gains.push(await gainToTarget(sounds, infos[n]!, chosen, options))
    await fs.mkdir(options.output, { recursive: true })
    const extension = extensionOf(options.format)
    const done: RenderedPart[] = []
    for (const [n, { name, chosen }] of parts.entries()) {
      const to = path.join(options.output, `${fileName(name, n, parts.length)}.${extension}`)
      done.push({ file: to, ...(await write(sounds, to, infos[n]!, chosen, gains[n]!, options)) })
    }
    return done
  })

function outputInfo(session: Session, options: RenderOptions, { plan, stage, from, to }: Chosen): OutputInfo {
  // Before the pan a mono track has one channel.
  const tracks = plan.tracks.filter((t) => plan.only?.has(t.id) ?? t.audible)
  const channels = (t: TrackPlan) => (stage === 'clip' ? t.inputChannels : t.channels)
  const mono =
    (stage === 'clip' || stage === 'insert') && tracks.length > 0 && tracks.every((t) => channels(t) === 1)
  return {
    format: soundFormatOf(options.format),
    channels: mono ? 1 : 2,
    sampleRate: session.sampleRate,
    frames: to - from,
    seed: options.seed,
    title: session.title,
    timeReference: from,
    cues: session.markers
      .filter((m) => m.frame >= from && m.frame < to)
      .map((m) => ({ frame: m.frame - from, name: m.name })),
  }
}

/** The sentence about inserts that failed; null where none did. */
export const faultSentence = ({ faults }: Rendered): string | null =>
  faults.length === 0 ? null : `the insert ${faults.join(', ')} output NaN and was left out there`

/** The sentence about samples over full scale; null where there are none. */
export function clipSentence(
  { peak, clipped }: Pick<Rendered, 'peak' | 'clipped'>,
  format: OutputFormat,
): string | null {
  if (clipped === 0) return null
  const level = `+${gainToDb(peak).toFixed(2)} dBFS`
  const what = clipped === 1 ? '1 sample passes' : `${clipped} samples pass`
  return `${what} full scale (peak ${level}); ${format === 'wav32f' ? '32-bit float keeps them' : 'they were limited to it'}`
}
