import { insertKind, number, slow } from '../insert-types'

export const kind = insertKind({
  kind: 'de-esser',
  name: 'De-esser',
  about: 'Turns down what is loud above a frequency, such as sibilants.',
  hearsLevel: true,
  search: 'sibilance deesser dynamics',
  work: 130,
  picture: 'reduction',
  reduces: 'loud',
  parameters: [
    number('frequencyHz', 'Frequency', 'Hz', [2000, 16_000, 6000], slow, true),
    number('thresholdDb', 'Threshold', 'dB', [-80, 0, -30], slow),
    number('ratio', 'Ratio', ':1', [1, 100, 4], slow, true),
    number('attackMs', 'Attack', 'ms', [0.05, 50, 0.5], slow, true),
    number('releaseMs', 'Release', 'ms', [5, 500, 60], slow, true),
    number('mostDb', 'At most', 'dB', [0, 24, 12], slow),
  ],
  presets: [
    { name: 'Sibilants, gentle', values: { frequencyHz: 5500, thresholdDb: -32, ratio: 3, mostDb: 6 } },
    { name: 'Sibilants, firm', values: { frequencyHz: 6000, thresholdDb: -38, ratio: 6, mostDb: 12 } },
  ],
})

/** What it computes, for `docs/inserts.md`: one paragraph a line. */
export const docs = [
  'A Linkwitz–Riley crossover of fourth order (two Butterworth filters of second order, bilinear) divides the sound; the upper part is turned down as by the compressor with `peak` and no knee, at most by the limit, and both are added again.',
]
