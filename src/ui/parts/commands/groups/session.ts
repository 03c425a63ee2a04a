import type { CommandEntry } from '../command-entry'

export const SESSION = [
  { id: 'tempo', title: 'Tempo and metre…', words: 'bpm beat bar time signature' },
  { id: 'undo', title: 'Undo', words: 'back revert', keys: ['mod+z'] },
  { id: 'redo', title: 'Redo', words: 'again', keys: ['mod+shift+z', 'mod+y'] },
  {
    id: 'commands',
    title: 'Find a command…',
    words: 'search palette actions',
    keys: ['mod+k', 'slash'],
  },
  { id: 'import', title: 'Import audio…', words: 'add files recordings open wav flac' },
  { id: 'versions', title: 'Keep this as a version…', words: 'snapshot save history' },
  {
    id: 'save-copy',
    title: 'Save a copy of the session, with all its sound',
    words: 'backup download package',
  },
  {
    id: 'export',
    title: 'Export…',
    words: 'render bounce mixdown wav file deliver',
    keys: ['mod+shift+e'],
  },
  {
    id: 'help',
    title: 'Help, and all keys',
    words: 'manual shortcuts documentation',
    keys: ['f1'],
  },
  { id: 'list', title: 'To the list of sessions', words: 'home projects close' },
] as const satisfies readonly CommandEntry[]
