import { mixAside, plainMix } from '../../core/model/inserts/plain-mix'
import type { FileChange } from '../../core/model/file-change'
import { sessionLength } from '../../core/model/queries'
import type { Session } from '../../core/model/session'
import { judge, type Target } from '../../core/measure/target'
import type { Tail } from '../../core/render'
import {
  type MeasuredMix,
  sessionReport,
  type ReportedFile,
  type SessionReport,
} from '../../core/suggest/report'
import { gainToDb } from '../../core/units/decibel'
import { showTime } from '../../core/units/typed'
import { deliver, receivingRules, Refused } from '../../engine/export'
import { exportSound, measurePart, measureSeams, zipFiles } from '../../engine/export'
import { fileNamePart } from '../../formats/file-name'
import { formatFacts } from '../../formats/sound-write'
import { cancelJob, runJob, type JobOutcome } from '../jobs'
import {
  exportChanged,
  exportsAdded,
  exportsRemoved,
  type DeliveryState,
  type ExportItem,
  type ExportWish,
  type RenderedFile,
} from '../jobs-slice'
import type { Thunk } from '../store'

/** The first part of a file's name, made of a title. */
export const fileStem = fileNamePart

/** The name that is proposed for a rendered file: what it holds. */
export function proposedName(
  session: Session,
  { plain, range }: { plain: boolean; range: { from: number; to: number } | null },
): string {
  const { soloed } = mixAside(session)
  const what =
    plain || soloed.length === 0 ? 'mix' : soloed.length === 1 ? soloed[0]! : `${soloed.length} tracks`
  const time = (frame: number) => showTime(frame, session.sampleRate, 0).replace(':', '.')
  const span = range ? ` ${time(range.from)} to ${time(range.to)}` : ''
  return fileStem(`${session.title} - ${what}${span}`, 'mix')
}

/** The pattern of names that is proposed where there are several files. */
export const PLAIN_PATTERN = '{number} {what}'

/** Words that a pattern of names replaces. */
export const PATTERN_WORDS = ['{number}', '{what}', '{session}', '{date}', '{rate}'] as const

/** Names of which none is there twice on a disk that does not tell capitals apart: a number stands before the extension, if any. */
function withoutTwins(names: readonly string[]): string[] {
  const taken = new Set<string>()
  return names.map((name) => {
    let own = name
    for (let n = 2; taken.has(own.toLowerCase()); n++) own = name.replace(/(\.(wav|flac|aiff))?$/, ` ${n}$1`)
    taken.add(own.toLowerCase())
    return own
  })
}

/** New names beside those that are listed already: none is there twice. */
export const namesBeside = (listed: readonly string[], names: readonly string[]): string[] =>
  withoutTwins([...listed, ...names]).slice(listed.length)

/** Names of several files by a pattern, without an extension; those that would be the same are counted. */
export function patternNames(
  pattern: string,
  { title }: Pick<Session, 'title'>,
  whats: readonly string[],
  sampleRate: number,
  date = new Date(),
): string[] {
  const digits = Math.max(2, String(whats.length).length)
  const names = whats.map((what, n) => {
    const words: Record<(typeof PATTERN_WORDS)[number], string> = {
      '{number}': String(n + 1).padStart(digits, '0'),
      '{what}': what,
      '{session}': title,
      '{date}': date.toISOString().slice(0, 10),
      '{rate}': `${sampleRate / 1000} kHz`,
    }
    return fileStem(
      pattern.replace(/\{(number|what|session|date|rate)\}/g, (word) => words[word as keyof typeof words]),
      `file ${n + 1}`,
    )
  })
  return withoutTwins(names)
}

let count = 0

/** The contents of finished files, by the ids of their items: files on disk, which the store only has the addresses of. */
const contents = new Map<string, Blob>()

/**
 * Puts files into the queue: they are rendered one after the other from the session as it is now, however it is changed meanwhile,
 * and whatever page is shown. What becomes of them is in the store.
 */
