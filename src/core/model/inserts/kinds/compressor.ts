import { choice, insertKind, number, slow } from '../insert-types'

export const kind = insertKind({
  kind: 'compressor',
  name: 'Compressor',
  about: 'Turns down what is louder than a threshold.',
  hearsLevel: true,
  takesKey: true,
  search: 'dynamics squash',
  work: 60,
  picture: 'reduction',
  reduces: 'loud',
  parameters: [
    number('thresholdDb', 'Threshold', 'dB', [-80, 0, -20], slow),
    number('ratio', 'Ratio', ':1', [1, 100, 3], slow, true),
    number('kneeDb', 'Knee', 'dB', [0, 36, 6], slow),
    number('attackMs', 'Attack', 'ms', [0.05, 500, 10], slow, true),
    number('releaseMs', 'Release', 'ms', [5, 5000, 120], slow, true),
    number('makeupDb', 'Make-up', 'dB', [-12, 36, 0]),
    number('lookAheadMs', 'Look-ahead', 'ms', [0, 20, 0], { moves: 'never' }),
    choice(
      'detector',
      'Detector',
      [
        { value: 'peak', label: 'Peak' },
        { value: 'rms', label: 'RMS' },
      ],
      'peak',
    ),
    number('detectorCutHz', 'Detector cut', 'Hz', [0, 2000, 0], { ...slow, minWord: 'off' }),
    number('mostDb', 'At most', 'dB', [0, 80, 80], slow),
    number('mix', 'Mix', '%', [0, 1, 1]),
  ],
  presets: [
    {
      name: 'Speech, gentle',
      values: {
        thresholdDb: -26,
        ratio: 2.5,
        kneeDb: 8,
        attackMs: 8,
        releaseMs: 140,
        makeupDb: 3,
        detectorCutHz: 90,
      },
    },
    {
      name: 'Speech, dense',
      values: {
        thresholdDb: -32,
        ratio: 4,
        kneeDb: 6,
        attackMs: 3,
        releaseMs: 90,
        makeupDb: 7,
        detectorCutHz: 90,
      },
    },
    {
      name: 'Group, held together',
      values: {
        thresholdDb: -20,
        ratio: 2,
        kneeDb: 6,
        attackMs: 30,
        releaseMs: 220,
        detector: 'rms',
      },
    },
    {
      name: 'Only peaks',
      values: {
        thresholdDb: -12,
        ratio: 8,
        kneeDb: 2,
        attackMs: 0.5,
        releaseMs: 60,
        lookAheadMs: 2,
      },
    },
    {
      name: 'Make room for the key',
      values: {
        thresholdDb: -36,
        ratio: 3,
        kneeDb: 12,
        attackMs: 40,
        releaseMs: 400,
        mostDb: 9,
      },
    },
  ],
})

/** What it computes, for `docs/inserts.md`: one paragraph a line. */
export const docs = [
  'Level: the largest sample of all channels over the last 5 ms, or (`rms`) the largest mean square of a channel over the last 10 ms; the detector cut is a low cut of 12 dB an octave on what is heard. Asked for: with `over = level - threshold`, 0 up to `over = -knee/2`, `(1 - 1/ratio)·(over + knee/2)²/(2·knee)` up to `knee/2`, `(1 - 1/ratio)·over` beyond, at most the limit (D. Giannoulis, M. Massberg, J. D. Reiss, JAES 60(6), 2012). Followed: `r += (1 - e^(-1/(τ·fs)))·(asked - r)` a frame, with attack for τ where more is asked, else release. A knee under 0.001 dB is as wide. The gain is `10^((make-up - r)/20)`; `out = (1 - mix)·dry + mix·wet`.',
  'With look-ahead the level is that of so much later; the latency is rounded up to 64 frames.',
]
