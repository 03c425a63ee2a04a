import { INSERT_KINDS, type InsertKindName } from '../../../core/model/inserts/insert-kinds'

/** What a command is about; the order of the help and of the command search. */
export const COMMAND_GROUPS = [
  'Playing and listening',
  'Finding the place',
  'Selecting',
  'Levels',
  'Edges and joins',
  'Arranging',
  'Automation',
  'Tracks',
  'View',
  'Hands',
  'Session',
] as const

/** Something that the editor can do, as it is listed in the help, found by the command search and bound to keys. */
export interface CommandInfo {
  id: string
  title: string
  group: (typeof COMMAND_GROUPS)[number]
  /** Further words by which people look for it. */
  words?: string
  /** The keys that run it unless the person chose others, as react-hotkeys-hook takes them. */
  keys?: readonly string[]
  /** Whether holding a key lends it: then it has one key without modifiers. */
  held?: true
  /** Whether it needs the pointer or the focus, so that it cannot be run from a list. */
  onlyByKey?: true
}

const play = 'Playing and listening'
const find = 'Finding the place'
const select = 'Selecting'
const level = 'Levels'
const edges = 'Edges and joins'
const arrange = 'Arranging'
const automation = 'Automation'
const tracks = 'Tracks'
const view = 'View'
const hands = 'Hands'
const session = 'Session'

/** Adding an insert, of each kind. */
const INSERT_COMMANDS = INSERT_KINDS.map(
  ({ kind, name, search }): CommandInfo & { id: `insert-${InsertKindName}` } => ({
    id: `insert-${kind}`,
    group: tracks,
    title: `Add an insert to the track: ${name}`,
    words: `effect processing ${search}`,
  }),
)

