import type { CommandEntry } from '../command-entry'

export const SELECTING = [
  { id: 'select-all', title: 'Select all regions', keys: ['mod+a'] },
  {
    id: 'select-after',
    title: 'Select all regions from the playhead on',
    words: 'everything after here ripple',
    keys: ['shift+end'],
  },
  {
    id: 'select-after-on-track',
    title: 'Select all from the playhead on, on this track',
    words: 'everything after here',
  },
  { id: 'select-on-tracks', title: 'Select all regions of the track', words: 'clips' },
  {
    id: 'step-back',
    title: 'One step back: the gesture, the knots, the range, the regions, the tracks',
    words: 'deselect cancel escape',
    keys: ['escape'],
  },
] as const satisfies readonly CommandEntry[]
