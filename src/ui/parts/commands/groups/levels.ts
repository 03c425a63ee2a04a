import type { CommandEntry } from '../command-entry'

export const LEVELS = [
  {
    id: 'up',
    title: 'Louder, higher: what was pressed last, by 1 dB (pan by 5)',
    words: 'louder boost increase nudge gain volume',
    keys: ['up', 'alt+up'],
  },
  {
    id: 'down',
    title: 'Softer, lower: the same (with Alt by 0.1 dB)',
    words: 'quieter lower attenuate decrease nudge gain volume',
    keys: ['down', 'alt+down'],
  },
  {
    id: 'type-value',
    title: 'Type the value of what was pressed last (a digit or a sign begins it, too)',
    words: 'enter number edit field',
    keys: ['enter'],
    onlyByKey: true,
  },
  {
    id: 'reset',
    title: 'Reset the value of what was pressed last',
    words: 'default zero 0 dB',
    keys: ['backspace'],
  },
  {
    id: 'loudness',
    title: 'Loudness over time, of the region, the range or the track…',
    words: 'lufs chart measure short-term integrated',
  },
  {
    id: 'sides',
    title: 'Left and right, and phase…',
    words: 'balance polarity invert correlation cancel channel',
  },
  {
    id: 'match',
    title: 'Match levels…',
    words: 'normalise loudness LUFS RMS peak gain clip',
    keys: ['e'],
  },
  {
    id: 'even-out',
    title: 'Even out phrases…',
    words: 'leveller compress rider dynamics speech',
    keys: ['shift+e'],
  },
  { id: 'mute-regions', title: 'Mute, unmute the selected regions', words: 'clip silent' },
] as const satisfies readonly CommandEntry[]
