import type { CommandEntry } from '../command-entry'

export const HANDS = [
  { id: 'hand-point', title: 'Point hand', words: 'tool select move arrow' },
  {
    id: 'hand-range',
    title: 'Range hand: hold to lend it, tap to keep it',
    words: 'tool select time',
    keys: ['r'],
    held: true,
  },
  {
    id: 'hand-draw',
    title: 'Draw hand: the same',
    words: 'tool pencil freehand',
    keys: ['d'],
    held: true,
  },
  {
    id: 'hand-plateau',
    title: 'Plateau hand: the same',
    words: 'tool trim range level',
    keys: ['p'],
    held: true,
  },
  {
    id: 'hand-weave',
    title: 'Weave hand: the same',
    words: 'tool pattern lfo',
    keys: ['w'],
    held: true,
  },
  {
    id: 'leave-groups',
    title: 'Leave the groups: while held, or until tapped again',
    words: 'edit group suspend one track',
    keys: ['y'],
    held: true,
  },
] as const satisfies readonly CommandEntry[]
