import * as z from 'zod/mini'
import { boundsBreach } from '../check/bounds'
import { breachLine } from '../check/breach'
import { insertKindOf } from './insert-kinds'
import { LIMITS, type Insert } from '../session'
import { insertSchema } from '../session-schema'
import { list } from '../schema-fields'
import { issueWords } from '../check/shape-words'
import { shownText } from '../check/shown'
import { insertValueBreaches } from '../check/routing-rules'

/** What a preset says of an insert: its kind, and the values that differ from the defaults. */
export type PresetInsert = Pick<Insert, 'kind' | 'values'> & Partial<Pick<Insert, 'bypassed'>>

/** Values for one insert, or for several in a chain, under a name. */
export interface Preset {
  name: string
  inserts: readonly PresetInsert[]
}

export const PRESET_SCHEMA = 'oaken-thread/preset'

const presetSchema = z.strictObject({
  schema: z.literal(PRESET_SCHEMA),
  version: z.literal(1),
  name: z.string().check(z.trim(), z.minLength(1), z.maxLength(LIMITS.nameLength)),
  inserts: list(
    z.extend(z.pick(insertSchema, { kind: true, values: true }), { bypassed: z.optional(z.boolean()) }),
    LIMITS.inserts,
    1,
  ),
})

/** A preset that cannot be read, with a sentence for the user. */
export class PresetError extends Error {
  override name = 'PresetError'
}

/** A preset as it stands in a file. */
export const presetFile = ({ name, inserts }: Preset) =>
  ({
    schema: PRESET_SCHEMA,
    version: 1,
    name,
    inserts: inserts.map(({ kind, values, bypassed }) => ({
      kind,
      values,
      ...(bypassed ? { bypassed } : {}),
    })),
  }) as const

/** Reads a preset from the text of a file, or from data. Throws `PresetError` in one sentence for what is none. */
export function readPreset(input: unknown): Preset {
  let data = input
  if (typeof input === 'string')
    try {
      data = JSON.parse(input)
    } catch {
      throw new PresetError('This is no preset: it is not JSON.')
    }
  const huge = boundsBreach(data)
  if (huge) throw new PresetError(`This is no preset of Oaken Thread: ${breachLine(huge)}.`)
  const read = presetSchema.safeParse(data)
  if (!read.success) {
    const [issue] = read.error.issues
    const at = issue!.path.map((key) => shownText(String(key), 40)).join('.')
    throw new PresetError(`This is no preset of Oaken Thread${at && ` at ${at}`}: ${issueWords(issue!)}.`)
  }
  for (const [n, insert] of read.data.inserts.entries()) {
    const [breach] = insertValueBreaches(insert, `inserts.${n}.values`)
    if (breach) throw new PresetError(`This preset cannot be used: ${breachLine(breach)}.`)
  }
  return {
    name: read.data.name,
    inserts: read.data.inserts.map(({ kind, values, bypassed }) => ({
      kind,
      values,
      ...(bypassed ? { bypassed } : {}),
    })),
  }
}

/** Presets of one insert of a kind, or with null those of chains. */
export const presetsFor = (presets: readonly Preset[], kind: Insert['kind'] | null): Preset[] =>
  presets.filter(({ inserts }) =>
    kind === null ? inserts.length > 1 : inserts.length === 1 && inserts[0]!.kind === kind,
  )

/** What a preset is made of, in words: "equaliser, de-esser, compressor". */
export const presetWords = ({ inserts }: Preset): string =>
  inserts.map(({ kind }) => insertKindOf(kind).name.toLowerCase()).join(', ')

const one = (name: string, kind: Insert['kind'], values: Insert['values']): Preset => ({
  name,
  inserts: [{ kind, values }],
})

const SPEECH_EQUALISER: PresetInsert = {
  kind: 'equaliser',
  values: {
    'b1.on': true,
    'b1.kind': 'low-cut',
    'b1.frequencyHz': 80,
    'b1.slope': 18,
    'b2.on': true,
    'b2.frequencyHz': 320,
    'b2.gainDb': -2.5,
    'b2.q': 1,
    'b3.on': true,
    'b3.kind': 'high-shelf',
    'b3.frequencyHz': 6500,
    'b3.gainDb': 2,
  },
}
const SPEECH_DE_ESSER: PresetInsert = {
  kind: 'de-esser',
  values: { frequencyHz: 5500, thresholdDb: -32, ratio: 3, mostDb: 6 },
}
const SPEECH_COMPRESSOR: PresetInsert = {
  kind: 'compressor',
  values: {
    thresholdDb: -26,
    ratio: 2.5,
    kneeDb: 8,
    attackMs: 8,
    releaseMs: 140,
    makeupDb: 3,
    detectorCutHz: 90,
  },
}

