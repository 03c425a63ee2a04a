import { isSilence } from '../measure/finite'
import { AgainstMeter } from '../measure/against'
import { SoundMeter, type SoundMeasure } from '../measure/sound-meter'
import { judge, type Requirement, type Target } from '../measure/target'
import type { Session } from '../model/session'
import { gainToDb } from '../units/decibel'
import type { CancellingTracks, CancellingTracksMeter } from './cancelling-tracks'
import type { MeasuredSeam } from './seams'

/** A stretch of the mix in which samples pass full scale: seconds, and its highest peak in dBFS. */
export interface ReportedOverload {
  from: number
  to: number
  peakDb: number
}

/** A seam that clicks: where, between what, and the jump in dBFS. */
export interface ReportedSeam {
  seconds: number
  track: string
  kind: string
  between: string[]
  jumpDb: number
}

/** A file that was rendered. */
export interface ReportedFile {
  name: string
  bytes: number
  sha256: string
  peakDb: number | null
  truePeakDb: number | null
  integrated: number | null
  /** Whether what was read back is what was rendered. */
  good: boolean
  /** What it misses of the target that it was rendered for, in words. */
  missed: string[]
}

/** What is said of a mix as a whole: levels in dBFS and dBTP, loudness in LUFS, null for silence. */
export interface SessionReport {
  session: string
  madeAt: string
  sampleRate: number
  seconds: number
  peakDb: number | null
  truePeakDb: number | null
  rmsDb: number | null
  integrated: number | null
  momentaryMax: number | null
  shortTermMax: number | null
  range: number
  correlation: number | null
  /** The DC offset of each side, in dBFS; null where there is none. */
  dcDb: (number | null)[]
  /** Where left and right cancel each other, so that little is left in mono: seconds, and their correlation there. */
  cancelling: { from: number; to: number; correlation: number }[]
  /** Where two tracks cancel each other in the mix: seconds, and by how many dB their sum is too soft. */
  cancellingTracks: { from: number; to: number; tracks: string[]; correlation: number; lostDb: number }[]
  target: string | null
  requirements: Requirement[]
  /** Short-term loudness once a second: of the three seconds that end there. */
  loudness: { seconds: number; lufs: number | null }[]
  overloads: ReportedOverload[]
  seams: ReportedSeam[]
  files: ReportedFile[]
}

/** Overloads closer than this, in seconds, are one. */
const JOINED_SECONDS = 0.25
/** More are not listed. */
const MOST_OVERLOADS = 1000
/** Steps of 100 ms in a second, and after how many the first short-term loudness is known. */
const STEPS = 10
const FIRST_SECONDS = 3

/** A DC offset from here on is said, in dBFS: it takes headroom, and clicks where sound begins and ends. */
export const DC_DB = -60

/** What is measured of a mix for its report. */
export interface MeasuredMix extends Pick<SessionReport, 'overloads' | 'cancelling'> {
  measure: SoundMeasure
  /** Tracks that cancel each other, where they were compared. */
  tracks: CancellingTracks[]
}

/** Gathers what a report says of a rendered mix, block by block. */
export class ReportMeter {
  private readonly meter: SoundMeter
  private readonly sides: AgainstMeter
  private readonly overloads: { from: number; to: number; peak: number }[] = []

  /** `tracks` compares the tracks of a mix, where it is the probe of what is rendered. */
  constructor(
    private readonly sampleRate: number,
    channels: 1 | 2 = 2,
    private readonly tracks: CancellingTracksMeter | null = null,
  ) {
    this.meter = new SoundMeter(sampleRate, channels)
    this.sides = new AgainstMeter(sampleRate)
  }

  /** Takes a block that begins at a session frame; blocks come in order. `silent` where it is known to be silence. */
  add(from: number, block: readonly Float32Array[], silent = isSilence(block)): void {
    this.meter.add(block, silent)
    this.tracks?.passed(from + block[0]!.length)
    if (silent) return this.sides.addSilence(block[0]!.length)
    if (block[1]) this.sides.add(block[0]!, block[1])
    for (const side of block)
      for (let i = 0; i < side.length; i++) {
        const size = Math.abs(side[i]!)
        if (size > 1) this.noteOver(from + i, size)
      }
  }

  private noteOver(frame: number, peak: number): void {
    const last = this.overloads.at(-1)
    if (last && frame - last.to < JOINED_SECONDS * this.sampleRate) {
      last.to = Math.max(last.to, frame)
      last.from = Math.min(last.from, frame)
      last.peak = Math.max(last.peak, peak)
    } else if (this.overloads.length < MOST_OVERLOADS) this.overloads.push({ from: frame, to: frame, peak })
  }

  finish(): MeasuredMix {
    return {
      measure: this.meter.finish(),
      tracks: this.tracks?.finish() ?? [],
      cancelling: this.sides.finish().map(({ from, to, correlation }) => ({
        from: from / this.sampleRate,
        to: to / this.sampleRate,
        correlation: Math.round(correlation * 100) / 100,
      })),
      overloads: this.overloads.map(({ from, to, peak }) => ({
        from: from / this.sampleRate,
        to: to / this.sampleRate,
        peakDb: rounded(gainToDb(peak))!,
      })),
    }
  }
}

const rounded = (value: number): number | null =>
  Number.isFinite(value) ? Math.round(value * 100) / 100 : null
const level = (gain: number) => (gain > 0 ? rounded(gainToDb(gain)) : null)

