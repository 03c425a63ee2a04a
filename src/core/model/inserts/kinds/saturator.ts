import { choice, insertKind, number } from '../insert-types'

export const kind = insertKind({
  kind: 'saturator',
  name: 'Saturator',
  about: 'Adds harmonics, more when loud.',
  hearsLevel: true,
  search: 'distortion warmth drive overdrive',
  work: 600,
  picture: 'curve',
  parameters: [
    number('driveDb', 'Drive', 'dB', [0, 48, 12]),
    choice(
      'shape',
      'Shape',
      [
        { value: 'soft', label: 'Soft' },
        { value: 'hard', label: 'Hard' },
        { value: 'asymmetric', label: 'Asymmetric' },
      ],
      'soft',
    ),
    number('mix', 'Mix', '%', [0, 1, 1]),
    number('outputDb', 'Output', 'dB', [-36, 12, 0]),
  ],
  presets: [
    { name: 'A little warmth', values: { driveDb: 6, mix: 0.5 } },
    { name: 'Driven', values: { driveDb: 20, outputDb: -6 } },
    { name: 'Rough and uneven', values: { driveDb: 16, shape: 'asymmetric', outputDb: -6 } },
  ],
})

/** What it computes, for `docs/inserts.md`: one paragraph a line. */
export const docs = [
  'At eight times the rate (half-bands of 75, 19 and 11 taps whose largest error is least: -101, -96 and -97 dB), with g = 10^(drive/20): soft `tanh(gx)`, hard `clamp(gx, -1, 1)`, asymmetric `tanh(gx + 0.3) - tanh(0.3)`, each sample the mean of the curve over the steps to it and from it, weighted by a triangle (second-order antiderivative anti-aliasing: S. Bilbao, F. Esqueda, J. D. Parker, V. Välimäki, IEEE SPL 24(7), 2017); short steps by cubics, longer ones by Gauss’s quadrature, the longest by the integrals of tanh; all of it in 32 bits. Three taps make up for its droop. Asymmetric: a low cut of first order at 5 Hz takes DC out. Then `(1 - mix)·dry + mix·wet` with the dry sound only late, so that a mix of 0 is the sound that came in, to the bit; the output gain is of both. It is 64 frames late. Dry and wet line up within -80 dB up to 15 kHz; at 24 dB of drive what is no overtone of a tone of 1 to 10 kHz stays under -85 dB below 20 kHz.',
]
