import { INSERT_KINDS, type InsertKindName } from '../../../../core/model/inserts/insert-kinds'
import type { CommandEntry } from '../command-entry'

/** Adding an insert, of each kind. */
const INSERT_COMMANDS = INSERT_KINDS.map(
  ({ kind, name, search }): CommandEntry & { id: `insert-${InsertKindName}` } => ({
    id: `insert-${kind}`,
    title: `Add an insert to the track: ${name}`,
    words: `effect processing ${search}`,
  }),
)

export const TRACKS = [
  { id: 'add-mono', title: 'Add a mono track', words: 'new create channel' },
  { id: 'add-stereo', title: 'Add a stereo track', words: 'new create channel' },
  { id: 'add-bus', title: 'Add a bus', words: 'new create return aux group submix' },
  {
    id: 'bus-for-tracks',
    title: 'Put a bus after the track, or after all selected ones',
    words: 'route group submix output lead through',
  },
  {
    id: 'inserts',
    title: 'Inserts, output and sends of the track…',
    words: 'effects delay gain ceiling processing route send',
    keys: ['shift+x'],
  },
  ...INSERT_COMMANDS,
  {
    id: 'move-gain',
    title: 'Move gain past the inserts: clip gain, gain thread, volume…',
    words: 'before after compressor carry automation clip fader',
    keys: ['shift+g'],
  },
  {
    id: 'bypass-insert',
    title: 'Bypass the picked insert, or let it act',
    words: 'effect off on processing compare',
    keys: ['shift+b'],
  },
  {
    id: 'swap-chains',
    title: 'Swap versions A and B of the inserts',
    words: 'chain compare alternative',
    keys: ['shift+n'],
  },
  {
    id: 'mix-inserts',
    title: 'Inserts of the mix…',
    words: 'effects ceiling limiter master processing',
  },
  {
    id: 'duplicate-tracks',
    title: 'Duplicate the track with its regions',
    words: 'copy channel',
  },
  {
    id: 'duplicate-tracks-empty',
    title: 'Duplicate the track without regions',
    words: 'copy channel settings',
  },
  { id: 'delete-tracks', title: 'Delete the track with its regions', words: 'remove channel' },
  { id: 'rename-track', title: 'Rename the track…', words: 'name channel', keys: ['f2'] },
  {
    id: 'track-up',
    title: 'Move the track, or all selected ones, up',
    words: 'order reorder',
    keys: ['shift+alt+up'],
  },
  {
    id: 'track-down',
    title: 'Move the track, or all selected ones, down',
    words: 'order reorder',
    keys: ['shift+alt+down'],
  },
  { id: 'mute', title: 'Mute the track', words: 'silent off', keys: ['m'] },
  { id: 'solo', title: 'Solo the track', words: 'alone listen', keys: ['s'] },
  {
    id: 'solo-only',
    title: 'Solo only this track',
    words: 'exclusive alone',
    keys: ['shift+s'],
  },
  { id: 'clear-solos', title: 'Clear all solos', words: 'unsolo hear all' },
  { id: 'make-stereo', title: 'Make the track stereo, or mono', words: 'channels convert' },
  { id: 'polarity', title: 'Invert the polarity of the track', words: 'phase flip' },
  {
    id: 'group',
    title: 'Group the selected tracks…',
    words: 'edit group microphones together phase',
  },
  {
    id: 'ungroup',
    title: 'Take the track out of its group',
    words: 'edit group leave separate',
  },
] as const satisfies readonly CommandEntry[]
