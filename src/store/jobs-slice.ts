import { createSlice, type PayloadAction } from '@reduxjs/toolkit'
import type { Session } from '../core/model/session'
import type { Progress } from '../engine/progress'
import type { WavFormat } from '../formats/wav-write'

/** Kinds of long work. Of each kind one job runs at a time. */
export type JobKind = 'import' | 'export' | 'render' | 'copy' | 'open'

/** A job that is going on. */
export interface RunningJob {
  kind: JobKind
  /** The session that it is about; null for a new one. */
  sessionId: string | null
  progress: Progress
  /** When it began, in milliseconds as `performance.now` counts. */
  since: number
}

/** A rendered file, ready to be taken home. */
export interface FinishedExport {
  /** What was rendered: the session as it was, and which part of it, in frames. */
  session: Session
  /** Whether it is the plain mix, with nothing soloed, muted or bypassed. */
  plain: boolean
  format: WavFormat
  from: number
  to: number
  /** Address of the file in this page, its name, and its size in bytes. */
  url: string
  name: string
  size: number
  /** Highest sample and true peak, linear, loudness in LUFS, and how many samples pass full scale. */
  peak: number
  truePeak: number
  integratedLufs: number
  clipped: number
  /** Inserts that put out what is no number, and were left out. */
  faults: string[]
}

interface JobsState {
  running: RunningJob[]
  /** The last export: its file, or why there is none. */
  exported: FinishedExport | null
  exportFailure: string | null
}

/** The long work that is going on, whatever page is shown: a job outlives the view that began it. */
export const jobsSlice = createSlice({
  name: 'jobs',
  initialState: { running: [], exported: null, exportFailure: null } as JobsState,
  reducers: {
    jobBegun: (state, action: PayloadAction<RunningJob>) => void state.running.push(action.payload),
    jobProgressed: (state, action: PayloadAction<{ kind: JobKind; progress: Progress }>) => {
      const job = state.running.find((j) => j.kind === action.payload.kind)
      if (job) job.progress = action.payload.progress
    },
    jobEnded: (state, action: PayloadAction<JobKind>) => {
      state.running = state.running.filter((j) => j.kind !== action.payload)
    },
    exportEnded: (
      state,
      { payload }: PayloadAction<{ file: FinishedExport | null; failure: string | null }>,
    ) => ({ ...state, exported: payload.file, exportFailure: payload.failure }),
  },
})

export const { jobBegun, jobProgressed, jobEnded, exportEnded } = jobsSlice.actions
