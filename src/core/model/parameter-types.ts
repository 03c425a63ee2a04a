import type { Scale } from '../units/scale'
import type { Typed } from '../units/typed'
import type { Mix, Track } from './session'
import type { Strip } from './strips'

/** How the Path names a stage. */
export interface StageWords {
  name: string
  /** What it belongs to: "of the track". */
  place: string
  /** What shaping it does. */
  about: string
}

/** The static value of a parameter: what holds while no lane moves it. null is silence, where that is allowed. */
export interface StaticValue {
  readonly min: number
  readonly max: number
  readonly allowsSilence: boolean
  /** The value that changes nothing, and how the way back to it is called, short and within a sentence. */
  readonly defaultValue: number
  readonly defaultShort: string
  readonly defaultWords: string
  /** What a press of an arrow key adds, and with Alt. */
  readonly step: number
  readonly fineStep: number
  read(strip: Strip): number | null
  /** The fields of the strip that hold a value. */
  written(strip: Strip, value: number | null): Partial<Track & Mix>
  show(value: number | null): string
  parse(text: string): Typed<number | null>
  /** The value of a lane that stands where the static value does. */
  toLane(value: number | null): number
  /** The static value that is nearest to one of a lane. */
  fromLane(value: number): number | null
}

/** How a thread is called and drawn, and what its values are. */
export interface ThreadLook {
  /** As a lane, a field or a step is called; and within a sentence, before "of “Narrator”". */
  readonly name: string
  readonly words: string
  readonly scale: Scale
  readonly dye: 'madder' | 'woad' | 'weld' | 'heather' | 'lichen'
  readonly knotShape: 'filled' | 'round' | 'square'
}

/**
 * Something of a strip that has a value and can be shaped by a lane. All that the program knows of it is
 * here: rules, lanes, renderer, automation, fields, keys and labels read it. Adding a parameter is adding an
 * entry.
 */
export interface Parameter extends ThreadLook {
  /** The key of its lane in the strip's `lanes`. */
  readonly key: string
  /** Where it acts. */
  readonly stage: 'insert' | 'volume' | 'pan' | 'send'
  /**
   * The parameter with which it shares a place in the Path: the pans of a pair are shown at the pan. Else its
   * own key.
   */
  readonly shownAt: string
  /** Beside others at the same place of the Path: "Left". */
  readonly shortName: string
  /** As the lanes menu and the tag beside its line call it. */
  readonly laneName: string
  /** Whether it acts on a strip. */
  actsOn(strip: Strip): boolean
  /** The value of its lane without knots. */
  laneDefault(strip: Strip): number
  /** null for what only a lane sets. */
  readonly value: StaticValue | null
  /** What the field of its static value is called. */
  readonly fieldLabel: { readonly track: string; readonly mix: string }
  readonly path: { track(track: Track): StageWords; readonly mix: StageWords }
}
