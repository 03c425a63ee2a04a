import type { CommandEntry } from '../command-entry'

export const EDGES = [
  {
    id: 'fades',
    title: 'Fades of the selected regions…',
    words: 'fade in out batch',
    keys: ['shift+f'],
  },
  { id: 'crossfade', title: 'Crossfade the joins', words: 'xfade blend', keys: ['c'] },
  {
    id: 'crossfades',
    title: 'Crossfades with length and law…',
    words: 'xfade equal power gain',
    keys: ['shift+c'],
  },
  {
    id: 'seams',
    title: 'Seams: joins that click',
    words: 'clicks pops mend repair',
    keys: ['v'],
  },
] as const satisfies readonly CommandEntry[]
