import { createSlice, type PayloadAction } from '@reduxjs/toolkit'
import type { Target } from '../core/measure/target'
import type { FileChange } from '../core/model/file-change'
import type { Session } from '../core/model/session'
import type { Tail } from '../core/render'
import type { Progress } from '../engine/worker'
import type { Receipt } from '../engine/export'
import type { ExportPart, ExportResult } from '../engine/export'
import type { SoundFormat } from '../formats/sound-write'

/** Kinds of long work. Of each kind one job runs at a time. */
export type JobKind = 'import' | 'export' | 'measure' | 'zip' | 'deliver' | 'render' | 'copy' | 'open'

/** A job that is going on. */
export interface RunningJob {
  kind: JobKind
  /** The session that it is about; null for a new one. */
  sessionId: string | null
  progress: Progress
  /** When it began, in milliseconds as `performance.now` counts. */
  since: number
}

/** What was asked to be rendered into a file. */
export interface ExportWish {
  /** What it has of the session, in words. */
  what: string
  /** The file's name, with its extension. */
  name: string
  part: ExportPart
  /** Whether it is the plain mix, with nothing soloed, muted or bypassed. */
  plain: boolean
  format: SoundFormat
  sampleRate: number
  /** Session frames. */
  from: number
  to: number
  /** What comes after `to`, where that is the end of the session; null for a range or a region. */
  tail: Tail | null
  /** What the file has to keep; null for nothing. */
  target: Target | null
  /** What is done to the mix in the file alone; null for nothing. */
  change: FileChange | null
}

/** What became of a rendered file. */
export interface RenderedFile extends Omit<ExportResult, 'file'> {
  /** Its address in this page, and its size in bytes. */
  url: string
  size: number
}

/** A file of the queue. */
export interface ExportItem extends ExportWish {
  id: string
  /** The session as it was when it was asked for; that is what is rendered. */
  session: Session
  state: 'waiting' | 'running' | 'done' | 'failed' | 'cancelled'
  /** Why it failed. */
  failure: string | null
  file: RenderedFile | null
  /** What became of its delivery. */
  delivery?: DeliveryState
}

/** A delivery that goes on, came whole, was refused, or broke off and can be taken up again. */
export type DeliveryState =
  | { state: 'running' }
  | { state: 'received'; receipt: Receipt }
  | { state: 'refused'; reasons: readonly string[] }
  | { state: 'broken'; message: string; begun: string | null }

interface JobsState {
  running: RunningJob[]
  /** The files that were asked for since the page was opened, in that order. */
  exports: ExportItem[]
}

/** The long work that is going on, whatever page is shown: a job outlives the view that began it. */
export const jobsSlice = createSlice({
  name: 'jobs',
  initialState: { running: [], exports: [] } as JobsState,
  reducers: {
    jobBegun: (state, action: PayloadAction<RunningJob>) => void state.running.push(action.payload),
    jobProgressed: (state, action: PayloadAction<{ kind: JobKind; progress: Progress }>) => {
      const job = state.running.find((j) => j.kind === action.payload.kind)
      if (job) job.progress = action.payload.progress
    },
    jobEnded: (state, action: PayloadAction<JobKind>) => {
      state.running = state.running.filter((j) => j.kind !== action.payload)
    },
    exportsAdded: (state, { payload }: PayloadAction<ExportItem[]>) => ({
      ...state,
      exports: [...state.exports, ...payload],
    }),
    exportChanged: (
      state,
      {
        payload,
      }: PayloadAction<{ id: string } & Partial<Pick<ExportItem, 'state' | 'failure' | 'file' | 'delivery'>>>,
    ) => ({
      ...state,
      exports: state.exports.map((item) => (item.id === payload.id ? { ...item, ...payload } : item)),
    }),
    exportsRemoved: (state, { payload }: PayloadAction<readonly string[]>) => ({
      ...state,
      exports: state.exports.filter(({ id }) => !payload.includes(id)),
    }),
  },
})

export const { jobBegun, jobProgressed, jobEnded, exportsAdded, exportChanged, exportsRemoved } =
  jobsSlice.actions
