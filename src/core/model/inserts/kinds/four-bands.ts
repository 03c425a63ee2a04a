import { choice, inGroup, insertKind, number, slow, toggle, type InsertParameter } from '../insert-types'

/** The ranges of four bands, from low to high. */
export const FOUR_BANDS = [
  ['low', 'Low'],
  ['lowMid', 'Low mid'],
  ['highMid', 'High mid'],
  ['high', 'High'],
] as const

const compressedBand = ([band, name]: (typeof FOUR_BANDS)[number]): InsertParameter[] =>
  inGroup(name, [
    number(`${band}.thresholdDb`, `${name} threshold`, 'dB', [-80, 0, -20], slow),
    number(`${band}.ratio`, `${name} ratio`, ':1', [1, 100, 3], slow, true),
    number(`${band}.kneeDb`, `${name} knee`, 'dB', [0, 36, 6], slow),
    number(`${band}.attackMs`, `${name} attack`, 'ms', [0.05, 500, 10], slow, true),
    number(`${band}.releaseMs`, `${name} release`, 'ms', [5, 5000, 120], slow, true),
    number(`${band}.makeupDb`, `${name} make-up`, 'dB', [-12, 36, 0]),
    toggle(`${band}.bypassed`, `${name} bypassed`),
  ])

export const kind = insertKind({
  kind: 'four-bands',
  name: 'Four bands',
  about: 'A compressor for each of four ranges of frequencies.',
  hearsLevel: true,
  search: 'multiband dynamics',
  work: 500,
  picture: 'reduction',
  reduces: 'loud',
  parameters: [
    ...FOUR_BANDS.flatMap(compressedBand),
    number('crossover1Hz', 'Crossover 1', 'Hz', [20, 20_000, 120], slow, true),
    number('crossover2Hz', 'Crossover 2', 'Hz', [20, 20_000, 1000], slow, true),
    number('crossover3Hz', 'Crossover 3', 'Hz', [20, 20_000, 6000], slow, true),
    choice(
      'alone',
      'Listen to',
      [
        { value: 'none', label: 'All bands' },
        ...FOUR_BANDS.map(([value, name]) => ({ value, label: `${name} alone` })),
      ],
      'none',
    ),
  ],
  presets: [
    {
      name: 'Even tone',
      values: {
        'low.thresholdDb': -28,
        'low.ratio': 2,
        'lowMid.thresholdDb': -28,
        'lowMid.ratio': 2,
        'highMid.thresholdDb': -30,
        'highMid.ratio': 2,
        'high.thresholdDb': -34,
        'high.ratio': 2,
      },
    },
  ],
})

/** What it computes, for `docs/inserts.md`: one paragraph a line. */
export const docs = [
  'Three Linkwitz–Riley crossovers of fourth order; each band passes the all-passes of the crossovers that do not bound it, so that all add up to the product of the three all-passes. Each band is compressed as by the compressor with `peak`. Crossovers rise from the first to the third.',
]
