import { insertKind, number } from '../insert-types'

export const kind = insertKind({
  kind: 'ceiling',
  name: 'Ceiling',
  about: 'Keeps true peaks under a level by turning down ahead of them.',
  hearsLevel: true,
  search: 'limiter true peak',
  work: 1000,
  picture: 'reduction',
  reduces: 'loud',
  parameters: [
    number('ceilingDbtp', 'Level', 'dBTP', [-24, 0, -1]),
    number('lookAheadMs', 'Look-ahead', 'ms', [1, 20, 5], { moves: 'never' }),
    number('releaseMs', 'Release', 'ms', [10, 2000, 150], { moves: 'every-sixteenth' }, true),
  ],
  presets: [
    { name: 'Nothing above −1 dBTP', values: { ceilingDbtp: -1 } },
    { name: 'Nothing above −2 dBTP, quick', values: { ceilingDbtp: -2, lookAheadMs: 2, releaseMs: 60 } },
  ],
})

/** What it computes, for `docs/inserts.md`: one paragraph a line. */
export const docs = [
  'The peak of a frame is the largest size of the signal from the sample before it to the one after it, on any channel: 8 points a sample by a sinc of 128 taps (Kaiser, β = 5), and a parabola through the three around each maximum; 0.4 of what lies above 0.465 of the rate around it is added, for near half the rate meters begin to differ; and none is less than what the true-peak meter finds. The gain that it asks for, `min(1, ceiling/peak)`, in dB: the largest reduction over the look-ahead, released by `r - r·(1 - e^(-1/(τ·fs)))` a frame; its gain is averaged over the look-ahead again. By meters of 16 points a sample that are flat to 0.95 of half the rate, no sound comes out more than 0.1 dB over it, white and clipped ones included. Below the ceiling the sound is unchanged, to the bit.',
]
