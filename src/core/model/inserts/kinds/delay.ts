import { linearScale } from '../../../units/number-scale'
import { BEATS, insertKind, number, toggle } from '../insert-types'

export const kind = insertKind({
  kind: 'delay',
  name: 'Delay',
  about: 'Repeats what comes in after a time, each repeat softer than the one before.',
  search: 'echo repeats',
  work: 70,
  picture: 'echoes',
  ringsOn: true,
  parameters: [
    number('timeMs', 'Time', 'ms', [1, 4000, 350], { moves: 'crossing' }, true),
    {
      key: 'noteValue',
      label: 'Note value',
      type: 'beats',
      range: BEATS,
      moves: 'never',
      scale: linearScale(BEATS, 'Note value', 'beats'),
    },
    number('feedback', 'Feedback', '%', [0, 0.98, 0.35]),
    number('lowCutHz', 'Low cut', 'Hz', [0, 2000, 0], { moves: 'every-sixteenth', minWord: 'off' }),
    number(
      'highCutHz',
      'High cut',
      'Hz',
      [200, 20_000, 20_000],
      { moves: 'every-sixteenth', maxWord: 'off' },
      true,
    ),
    toggle('pingPong', 'Side to side', 'never'),
    number('mix', 'Mix', '%', [0, 1, 0.25]),
  ],
  presets: [
    {
      name: 'Echo in eighths',
      values: {
        noteValue: 0.5,
        feedback: 0.35,
        mix: 0.25,
        highCutHz: 6000,
        lowCutHz: 150,
      },
    },
    { name: 'One slap', values: { timeMs: 95, feedback: 0, mix: 0.3, highCutHz: 5000 } },
    {
      name: 'From side to side',
      values: {
        noteValue: 0.75,
        feedback: 0.5,
        mix: 0.3,
        pingPong: true,
        highCutHz: 7000,
      },
    },
  ],
})

/** What it computes, for `docs/inserts.md`: one paragraph a line. */
export const docs = [
  'A time in ms or a note value (quarter notes at the tempo of the place), rounded to frames; a note value may come to 16 s, and a file in which one comes to more is refused. `out = (1 - mix)·dry + mix·wet`; what goes into the line is the dry sound and `feedback` times the wet one. A low and a high cut of first order (bilinear) lie behind the line, so every repeat passes them, the first too; 0 and 20 kHz are off, and from 18 kHz on the high cut fades out. From side to side, the mean of both sides goes into the left line, whose echo goes into the right one. The time is looked up every 50 ms (rounded to 16 frames, at multiples of that from frame 0), and over the next 50 ms the sound crosses over linearly from the tap before to that one. Lines are 32-bit.',
]
