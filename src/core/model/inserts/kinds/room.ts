import { insertKind, number, slow } from '../insert-types'

export const kind = insertKind({
  kind: 'room',
  name: 'Room',
  about: 'The sound of a room: many echoes that die away.',
  search: 'reverb reverberation space',
  work: 300,
  picture: 'spectrum',
  ringsOn: true,
  parameters: [
    number('size', 'Size', '%', [0, 1, 0.4], { moves: 'never' }),
    number('decaySeconds', 'Decay', 's', [0.1, 10, 1.2], slow, true),
    number('dampingHz', 'Damping', 'Hz', [500, 20_000, 6000], slow, true),
    number('preDelayMs', 'Pre-delay', 'ms', [0, 200, 10], { moves: 'never' }),
    number('mix', 'Mix', '%', [0, 1, 0.2]),
  ],
  presets: [
    {
      name: 'Small room',
      values: { size: 0.15, decaySeconds: 0.5, dampingHz: 5000, preDelayMs: 4, mix: 0.2 },
    },
    {
      name: 'Stone hall',
      values: { size: 0.8, decaySeconds: 3.5, dampingHz: 4500, preDelayMs: 35, mix: 0.3 },
    },
    { name: 'For a send: only the room', values: { size: 0.5, decaySeconds: 1.8, mix: 1 } },
  ],
})

/** What it computes, for `docs/inserts.md`: one paragraph a line. */
export const docs = [
  'What comes in is spread: each of sixteen channels takes a tap of both sides within the first 14 ms, a Hadamard matrix mixes them, and each is held for up to 48 ms (both times `0.76 + 0.48·size`). That is the early sound (heard at 0.76 of its level, as loud as what follows), and goes into a feedback delay network (J.-M. Jot, A. Chaigne, AES 90th Convention, 1991): sixteen lines of 60 to 150 ms, times `0.8 + 0.4·size`, whose ends the same matrix mixes. Whatever is heard t seconds after it came in has lost `60·t/decay` dB at 1 kHz, by whichever way it came.',
  'In each line a low pass of first order makes sound at the damping die twice as fast as low sound (low sound sounds on for four times the decay at most; from 18 kHz on the damping fades out, and at 20 kHz it is off), and a low cut of first order keeps 0 Hz out: at 10 Hz for a line of 50 ms, in proportion to the root of its length for others. Half of the lines are heard as mid, half as side. The side passes a low cut of 24 dB an octave at 250 Hz, so that low sound is the same on both sides; the mid a low shelf of 4.5 dB there, which makes up for that, and a low cut of 12 dB an octave at 20 Hz. Stereo comes out. All of it is in 32 bits. A new size or pre-delay is gone over to within the next block.',
]