/** All commands of the editor. What they do is in `editor/command-runs.ts`. */
export const COMMANDS = [
  { id: 'play', group: play, title: 'Play, pause', words: 'stop start transport', keys: ['space'] },
  { id: 'loop', group: play, title: 'Loop the range', words: 'cycle repeat', keys: ['l'] },
  { id: 'loop-selected', group: play, title: 'Loop the selected regions', words: 'cycle', keys: ['shift+l'] },
  {
    id: 'hear-alone',
    group: play,
    title: 'Hear the selected region alone',
    words: 'audition solo preview',
    keys: ['a'],
  },
  {
    id: 'hear-with-roll',
    group: play,
    title: 'Hear it in the mix, with pre- and post-roll',
    words: 'audition preroll',
    keys: ['shift+a'],
  },
  {
    id: 'compare',
    group: play,
    title: 'Compare: original, processed at its loudness, processed',
    words: 'bypass before after inserts equal loudness ab',
    keys: ['shift+u'],
  },
  {
    id: 'listen-here',
    group: play,
    title: 'Listen as the sound leaves the picked place of the Path',
    words: 'bead insert alone solo tap hear',
    keys: ['shift+p'],
  },
  {
    id: 'unshaped',
    group: play,
    title: 'Listen shaped, unshaped',
    words: 'bypass compare before after automation',
    keys: ['u'],
  },
  { id: 'equal-loudness', group: play, title: 'Compare at equal loudness', words: 'LUFS match level a/b' },
  {
    id: 'stop-returns',
    group: play,
    title: 'Stop returns to where playing began, or stays',
    words: 'transport',
  },

  { id: 'to-start', group: find, title: 'Go to the start', words: 'home rewind zero', keys: ['home'] },
  { id: 'to-end', group: find, title: 'Go to the end', keys: ['end'] },
  {
    id: 'marker',
    group: find,
    title: 'Put a marker at the playhead',
    words: 'cue locator memory',
    keys: ['n'],
  },
  { id: 'marker-before', group: find, title: 'Go to the marker before', keys: ['mod+left'] },
  { id: 'marker-after', group: find, title: 'Go to the marker after', keys: ['mod+right'] },
  {
    id: 'range-from',
    group: find,
    title: 'The marked range begins at the playhead',
    words: 'in point selection start',
    keys: ['shift+bracketleft'],
  },
  {
    id: 'range-to',
    group: find,
    title: 'The marked range ends at the playhead',
    words: 'out point selection end',
    keys: ['shift+bracketright'],
  },

  { id: 'select-all', group: select, title: 'Select all regions', keys: ['mod+a'] },
  {
    id: 'select-after',
    group: select,
    title: 'Select all regions from the playhead on',
    words: 'everything after here ripple',
    keys: ['shift+end'],
  },
  {
    id: 'select-after-on-track',
    group: select,
    title: 'Select all from the playhead on, on this track',
    words: 'everything after here',
  },
  { id: 'select-on-tracks', group: select, title: 'Select all regions of the track', words: 'clips' },
  {
    id: 'step-back',
    group: select,
    title: 'One step back: the gesture, the knots, the range, the regions, the tracks',
    words: 'deselect cancel escape',
    keys: ['escape'],
  },

  {
    id: 'up',
    group: level,
    title: 'Louder, higher: what was pressed last, by 1 dB (pan by 5)',
    words: 'louder boost increase nudge gain volume',
    keys: ['up', 'alt+up'],
  },
  {
    id: 'down',
    group: level,
    title: 'Softer, lower: the same (with Alt by 0.1 dB)',
    words: 'quieter lower attenuate decrease nudge gain volume',
    keys: ['down', 'alt+down'],
  },
  {
    id: 'type-value',
    group: level,
    title: 'Type the value of what was pressed last (a digit or a sign begins it, too)',
    words: 'enter number edit field',
    keys: ['enter'],
    onlyByKey: true,
  },
  {
    id: 'reset',
    group: level,
    title: 'Reset the value of what was pressed last',
    words: 'default zero 0 dB',
    keys: ['backspace'],
  },
  {
    id: 'loudness',
    group: level,
    title: 'Loudness over time, of the region, the range or the track…',
    words: 'lufs chart measure short-term integrated',
  },
  {
    id: 'sides',
    group: level,
    title: 'Left and right, and phase…',
    words: 'balance polarity invert correlation cancel channel',
  },
  {
    id: 'match',
    group: level,
    title: 'Match levels…',
    words: 'normalise loudness LUFS RMS peak gain clip',
    keys: ['e'],
  },
  {
    id: 'even-out',
    group: level,
    title: 'Even out phrases…',
    words: 'leveller compress rider dynamics speech',
    keys: ['shift+e'],
  },
  { id: 'mute-regions', group: level, title: 'Mute, unmute the selected regions', words: 'clip silent' },

  {
    id: 'fades',
    group: edges,
    title: 'Fades of the selected regions…',
    words: 'fade in out batch',
    keys: ['shift+f'],
  },
  { id: 'crossfade', group: edges, title: 'Crossfade the joins', words: 'xfade blend', keys: ['c'] },
  {
    id: 'crossfades',
    group: edges,
    title: 'Crossfades with length and law…',
    words: 'xfade equal power gain',
    keys: ['shift+c'],
  },
  {
    id: 'seams',
    group: edges,
    title: 'Seams: joins that click',
    words: 'clicks pops mend repair',
    keys: ['v'],
  },

  {
    id: 'split',
    group: arrange,
    title: 'Split at the playhead, or at the ends of the range',
    words: 'cut divide razor separate',
    keys: ['k'],
  },
  {
    id: 'split-here',
    group: arrange,
    title: 'Split at the pointer',
    words: 'cut razor',
    keys: ['shift+k'],
    onlyByKey: true,
  },
  {
    id: 'join',
    group: arrange,
    title: 'Join selected pieces',
    words: 'heal glue merge consolidate',
    keys: ['j'],
  },
  {
    id: 'trim-start',
    group: arrange,
    title: 'Trim the start to the playhead',
    words: 'crop edge',
    keys: ['bracketleft'],
  },
  {
    id: 'trim-end',
    group: arrange,
    title: 'Trim the end to the playhead',
    words: 'crop edge',
    keys: ['bracketright'],
  },
  { id: 'trim-to-range', group: arrange, title: 'Trim to the range', words: 'crop', keys: ['t'] },
  {
    id: 'silence',
    group: arrange,
    title: 'Silence: cut or split…',
    words: 'strip gate noise pauses',
    keys: ['x'],
  },
  { id: 'duplicate', group: arrange, title: 'Duplicate', words: 'copy repeat', keys: ['q'] },
  {
    id: 'duplicate-linked',
    group: arrange,
    title: 'Duplicate linked',
    words: 'alias shared thread copy',
    keys: ['shift+q'],
  },
  { id: 'repeat', group: arrange, title: 'Repeat linked…', words: 'copies loop times' },
  { id: 'copy', group: arrange, title: 'Copy', words: 'clipboard', keys: ['mod+c'] },
  { id: 'cut', group: arrange, title: 'Cut', words: 'clipboard', keys: ['mod+x'] },
  { id: 'paste', group: arrange, title: 'Paste at the playhead', words: 'clipboard insert', keys: ['mod+v'] },
  { id: 'delete', group: arrange, title: 'Delete', words: 'remove clear', keys: ['delete'] },
  {
    id: 'delete-closing',
    group: arrange,
    title: 'Delete and close the gap',
    words: 'ripple remove',
    keys: ['shift+delete'],
  },
  {
    id: 'left',
    group: arrange,
    title: 'Earlier by the grid: knots or regions; without any, scroll',
    words: 'nudge move',
    keys: ['left', 'alt+left'],
  },
  {
    id: 'right',
    group: arrange,
    title: 'Later by the grid: the same (with Alt by 1 ms)',
    words: 'nudge move',
    keys: ['right', 'alt+right'],
  },
  {
    id: 'to-track-above',
    group: arrange,
    title: 'Move to the track above, at the same time',
    words: 'region lane up row',
    keys: ['mod+up'],
  },
  {
    id: 'to-track-below',
    group: arrange,
    title: 'Move to the track below, at the same time',
    words: 'region lane down row',
    keys: ['mod+down'],
  },
  {
    id: 'slip-left',
    group: arrange,
    title: 'Move only the sound inside earlier',
    words: 'slip nudge',
    keys: ['shift+left', 'shift+alt+left'],
  },
  {
    id: 'slip-right',
    group: arrange,
    title: 'Move only the sound inside later',
    words: 'slip nudge',
    keys: ['shift+right', 'shift+alt+right'],
  },
  {
    id: 'insert-time',
    group: arrange,
    title: 'Insert time on all tracks…',
    words: 'space silence bars ripple gap',
    keys: ['shift+t'],
  },
  {
    id: 'remove-time',
    group: arrange,
    title: 'Remove the time of the range from all tracks',
    words: 'delete cut bars ripple close',
  },
  { id: 'reverse', group: arrange, title: 'Reverse the selected regions', words: 'backwards' },
  {
    id: 'lock',
    group: arrange,
    title: 'Lock, unlock the selected regions',
    words: 'protect freeze position',
  },
  {
    id: 'unlink',
    group: arrange,
    title: 'Unlink: a gain thread of its own',
    words: 'linked copies separate',
  },
  { id: 'rename-region', group: arrange, title: 'Rename the selected regions…', words: 'name clip' },
  {
    id: 'render',
    group: arrange,
    title: 'Render in place before the inserts: the selected regions, the range, or the track',
    words: 'bounce freeze print consolidate commit',
  },
  {
    id: 'render-after',
    group: arrange,
    title: 'Render in place after the inserts: the selected regions, the range, or the track',
    words: 'bounce freeze print commit processing',
  },
  {
    id: 'put-back',
    group: arrange,
    title: 'Put back what the rendered region was made from',
    words: 'unfreeze unrender originals',
  },

  {
    id: 'give-way',
    group: automation,
    title: 'Give way to other tracks…',
    words: 'ducking duck sidechain music under speech',
    keys: ['g'],
  },
  {
    id: 'travels',
    group: automation,
    title: 'Automation goes with regions, or stays',
    words: 'follow move envelopes',
  },
  {
    id: 'lanes',
    group: automation,
    title: 'Open or close the lanes of the track',
    words: 'automation envelope show hide',
  },

  { id: 'add-mono', group: tracks, title: 'Add a mono track', words: 'new create channel' },
  { id: 'add-stereo', group: tracks, title: 'Add a stereo track', words: 'new create channel' },
  { id: 'add-bus', group: tracks, title: 'Add a bus', words: 'new create return aux group submix' },
  {
    id: 'bus-for-tracks',
    group: tracks,
    title: 'Put a bus after the track, or after all selected ones',
    words: 'route group submix output lead through',
  },
  {
    id: 'inserts',
    group: tracks,
    title: 'Inserts, output and sends of the track…',
    words: 'effects delay gain ceiling processing route send',
    keys: ['shift+x'],
  },
  ...INSERT_COMMANDS,
  {
    id: 'move-gain',
    group: tracks,
    title: 'Move gain past the inserts: clip gain, gain thread, volume…',
    words: 'before after compressor carry automation clip fader',
    keys: ['shift+g'],
  },
  {
    id: 'bypass-insert',
    group: tracks,
    title: 'Bypass the picked insert, or let it act',
    words: 'effect off on processing compare',
    keys: ['shift+b'],
  },
  {
    id: 'swap-chains',
    group: tracks,
    title: 'Swap versions A and B of the inserts',
    words: 'chain compare alternative',
    keys: ['shift+n'],
  },
  {
    id: 'mix-inserts',
    group: tracks,
    title: 'Inserts of the mix…',
    words: 'effects ceiling limiter master processing',
  },
  {
    id: 'duplicate-tracks',
    group: tracks,
    title: 'Duplicate the track with its regions',
    words: 'copy channel',
  },
  {
    id: 'duplicate-tracks-empty',
    group: tracks,
    title: 'Duplicate the track without regions',
    words: 'copy channel settings',
  },
  { id: 'delete-tracks', group: tracks, title: 'Delete the track with its regions', words: 'remove channel' },
  { id: 'rename-track', group: tracks, title: 'Rename the track…', words: 'name channel', keys: ['f2'] },
  {
    id: 'track-up',
    group: tracks,
    title: 'Move the track, or all selected ones, up',
    words: 'order reorder',
    keys: ['shift+alt+up'],
  },
  {
    id: 'track-down',
    group: tracks,
    title: 'Move the track, or all selected ones, down',
    words: 'order reorder',
    keys: ['shift+alt+down'],
  },
  { id: 'mute', group: tracks, title: 'Mute the track', words: 'silent off', keys: ['m'] },
  { id: 'solo', group: tracks, title: 'Solo the track', words: 'alone listen', keys: ['s'] },
  {
    id: 'solo-only',
    group: tracks,
    title: 'Solo only this track',
    words: 'exclusive alone',
    keys: ['shift+s'],
  },
  { id: 'clear-solos', group: tracks, title: 'Clear all solos', words: 'unsolo hear all' },
  { id: 'make-stereo', group: tracks, title: 'Make the track stereo, or mono', words: 'channels convert' },
  { id: 'polarity', group: tracks, title: 'Invert the polarity of the track', words: 'phase flip' },
  {
    id: 'group',
    group: tracks,
    title: 'Group the selected tracks…',
    words: 'edit group microphones together phase',
  },
  {
    id: 'ungroup',
    group: tracks,
    title: 'Take the track out of its group',
    words: 'edit group leave separate',
  },

  { id: 'zoom-in', group: view, title: 'Zoom in about the playhead', words: 'closer larger', keys: ['i'] },
  { id: 'zoom-out', group: view, title: 'Zoom out about the playhead', words: 'wider smaller', keys: ['o'] },
  { id: 'whole', group: view, title: 'Show the whole session', words: 'zoom fit all', keys: ['h'] },
  {
    id: 'zoom-selected',
    group: view,
    title: 'Show the range, or what is selected; again: back',
    words: 'zoom fit selection',
    keys: ['z'],
  },
  { id: 'page-back', group: view, title: 'Scroll back a screenful', keys: ['pageup'] },
  { id: 'page-on', group: view, title: 'Scroll on a screenful', keys: ['pagedown'] },
  { id: 'follow', group: view, title: 'Follow the playhead', words: 'scroll auto', keys: ['f'] },
  {
    id: 'bench',
    group: view,
    title: 'Show or hide the Bench',
    words: 'editor close-up panel inspector',
    keys: ['b'],
  },
  {
    id: 'meters',
    group: view,
    title: 'Show or hide the meters',
    words: 'loudness lufs peak phase scope spectrum correlation panel',
    keys: ['shift+m'],
  },
  { id: 'fold-path', group: view, title: 'Fold or unfold the Path', words: 'signal path panel' },
  {
    id: 'rows-taller',
    group: view,
    title: 'Taller rows: of selected heads, else of all',
    words: 'track height zoom vertical',
    keys: ['shift+up'],
  },
  {
    id: 'rows-shorter',
    group: view,
    title: 'Shorter rows: of selected heads, else of all',
    words: 'track height zoom vertical',
    keys: ['shift+down'],
  },
  {
    id: 'fit-tracks',
    group: view,
    title: 'Fit all tracks into the window',
    words: 'track height zoom vertical',
    keys: ['shift+h'],
  },
  { id: 'rows-usual', group: view, title: 'All rows of the usual height', words: 'track height reset' },
  {
    id: 'sound-larger',
    group: view,
    title: 'Draw sound larger: of selected heads, else of all',
    words: 'waveform zoom vertical amplitude',
    keys: ['shift+i'],
  },
  {
    id: 'sound-smaller',
    group: view,
    title: 'Draw sound smaller: of selected heads, else of all',
    words: 'waveform zoom vertical amplitude',
    keys: ['shift+o'],
  },
  {
    id: 'fit-sound',
    group: view,
    title: 'Draw sound as large as its loudest fits',
    words: 'waveform zoom vertical fit',
    keys: ['shift+z'],
  },
  { id: 'sound-plain', group: view, title: 'Draw sound at its plain size', words: 'waveform zoom reset' },
  {
    id: 'sound-decibels',
    group: view,
    title: 'Draw sound in decibels, or linear',
    words: 'waveform scale dB logarithmic',
  },
  {
    id: 'ground',
    group: view,
    title: 'Day or evening: the light or the dark ground',
    words: 'dark light mode theme',
  },
  {
    id: 'ground-system',
    group: view,
    title: 'Light or dark ground as the system has it',
    words: 'mode theme automatic',
  },
  {
    id: 'next-area',
    group: view,
    title: 'To the next area of the screen',
    words: 'focus keyboard panel',
    keys: ['f6'],
    onlyByKey: true,
  },
  {
    id: 'previous-area',
    group: view,
    title: 'To the area before',
    words: 'focus keyboard panel',
    keys: ['shift+f6'],
    onlyByKey: true,
  },

  { id: 'hand-point', group: hands, title: 'Point hand', words: 'tool select move arrow' },
  {
    id: 'hand-range',
    group: hands,
    title: 'Range hand: hold to lend it, tap to keep it',
    words: 'tool select time',
    keys: ['r'],
    held: true,
  },
  {
    id: 'hand-draw',
    group: hands,
    title: 'Draw hand: the same',
    words: 'tool pencil freehand',
    keys: ['d'],
    held: true,
  },
  {
    id: 'hand-plateau',
    group: hands,
    title: 'Plateau hand: the same',
    words: 'tool trim range level',
    keys: ['p'],
    held: true,
  },
  {
    id: 'hand-weave',
    group: hands,
    title: 'Weave hand: the same',
    words: 'tool pattern lfo',
    keys: ['w'],
    held: true,
  },
  {
    id: 'leave-groups',
    group: hands,
    title: 'Leave the groups: while held, or until tapped again',
    words: 'edit group suspend one track',
    keys: ['y'],
    held: true,
  },

  { id: 'tempo', group: session, title: 'Tempo and metre…', words: 'bpm beat bar time signature' },
  { id: 'undo', group: session, title: 'Undo', words: 'back revert', keys: ['mod+z'] },
  { id: 'redo', group: session, title: 'Redo', words: 'again', keys: ['mod+shift+z', 'mod+y'] },
  {
    id: 'commands',
    group: session,
    title: 'Find a command…',
    words: 'search palette actions',
    keys: ['mod+k', 'slash'],
  },
  { id: 'import', group: session, title: 'Import audio…', words: 'add files recordings open wav flac' },
  { id: 'versions', group: session, title: 'Keep this as a version…', words: 'snapshot save history' },
  {
    id: 'save-copy',
    group: session,
    title: 'Save a copy of the session, with all its sound',
    words: 'backup download package',
  },
  {
    id: 'export',
    group: session,
    title: 'Export…',
    words: 'render bounce mixdown wav file deliver',
    keys: ['mod+shift+e'],
  },
  {
    id: 'help',
    group: session,
    title: 'Help, and all keys',
    words: 'manual shortcuts documentation',
    keys: ['f1'],
  },
  { id: 'list', group: session, title: 'To the list of sessions', words: 'home projects close' },
] as const satisfies readonly CommandInfo[]

export type CommandId = (typeof COMMANDS)[number]['id']

/** The keys of each command, where the person chose other ones than the usual: none switches it off. */
export type Keymap = Readonly<Record<string, readonly string[]>>

/** Whether a combination is a letter or a sign by itself, which can be switched off altogether (WCAG 2.1.4). */
export const isSingleCharacter = (combination: string) =>
  /^(shift\+)?([a-z]|bracketleft|bracketright|slash)$/.test(combination)

/** The keys of a command. */
export function keysOf(command: CommandInfo, keymap: Keymap, singleKeys: boolean): readonly string[] {
  const keys = keymap[command.id] ?? command.keys ?? []
  return singleKeys ? keys : keys.filter((k) => !isSingleCharacter(k))
}

/** The command that has a combination, other than the given one. */
export const commandWith = (combination: string, keymap: Keymap, except: string): CommandInfo | undefined =>
  COMMANDS.find((c: CommandInfo) => c.id !== except && keysOf(c, keymap, true).includes(combination))
