import type { Processor, Sides } from '../../dsp/processors'

/** Is told of the sound at the inserts of some strips while it is rendered; null stands for the mix. */
export interface Probe {
  /** Whether anything of a strip is to be told. */
  watches(stripId: string | null): boolean
  /** Whether the stages around the inserts of a strip are to be told, too; they are then worked out for it. */
  watchesStages?(stripId: string | null): boolean
  /** Of the stages it wants only the last, what leaves the pan. */
  readonly onlyPan?: boolean
  /**
   * `count` frames from index 0 on as they leave an insert or a stage (`stageId`), with the processor that made them; with null as `insertId` as
   * they come to the first insert of a strip, and with `LAST_IN` to the first after the pan of the mix.
   */
  note(
    stripId: string | null,
    insertId: string | null,
    sound: Sides,
    channels: 1 | 2,
    count: number,
    processor: Processor | null,
    /** The session frame of the first of them. */
    frame: number,
    /** How long the insert took, by the probe's clock; 0 without one. */
    took: number,
  ): void
  /** A clock by which inserts are timed. */
  now?(): number
}

/** What comes to the first insert after the pan of the mix; no insert has such an id. */
export const LAST_IN = ':last'

/** A stage of the Path around the inserts of a strip. */
export type ProbedStage = 'clip-gain' | 'gain-thread' | 'fades' | 'trim' | 'volume' | 'pan'

/** What stands for a stage in place of an insert; no insert has such an id. */
export const stageId = (stage: ProbedStage): string => `${STAGE}${stage}`
const STAGE = ':stage '

/** Whether an id stands for a stage. */
export const isStageId = (id: string | null): boolean => id?.startsWith(STAGE) ?? false

/** Where in a session a chain is, for what is told of it. */
export interface ProbedChain {
  probe: Probe
  stripId: string | null
  /** What stands for what comes to its first insert. */
  incoming: null | typeof LAST_IN
}
