import type { CommandEntry } from '../command-entry'

export const FINDING = [
  { id: 'to-start', title: 'Go to the start', words: 'home rewind zero', keys: ['home'] },
  { id: 'to-end', title: 'Go to the end', keys: ['end'] },
  {
    id: 'marker',
    title: 'Put a marker at the playhead',
    words: 'cue locator memory',
    keys: ['n'],
  },
  { id: 'marker-before', title: 'Go to the marker before', keys: ['mod+left'] },
  { id: 'marker-after', title: 'Go to the marker after', keys: ['mod+right'] },
  {
    id: 'range-from',
    title: 'The marked range begins at the playhead',
    words: 'in point selection start',
    keys: ['shift+bracketleft'],
  },
  {
    id: 'range-to',
    title: 'The marked range ends at the playhead',
    words: 'out point selection end',
    keys: ['shift+bracketright'],
  },
] as const satisfies readonly CommandEntry[]