export const queueExports =
  (session: Session, wishes: readonly ExportWish[]): Thunk<Promise<void>> =>
  async (dispatch, getState) => {
    const listed = getState().jobs.exports.filter((item) => item.session.id === session.id)
    const names = namesBeside(
      listed.map(({ name }) => name),
      wishes.map((wish) => `${fileStem(wish.name, 'mix')}.${formatFacts[wish.format].extension}`),
    )
    const items = wishes.map((wish, n): ExportItem => ({
      ...wish,
      name: names[n]!,
      id: `export-${++count}`,
      session,
      state: 'waiting',
      failure: null,
      file: null,
    }))
    const busy = getState().jobs.exports.some(({ state }) => state === 'waiting' || state === 'running')
    dispatch(exportsAdded(items))
    if (!busy) await dispatch(runQueue())
  }

const runQueue = (): Thunk<Promise<void>> => async (dispatch, getState) => {
  for (;;) {
    const next = getState().jobs.exports.find(({ state }) => state === 'waiting')
    if (!next) return
    await dispatch(runItem(next))
  }
}

const runItem =
  (item: ExportItem): Thunk<Promise<void>> =>
  async (dispatch, getState) => {
    const { id, session, plain, part, format, sampleRate, from, to, tail, change, name } = item
    dispatch(exportChanged({ id, state: 'running' }))
    const options = {
      part,
      format,
      sampleRate,
      from,
      to,
      tail,
      change,
      seed: 1,
      title: name.replace(/\.[^.]+$/, ''),
    }
    const outcome = await dispatch(
      runJob('export', session.id, (onProgress, signal) =>
        exportSound(plain ? plainMix(session) : session, options, onProgress, signal),
      ),
    )
    // It may have been taken off the list meanwhile.
    if (!getState().jobs.exports.some((known) => known.id === id)) return
    if (!outcome.done) {
      const state = outcome.cancelled ? 'cancelled' : 'failed'
      dispatch(exportChanged({ id, state, failure: outcome.cancelled ? null : outcome.message }))
      return
    }
    const { file, ...result } = outcome.value
    contents.set(id, file)
    dispatch(
      exportChanged({
        id,
        state: 'done',
        file: { ...result, url: URL.createObjectURL(file), size: file.size },
      }),
    )
  }

/** Stops a file that is being rendered or waits, or takes one that is done off the list; its file is let go. */
export const dropExport =
  (id: string): Thunk =>
  (dispatch, getState) => {
    const item = getState().jobs.exports.find((known) => known.id === id)
    if (!item) return
    if (item.state === 'running') return cancelJob('export')
    if (item.file) URL.revokeObjectURL(item.file.url)
    contents.delete(id)
    dispatch(exportsRemoved([id]))
  }

/** Renders a file of the list once more, from the session as it was. */
export const exportAgain =
  (id: string): Thunk<Promise<void>> =>
  async (dispatch, getState) => {
    const item = getState().jobs.exports.find((known) => known.id === id)
    if (!item) return
    const { session, state: _, failure: __, file: ___, id: ____, ...wish } = item
    dispatch(dropExport(id))
    await dispatch(queueExports(session, [{ ...wish, name: wish.name.replace(/\.[^.]+$/, '') }]))
  }

/** Measures the mix as a job, without writing it. */
export const measureWholeMix = (
  session: Session,
  span: { from: number; to: number; tail: Tail | null },
  change: FileChange | null,
): Thunk<Promise<JobOutcome<MeasuredMix>>> =>
  runJob('measure', session.id, (onProgress, signal) =>
    measurePart(session, { part: { kind: 'mix' }, ...span, change }, onProgress, signal),
  )

/** Measures the mix and its seams as a job, and puts what is to be told of them together. */
export const makeReport =
  (session: Session, target: Target | null): Thunk<Promise<JobOutcome<SessionReport>>> =>
  (dispatch, getState) =>
    dispatch(
      runJob('measure', session.id, async (onProgress, signal) => {
        const range = { from: 0, to: sessionLength(session), tail: 'audible' as const }
        const measured = await measurePart(
          session,
          { part: { kind: 'mix' }, ...range, compareTracks: true },
          onProgress,
          signal,
        )
        const seams = await measureSeams(session, onProgress, signal)
        const files = getState().jobs.exports.flatMap((item) =>
          item.session.id === session.id && item.file ? [reportedFile(item, item.file)] : [],
        )
        return sessionReport(session, measured, seams, target, files)
      }),
    )