/** The presets that come with the program. Names say what they do. */
export const OWN_PRESETS: readonly Preset[] = [
  { name: 'Speech, clear', inserts: [SPEECH_EQUALISER] },
  one('Rumble away', 'equaliser', {
    'b1.on': true,
    'b1.kind': 'low-cut',
    'b1.frequencyHz': 60,
    'b1.slope': 24,
  }),
  one('Less boxy', 'equaliser', { 'b2.on': true, 'b2.frequencyHz': 450, 'b2.gainDb': -4, 'b2.q': 1.2 }),
  one('Airy top', 'equaliser', {
    'b5.on': true,
    'b5.kind': 'high-shelf',
    'b5.frequencyHz': 10_000,
    'b5.gainDb': 3,
  }),
  one('Mains hum of 50 Hz away', 'equaliser', {
    'b1.on': true,
    'b1.kind': 'notch',
    'b1.frequencyHz': 50,
    'b1.q': 20,
    'b2.on': true,
    'b2.kind': 'notch',
    'b2.frequencyHz': 100,
    'b2.q': 20,
    'b3.on': true,
    'b3.kind': 'notch',
    'b3.frequencyHz': 150,
    'b3.q': 20,
  }),
  { name: 'Speech, gentle', inserts: [SPEECH_COMPRESSOR] },
  one('Speech, dense', 'compressor', {
    thresholdDb: -32,
    ratio: 4,
    kneeDb: 6,
    attackMs: 3,
    releaseMs: 90,
    makeupDb: 7,
    detectorCutHz: 90,
  }),
  one('Group, held together', 'compressor', {
    thresholdDb: -20,
    ratio: 2,
    kneeDb: 6,
    attackMs: 30,
    releaseMs: 220,
    detector: 'rms',
  }),
  one('Only peaks', 'compressor', {
    thresholdDb: -12,
    ratio: 8,
    kneeDb: 2,
    attackMs: 0.5,
    releaseMs: 60,
    lookAheadMs: 2,
  }),
  one('Make room for the key', 'compressor', {
    thresholdDb: -36,
    ratio: 3,
    kneeDb: 12,
    attackMs: 40,
    releaseMs: 400,
    mostDb: 9,
  }),
  one('Softer between phrases', 'gate', {
    thresholdDb: -45,
    ratio: 2,
    rangeDb: 12,
    holdMs: 200,
    releaseMs: 300,
  }),
  one('Silence between hits', 'gate', {
    thresholdDb: -35,
    ratio: 20,
    rangeDb: 60,
    holdMs: 40,
    releaseMs: 80,
  }),
  { name: 'Sibilants, gentle', inserts: [SPEECH_DE_ESSER] },
  one('Sibilants, firm', 'de-esser', { frequencyHz: 6000, thresholdDb: -38, ratio: 6, mostDb: 12 }),
  one('Even tone', 'four-bands', {
    'low.thresholdDb': -28,
    'low.ratio': 2,
    'lowMid.thresholdDb': -28,
    'lowMid.ratio': 2,
    'highMid.thresholdDb': -30,
    'highMid.ratio': 2,
    'high.thresholdDb': -34,
    'high.ratio': 2,
  }),
  one('A little warmth', 'saturator', { driveDb: 6, mix: 0.5 }),
  one('Driven', 'saturator', { driveDb: 20, outputDb: -6 }),
  one('Rough and uneven', 'saturator', { driveDb: 16, shape: 'asymmetric', outputDb: -6 }),
  one('Echo in eighths', 'delay', {
    noteValue: 0.5,
    feedback: 0.35,
    mix: 0.25,
    highCutHz: 6000,
    lowCutHz: 150,
  }),
  one('One slap', 'delay', { timeMs: 95, feedback: 0, mix: 0.3, highCutHz: 5000 }),
  one('From side to side', 'delay', {
    noteValue: 0.75,
    feedback: 0.5,
    mix: 0.3,
    pingPong: true,
    highCutHz: 7000,
  }),
  one('Small room', 'room', { size: 0.15, decaySeconds: 0.5, dampingHz: 5000, preDelayMs: 4, mix: 0.2 }),
  one('Stone hall', 'room', { size: 0.8, decaySeconds: 3.5, dampingHz: 4500, preDelayMs: 35, mix: 0.3 }),
  one('For a send: only the room', 'room', { size: 0.5, decaySeconds: 1.8, mix: 1 }),
  one('Bass in the middle', 'width', { monoBelowHz: 120 }),
  one('Wider', 'width', { width: 1.4, monoBelowHz: 120 }),
  one('Sharper attacks', 'transients', { attackDb: 6 }),
  one('Drier', 'transients', { sustainDb: -8 }),
  one('Nothing above −1 dBTP', 'ceiling', { ceilingDbtp: -1 }),
  one('Nothing above −2 dBTP, quick', 'ceiling', { ceilingDbtp: -2, lookAheadMs: 2, releaseMs: 60 }),
  one('DC away', 'gain', { removeDc: true }),
  one('Sides swapped', 'gain', { swap: true }),
  { name: 'Speech, ready', inserts: [SPEECH_EQUALISER, SPEECH_DE_ESSER, SPEECH_COMPRESSOR] },
  {
    name: 'Bass, steady and warm',
    inserts: [
      {
        kind: 'compressor',
        values: { thresholdDb: -24, ratio: 4, attackMs: 15, releaseMs: 150, makeupDb: 3 },
      },
      { kind: 'saturator', values: { driveDb: 8, mix: 0.4 } },
      { kind: 'equaliser', values: { 'b1.on': true, 'b1.kind': 'low-cut', 'b1.frequencyHz': 35 } },
    ],
  },
  {
    name: 'Group, held together, with a ceiling',
    inserts: [
      {
        kind: 'compressor',
        values: { thresholdDb: -20, ratio: 2, kneeDb: 6, attackMs: 30, releaseMs: 220, detector: 'rms' },
      },
      { kind: 'ceiling', values: { ceilingDbtp: -1 } },
    ],
  },
]
