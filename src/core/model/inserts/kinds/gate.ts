import { insertKind, number, slow } from '../insert-types'

export const kind = insertKind({
  kind: 'gate',
  name: 'Gate',
  about: 'Turns down what is softer than a threshold.',
  hearsLevel: true,
  takesKey: true,
  search: 'noise expander dynamics',
  work: 150,
  picture: 'reduction',
  reduces: 'soft',
  parameters: [
    number('thresholdDb', 'Threshold', 'dB', [-90, 0, -50], slow),
    number('ratio', 'Ratio', ':1', [1, 100, 4], slow, true),
    number('rangeDb', 'Range', 'dB', [0, 90, 40], slow),
    number('attackMs', 'Attack', 'ms', [0.05, 100, 1], slow, true),
    number('holdMs', 'Hold', 'ms', [0, 2000, 50], slow),
    number('releaseMs', 'Release', 'ms', [5, 5000, 150], slow, true),
    number('hysteresisDb', 'Hysteresis', 'dB', [0, 12, 3], slow),
    number('lookAheadMs', 'Look-ahead', 'ms', [0, 20, 2], { moves: 'never' }),
  ],
  presets: [
    {
      name: 'Softer between phrases',
      values: {
        thresholdDb: -45,
        ratio: 2,
        rangeDb: 12,
        holdMs: 200,
        releaseMs: 300,
      },
    },
    {
      name: 'Silence between hits',
      values: {
        thresholdDb: -35,
        ratio: 20,
        rangeDb: 60,
        holdMs: 40,
        releaseMs: 80,
      },
    },
  ],
})

/** What it computes, for `docs/inserts.md`: one paragraph a line. */
export const docs = [
  'Level: the largest sample of all channels over the last 5 ms. It opens where the level reaches the threshold, and closes when it has been under `threshold - hysteresis` for as long as the hold. While it is closed, a level under the threshold is turned down by `(threshold - level)·(ratio - 1)`, at most by the range. The reduction is followed as that of the compressor: it falls with attack and rises with release.',
]