const levelDb = (gain: number) => (gain > 0 ? Math.round(gainToDb(gain) * 100) / 100 : null)

function reportedFile({ name, target }: ExportItem, { size, check, measure }: RenderedFile): ReportedFile {
  const judged = target
    ? judge(target, {
        loudness: { ...measure.loudness, integrated: check.integrated },
        truePeak: check.truePeak,
      })
    : []
  return {
    name,
    bytes: size,
    sha256: check.sha256,
    peakDb: levelDb(check.peak),
    truePeakDb: levelDb(check.truePeak),
    integrated: Number.isFinite(check.integrated) ? Math.round(check.integrated * 100) / 100 : null,
    good: check.faults.length === 0,
    missed: judged
      .filter(({ passes }) => !passes)
      .map(({ what, asked, is }) => `${what.toLowerCase()} ${is}, asked ${asked}`),
  }
}

/** Finished files with their contents; names that are there twice are counted. */
function filesOf(items: readonly ExportItem[]): { name: string; file: Blob }[] {
  const there = items.filter(({ id }) => contents.has(id))
  return withoutTwins(there.map(({ name }) => name)).map((name, n) => ({
    name,
    file: contents.get(there[n]!.id)!,
  }))
}

/** Puts finished files into one ZIP, as a job. */
export const zipExports = (items: readonly ExportItem[]): Thunk<Promise<JobOutcome<Blob>>> =>
  runJob('zip', items[0]?.session.id ?? null, (onProgress, signal) =>
    zipFiles(filesOf(items), onProgress, signal),
  )

/** Where finished files are received, if the server does so. */
const DROP_OFF = '/drop-off'

/** Whether finished files are received somewhere, and what is asked of them; null for no. */
export const receivingHere = () => receivingRules(DROP_OFF)

/** Delivers a finished file, or goes on with a delivery that broke off; what becomes of it is in the store. */
export const deliverExport =
  (id: string): Thunk<Promise<void>> =>
  async (dispatch, getState) => {
    const item = getState().jobs.exports.find((known) => known.id === id)
    const file = contents.get(id)
    if (!item?.file || !file) return
    const before = item.delivery
    let begun = before?.state === 'broken' ? before.begun : null
    dispatch(exportChanged({ id, delivery: { state: 'running' } }))
    const { name } = item
    const { sha256 } = item.file.check
    const outcome = await dispatch(
      runJob('deliver', item.session.id, (onProgress, signal) =>
        deliver(
          file,
          { name, sha256 },
          {
            base: DROP_OFF,
            onProgress,
            signal,
            begun: begun === null ? null : { id: begun },
            onBegun: (now) => (begun = now.id),
          },
        ).then(
          (receipt): DeliveryState => ({ state: 'received', receipt }),
          (error: unknown): DeliveryState => {
            if (error instanceof Refused) return { state: 'refused', reasons: error.reasons }
            throw error
          },
        ),
      ),
    )
    const delivery: DeliveryState = outcome.done
      ? outcome.value
      : { state: 'broken', message: outcome.message, begun }
    dispatch(exportChanged({ id, delivery }))
  }

/** Whether files can be put into a folder that is chosen. */
export const canPickFolder = (): boolean => 'showDirectoryPicker' in window

/** Puts finished files into a folder that is chosen; rejects with what went wrong. Resolves to how many were written. */
export async function saveIntoFolder(items: readonly ExportItem[]): Promise<number> {
  const picker = window as unknown as {
    showDirectoryPicker(options: { mode: 'readwrite' }): Promise<FileSystemDirectoryHandle>
  }
  const folder = await picker.showDirectoryPicker({ mode: 'readwrite' })
  const files = filesOf(items)
  for (const { name, file } of files) {
    const handle = await folder.getFileHandle(name, { create: true })
    await file.stream().pipeTo(await handle.createWritable())
  }
  return files.length
}