/** Short-term loudness once a second: of the three seconds that end there; null for silence. */
export const courseOf = (shortTerm: readonly number[]): { seconds: number; lufs: number | null }[] =>
  shortTerm.flatMap((lufs, i) =>
    i % STEPS === 0 ? [{ seconds: FIRST_SECONDS + i / STEPS, lufs: rounded(lufs) }] : [],
  )

/** Puts a report together; of the seams those that click are named. */
export function sessionReport(
  session: Session,
  { measure, overloads, cancelling, tracks }: MeasuredMix,
  seams: readonly MeasuredSeam[],
  target: Target | null,
  files: readonly ReportedFile[] = [],
): SessionReport {
  const { loudness } = measure
  return {
    session: session.title,
    madeAt: new Date().toISOString(),
    sampleRate: session.sampleRate,
    seconds: measure.frames / session.sampleRate,
    peakDb: level(measure.peak),
    truePeakDb: level(measure.truePeak),
    rmsDb: level(measure.rms),
    integrated: rounded(loudness.integrated),
    momentaryMax: rounded(loudness.momentaryMax),
    shortTermMax: rounded(loudness.shortTermMax),
    range: Math.round(loudness.range * 100) / 100,
    correlation: measure.correlation === null ? null : Math.round(measure.correlation * 1e4) / 1e4,
    dcDb: measure.perChannel.map(({ dc }) => level(Math.abs(dc))),
    cancelling,
    cancellingTracks: tracks.map(({ from, to, trackIds, correlation, lostDb }) => ({
      from: from / session.sampleRate,
      to: to / session.sampleRate,
      tracks: trackIds.map((id) => session.tracks[id]!.name),
      correlation: Math.round(correlation * 100) / 100,
      lostDb: Math.round(lostDb * 10) / 10,
    })),
    target: target?.name ?? null,
    requirements: target ? judge(target, measure) : [],
    loudness: courseOf(measure.shortTerm),
    overloads,
    seams: seams.filter(({ clicks }) => clicks).map((seam) => reportedSeam(session, seam)),
    files: [...files],
  }
}

function reportedSeam(session: Session, seam: MeasuredSeam): ReportedSeam {
  const names = [seam.leftId, seam.rightId].flatMap((id) => (id === null ? [] : [session.regions[id]!]))
  return {
    seconds: seam.frame / session.sampleRate,
    track: session.tracks[seam.trackId]!.name,
    kind: seam.kind,
    between: names.map(({ name }) => name),
    jumpDb: rounded(gainToDb(seam.jump)) ?? -144,
  }
}

/** A field as RFC 4180 has it; what a table would take for a formula is quoted away. */
function field(value: string | number | null): string {
  if (value === null) return ''
  if (typeof value === 'number') return String(value)
  const text = /^[=+@\t\r-]/.test(value) && Number.isNaN(Number(value)) ? `'${value}` : value
  return /[",\r\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text
}

/** A report as a table (RFC 4180): what, from and to in seconds, value, unit, and a note. */
export function reportCsv(report: SessionReport): string {
  const rows: (string | number | null)[][] = [['what', 'from', 'to', 'value', 'unit', 'note']]
  const whole = (what: string, value: number | null, unit: string) =>
    rows.push([what, 0, report.seconds, value, unit, ''])
  whole('integrated loudness', report.integrated, 'LUFS')
  whole('loudness range', report.range, 'LU')
  whole('largest momentary loudness', report.momentaryMax, 'LUFS')
  whole('largest short-term loudness', report.shortTermMax, 'LUFS')
  whole('true peak', report.truePeakDb, 'dBTP')
  whole('sample peak', report.peakDb, 'dBFS')
  whole('RMS', report.rmsDb, 'dBFS')
  whole('correlation', report.correlation, '')
  for (const { what, asked, is, passes } of report.requirements)
    rows.push([
      `requirement: ${what.toLowerCase()}`,
      0,
      report.seconds,
      is,
      '',
      `${passes ? 'pass' : 'fail'}, asked ${asked}`,
    ])
  for (const [side, dcDb] of report.dcDb.entries())
    whole(`DC offset, ${side ? 'right' : 'left'}`, dcDb, 'dBFS')
  for (const { from, to, correlation } of report.cancelling)
    rows.push(['left and right cancel', from, to, correlation, '', 'little is left of it in mono'])
  for (const { from, to, tracks, correlation, lostDb } of report.cancellingTracks)
    rows.push([
      'tracks cancel',
      from,
      to,
      correlation,
      '',
      `${tracks.join(' and ')}: ${lostDb} dB lost together; invert or shift one`,
    ])
  for (const { seconds, lufs } of report.loudness)
    rows.push(['short-term loudness', seconds - FIRST_SECONDS, seconds, lufs, 'LUFS', ''])
  for (const { from, to, peakDb } of report.overloads) rows.push(['overload', from, to, peakDb, 'dBFS', ''])
  for (const { seconds, track, kind, between, jumpDb } of report.seams)
    rows.push([
      'seam that clicks',
      seconds,
      seconds,
      jumpDb,
      'dBFS',
      `${track}: ${kind}, ${between.join(' and ')}`,
    ])
  for (const { name, bytes, sha256, good, missed } of report.files)
    rows.push([
      'file',
      null,
      null,
      bytes,
      'bytes',
      [
        `${name}, SHA-256 ${sha256}`,
        ...(good ? [] : ['not as rendered']),
        ...missed.map((what) => `missed ${what}`),
      ].join(', '),
    ])
  return rows.map((row) => row.map(field).join(',')).join('\r\n') + '\r\n'
}
