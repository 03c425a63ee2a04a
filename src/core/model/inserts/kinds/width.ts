import { insertKind, number, slow } from '../insert-types'

export const kind = insertKind({
  kind: 'width',
  name: 'Width',
  about: 'Stereo width.',
  search: 'stereo mid side',
  work: 50,
  picture: 'spectrum',
  parameters: [
    number('width', 'Width', '%', [0, 2, 1]),
    number('monoBelowHz', 'Mono below', 'Hz', [0, 500, 0], { ...slow, minWord: 'off' }),
  ],
  presets: [
    { name: 'Bass in the middle', values: { monoBelowHz: 120 } },
    { name: 'Wider', values: { width: 1.4, monoBelowHz: 120 } },
  ],
})

/** What it computes, for `docs/inserts.md`: one paragraph a line. */
export const docs = [
  'Mid `(L + R)/2` stays, side `(L - R)/2` is multiplied by the width; below `monoBelowHz` the side passes a low cut of 12 dB an octave. Stereo comes out.',
]
