import type { CommandEntry } from '../command-entry'

export const AUTOMATION = [
  {
    id: 'give-way',
    title: 'Give way to other tracks…',
    words: 'ducking duck sidechain music under speech',
    keys: ['g'],
  },
  {
    id: 'travels',
    title: 'Automation goes with regions, or stays',
    words: 'follow move envelopes',
  },
  {
    id: 'lanes',
    title: 'Open or close the lanes of the track',
    words: 'automation envelope show hide',
  },
] as const satisfies readonly CommandEntry[]
