import {
  choice,
  inGroup,
  insertKind,
  number,
  slow,
  toggle,
  type Choice,
  type InsertParameter,
} from '../insert-types'

/** The bands of an equaliser, in the order in which sound passes them. */
export const EQUALISER_BANDS = ['b1', 'b2', 'b3', 'b4', 'b5', 'b6', 'b7', 'b8'] as const

const BAND_KINDS: readonly Choice[] = [
  { value: 'low-cut', label: 'Low cut' },
  { value: 'low-shelf', label: 'Low shelf' },
  { value: 'bell', label: 'Bell' },
  { value: 'notch', label: 'Notch' },
  { value: 'high-shelf', label: 'High shelf' },
  { value: 'high-cut', label: 'High cut' },
]
const BAND_SLOPES: readonly Choice[] = [6, 12, 18, 24, 30, 36, 42, 48].map((value) => ({
  value,
  label: `${value} dB/octave`,
}))
const BAND_CHANNELS: readonly Choice[] = [
  { value: 'stereo', label: 'Both sides' },
  { value: 'left', label: 'Left' },
  { value: 'right', label: 'Right' },
  { value: 'mid', label: 'Mid' },
  { value: 'side', label: 'Side' },
]

/** The parameters of a band of an equaliser. */
const bandParameters = (band: string): InsertParameter[] => {
  const name = `Band ${band.slice(1)}`
  return inGroup(name, [
    toggle(`${band}.on`, `${name} on`, 'every-sixteenth'),
    choice(`${band}.kind`, `${name} kind`, BAND_KINDS, 'bell'),
    number(`${band}.frequencyHz`, `${name} frequency`, 'Hz', [10, 20_000, 1000], slow, true),
    number(`${band}.gainDb`, `${name} gain`, 'dB', [-24, 24, 0], slow),
    number(`${band}.q`, `${name} Q`, '', [0.1, 30, 0.7071], slow, true),
    choice(`${band}.slope`, `${name} slope`, BAND_SLOPES, 12),
    choice(`${band}.channel`, `${name} channel`, BAND_CHANNELS, 'stereo'),
  ])
}

export const kind = insertKind({
  kind: 'equaliser',
  name: 'Equaliser',
  about: 'Raises and lowers bands of frequencies, independent of level.',
  search: 'eq filter bell shelf tone',
  work: 45,
  picture: 'response',
  parameters: [...EQUALISER_BANDS.flatMap(bandParameters), number('outputDb', 'Output', 'dB', [-24, 24, 0])],
  presets: [
    {
      name: 'Speech, clear',
      values: {
        'b1.on': true,
        'b1.kind': 'low-cut',
        'b1.frequencyHz': 80,
        'b1.slope': 18,
        'b2.on': true,
        'b2.frequencyHz': 320,
        'b2.gainDb': -2.5,
        'b2.q': 1,
        'b3.on': true,
        'b3.kind': 'high-shelf',
        'b3.frequencyHz': 6500,
        'b3.gainDb': 2,
      },
    },
    {
      name: 'Rumble away',
      values: {
        'b1.on': true,
        'b1.kind': 'low-cut',
        'b1.frequencyHz': 60,
        'b1.slope': 24,
      },
    },
    { name: 'Less boxy', values: { 'b2.on': true, 'b2.frequencyHz': 450, 'b2.gainDb': -4, 'b2.q': 1.2 } },
    {
      name: 'Airy top',
      values: {
        'b5.on': true,
        'b5.kind': 'high-shelf',
        'b5.frequencyHz': 10_000,
        'b5.gainDb': 3,
      },
    },
    {
      name: 'Mains hum of 50 Hz away',
      values: {
        'b1.on': true,
        'b1.kind': 'notch',
        'b1.frequencyHz': 50,
        'b1.q': 20,
        'b2.on': true,
        'b2.kind': 'notch',
        'b2.frequencyHz': 100,
        'b2.q': 20,
        'b3.on': true,
        'b3.kind': 'notch',
        'b3.frequencyHz': 150,
        'b3.q': 20,
      },
    },
  ],
})

/** What it computes, for `docs/inserts.md`: one paragraph a line. */
export const docs = [
  'Eight bands, one after the other; bands that are off, and bells and shelves of 0 dB without a lane, are not there. With ω = 1 at the frequency and A = 10^(gain/40): bell `(s² + sA/Q + 1)/(s² + s/(AQ) + 1)`; low shelf `A(s² + s√A/Q + A)/(As² + s√A/Q + 1)`; high shelf `A(As² + s√A/Q + 1)/(s² + s√A/Q + A)`; notch `(s² + 1)/(s² + s/Q + 1)`; cuts Butterworth of order slope/6. A high shelf of more than 18 dB whose frequency or Q moves by more than half an octave within 4 ms is mixed down to 0.4 of what it does for 30 ms, and is whole again 80 ms after it.',
  'Poles are those of the prototype by impulse invariance, and the numerator meets its magnitude at 0, at the frequency (at most 0.1875 of the rate) and at 0.3125 of the rate (after M. Vicanek, Matched second order digital filters, 2016). Cutting bells and low shelves and boosting high shelves are the inverses of their opposites. Notches and low cuts have the zeros of the prototype, and their denominators meet it. At 48 kHz, up to a third of the rate: bells of Q 0.3 to 10 and shelves up to Q 1, ±18 dB, within 0.1 dB; notches within 0.1 dB where above -40 dB; cuts within 0.15 dB where above -60 dB. Frequencies above 0.45 of the rate act as that.',
  'Every section is a state-variable filter (V. Zavalishin, The art of VA filter design, ch. 4). Values that move are computed every 16 frames and run straight in between, which cannot become unstable. While a band is switched, its output goes over to its input within 60 ms, and steps in its lanes take as long: a filter that jumps would click. On a mono sound a band of the mid is one of the whole, one of the side does nothing, and one of the left or right makes it stereo.',
]
