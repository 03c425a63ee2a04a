import { insertKind, number } from '../insert-types'

export const kind = insertKind({
  kind: 'transients',
  name: 'Transients',
  about: 'Raises or lowers attacks, and what follows them, whatever their level.',
  search: 'attack sustain punch',
  work: 400,
  picture: 'spectrum',
  parameters: [
    number('attackDb', 'Attack', 'dB', [-24, 24, 0]),
    number('sustainDb', 'Sustain', 'dB', [-24, 24, 0]),
  ],
  presets: [
    { name: 'Sharper attacks', values: { attackDb: 6 } },
    { name: 'Drier', values: { sustainDb: -8 } },
  ],
})

/** What it computes, for `docs/inserts.md`: one paragraph a line. */
export const docs = [
  'Three envelopes follow the squared larger side with time constants of 1, 30 and 300 ms, plus a floor of -120 dBFS. By how much the first is above the second decides the part of the attack that is added, by how much the third is above the second that of the sustain: none up to 3 dB, all from 12 dB on, in proportion between.',
]
