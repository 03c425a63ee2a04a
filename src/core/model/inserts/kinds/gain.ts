import { insertKind, number, toggle } from '../insert-types'

export const kind = insertKind({
  kind: 'gain',
  name: 'Gain',
  about: 'Gain, polarity, channel swap, DC removal.',
  search: 'level trim utility',
  work: 6,
  picture: 'spectrum',
  parameters: [
    number('gainDb', 'Gain', 'dB', [-72, 36, 0]),
    number('leftDb', 'Left', 'dB', [-24, 24, 0]),
    number('rightDb', 'Right', 'dB', [-24, 24, 0]),
    toggle('invertLeft', 'Invert left'),
    toggle('invertRight', 'Invert right'),
    toggle('swap', 'Swap the sides'),
    toggle('removeDc', 'Remove DC'),
  ],
  presets: [
    { name: 'DC away', values: { removeDc: true } },
    { name: 'Sides swapped', values: { swap: true } },
  ],
})

/** What it computes, for `docs/inserts.md`: one paragraph a line. */
export const docs = [
  '`10^((gain + side)/20)` with the gain of each side, then its polarity, then the sides swapped, then DC taken out by a filter of first order at 5 Hz (bilinear). A switch that a lane moves blends over the step of 1 ms. A mono sound stays mono unless a value of one side is set.',
]
