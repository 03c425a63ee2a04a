import * as z from 'zod/mini'
import { boundsBreach } from '../check/bounds'
import { breachLine } from '../check/breach'
import { INSERT_KINDS, insertKindOf } from './insert-kinds'
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

const named = (kind: Insert['kind'], name: string): PresetInsert => ({
  kind,
  values: insertKindOf(kind).presets.find((preset) => preset.name === name)!.values,
})

/** Chains that come with the program. */
const CHAINS: readonly Preset[] = [
  {
    name: 'Speech, ready',
    inserts: [
      named('equaliser', 'Speech, clear'),
      named('de-esser', 'Sibilants, gentle'),
      named('compressor', 'Speech, gentle'),
    ],
  },
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

/** The presets that come with the program: those of each kind, and chains. Names say what they do. */
export const OWN_PRESETS: readonly Preset[] = [
  ...INSERT_KINDS.flatMap(({ kind, presets }) =>
    presets.map(({ name, values }) => ({ name, inserts: [{ kind, values }] })),
  ),
  ...CHAINS,
]
