import type { CommandEntry } from '../command-entry'

export const PLAYING = [
  { id: 'play', title: 'Play, pause', words: 'stop start transport', keys: ['space'] },
  { id: 'loop', title: 'Loop the range', words: 'cycle repeat', keys: ['l'] },
  { id: 'loop-selected', title: 'Loop the selected regions', words: 'cycle', keys: ['shift+l'] },
  {
    id: 'hear-alone',
    title: 'Hear the selected region alone',
    words: 'audition solo preview',
    keys: ['a'],
  },
  {
    id: 'hear-with-roll',
    title: 'Hear it in the mix, with pre- and post-roll',
    words: 'audition preroll',
    keys: ['shift+a'],
  },
  {
    id: 'compare',
    title: 'Compare: original, processed at its loudness, processed',
    words: 'bypass before after inserts equal loudness ab',
    keys: ['shift+u'],
  },
  {
    id: 'listen-here',
    title: 'Listen as the sound leaves the picked place of the Path',
    words: 'bead insert alone solo tap hear',
    keys: ['shift+p'],
  },
  {
    id: 'unshaped',
    title: 'Listen shaped, unshaped',
    words: 'bypass compare before after automation',
    keys: ['u'],
  },
  { id: 'equal-loudness', title: 'Compare at equal loudness', words: 'LUFS match level a/b' },
  {
    id: 'stop-returns',
    title: 'Stop returns to where playing began, or stays',
    words: 'transport',
  },
] as const satisfies readonly CommandEntry[]
