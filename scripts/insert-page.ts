import { INSERT_KINDS } from '../src/core/model/inserts/insert-kinds'
import type { InsertParameter } from '../src/core/model/inserts/insert-types'

const UNITS: Readonly<Record<string, string>> = { '': '', ':1': 'to 1', '%': 'part' }

const MOVES: Readonly<Record<InsertParameter['moves'], string>> = {
  'every-frame': 'every frame',
  'every-sixteenth': 'every 16th frame',
  crossing: 'crosses over',
  never: '',
}

const KEY =
  'It takes a `key`: the id of a track or bus. Then its detector hears that strip as it leaves its inserts (both sides, of a mono strip twice the same), before fader and pan, muted or not, soloed or not; frame n of the key steers frame n of the sound. While the key sounds, the detector follows it even where nothing comes in.'

const coded = (value: string | number) => `\`${value}\``

function row({ key, type, range, choices, moves, scale }: InsertParameter): string {
  const [what, plain] =
    type === 'switch'
      ? ['`true` or `false`', '`false`']
      : choices
        ? [choices.map(({ value }) => coded(value)).join(', '), coded(choices[range.defaultValue]!.value)]
        : type === 'beats'
          ? [`\`null\`, or beats ${range.min}…${range.max}`, '`null`']
          : [`${range.min}…${range.max}`, String(range.defaultValue)]
  const unit = type === 'number' ? (UNITS[range.unit] ?? range.unit) : ''
  const lane = MOVES[moves] && `${MOVES[moves]}${scale.toPlace ? ', in octaves' : ''}`
  return `| \`${key}\` | ${unit} | ${what} | ${plain} | ${lane} |`
}

/** The kinds of inserts and their values as a page in Markdown. */
export async function insertsPage(): Promise<string> {
  const parts = [
    '# Inserts',
    'Written by `npm run schema` from the files in `core/model/inserts/kinds/`.',
    'An insert of a file is `{ "id", "kind", "bypassed", "values" }`; `values` holds what differs from the defaults. A value that moves has a lane `insert:<id>:<key>`, whose knots hold values in its unit; `insert:<id>:bypassed` is a lane of 0 and 1. A value that moves “every 16th frame” is computed at multiples of 16 from frame 0 and runs straight in between; a step in a lane of a filter (of the equaliser, or in Hz) is a raised cosine of 60 ms in place of 1 ms; “in octaves” says that a lane is straight on a logarithmic axis.',
  ]
  for (const insertKind of INSERT_KINDS) {
    const { docs } = (await import(`../src/core/model/inserts/kinds/${insertKind.kind}.ts`)) as {
      docs: string[]
    }
    const { kind, name, about, parameters } = insertKind
    // Bands are alike: the first stands for all.
    const first = parameters.find((p) => p.group)?.group
    const shown = parameters.filter((p) => !p.group || p.group === first)
    const bands = [...new Set(parameters.flatMap((p) => (p.group ? [p.key.split('.')[0]!] : [])))]
    parts.push(
      `## ${name}: \`${kind}\``,
      about,
      ...docs,
      ...(insertKind.takesKey ? [KEY] : []),
      ['| key | unit | range | default | lane |', '| --- | --- | --- | --- | --- |', ...shown.map(row)].join(
        '\n',
      ),
    )
    if (bands.length) parts.push(`The keys of a band are there for ${bands.map(coded).join(', ')}.`)
  }
  return `${parts.join('\n\n')}\n`
}
