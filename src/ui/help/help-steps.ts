/** The job step by step. Keys of commands stand as `[command]`: see `KeyWords.in`. */
export const HELP_STEPS: { title: string; text: string }[] = [
  {
    title: 'Get the material in',
    text:
      'Open a session and drop recordings on it, or press Import above the tracks. WAV, AIFF and FLAC ' +
      'of any depth and rate, mono or stereo; other formats as far as this browser decodes them. ' +
      'Several files ask where they go: at the playhead, the start, or by the time stamps of a recorder, ' +
      'each on a track or one after another. One file that is dropped on a track with room goes there.',
  },
  {
    title: 'Listen',
    text:
      '[play] plays and pauses. Press or drag the ruler to go somewhere. Hold [hand-range] (or press Range) and ' +
      'sweep to mark a range, then [loop] loops it. [mute] and [solo] on a track mute and solo it; the small play ' +
      'button on a region, or [hear-alone], plays just that. Press the time at the top to have ruler and grid ' +
      'follow seconds or bars; tempo and metre are set beside it. [marker] puts a marker at the playhead.',
  },
  {
    title: 'Arrange',
    text:
      'Drag a region to move it, in time and between tracks; edges catch on the grid, markers, other ' +
      'regions and the playhead unless Shift is held. Ctrl-drag slips only the sound inside; press Ctrl midway to leave a copy behind. Drag an ' +
      'edge to trim: hidden sound comes out again whenever you pull. The right mouse button shows all ' +
      'that can be done: split, join, duplicate, repeat, copy, cut silence, render into one, reverse, ' +
      'lock, delete.',
  },
  {
    title: 'Level the regions',
    text:
      'Click a region; Shift-click or sweep for more. Drag up or down on the hem, the strip below the ' +
      'sound, turn the wheel over it, or type the clip gain in the bench: −6, −6 dB, 50% and x0.5 are ' +
      'all understood, +2 adds to several. “Match” brings the selected ones to one loudness, RMS or ' +
      'peak, or as loud as they go without clipping, and shows each change before.',
  },
  {
    title: 'Shape the level inside',
    text:
      'Double-click a region, or pick the bead “Gain thread” in the Path. Double-click adds a knot; ' +
      'drag knots and the stretches between them, with Ctrl to bend them; sweep to select several. Hold' +
      ' [hand-plateau] and sweep over a word: one drag raises or lowers just that. Hold [hand-draw] to draw. “Even out” finds ' +
      'the phrases and brings them together. Linked copies share one thread, so all follow.',
  },
  {
    title: 'Fade the edges',
    text:
      'Point at a region and drag the round handle at an upper corner inwards, or type the length in ' +
      'the bench: 120 ms, 1.5 s, 2 beats, 1/16. Drag the curve to bend it. The bead “Fades” shows every' +
      ' value: five curves, the level it starts from, and tape start and stop, which slow the sound ' +
      'instead.',
  },
  {
    title: 'Cross and mend the joins',
    text:
      'Move or trim a region over its neighbour, drag across a join, or press [crossfade]: a crossfade uses the ' +
      'sound hidden beyond the cut. Select it to choose its law; the bench says by how much each would ' +
      'dip or bulge with this very sound. [seams] lists all seams with those that click, each with its ' +
      'shortest cure; “Mend all” is one step.',
  },
  {
    title: 'Set the tracks',
    text:
      'Volume and pan are on the left: drag the fader or type; the meter beside it shows RMS, peak and clipping. The Path below the tracks ' +
      'shows in which order everything acts; the bead picked there is what the arrow keys, Enter and ' +
      'Backspace change.',
  },
  {
    title: 'Tracks and groups',
    text:
      'The menu at a track’s name adds, duplicates, moves, colours and deletes tracks, for all selected heads at once. ' +
      'Tracks that were recorded together can be grouped: an edit of a region then goes to those of the other tracks that ' +
      'begin and end with it; hold [leave-groups] to leave the group for a moment. Rows have heights of their own, and the button ' +
      'beside “Import” draws quiet sound larger. Time can be inserted or removed on all tracks at the playhead or range.',
  },
  {
    title: 'Inserts, buses and sends',
    text:
      'In the Path, between the stages of regions and the volume, “Inserts” opens what the sound of a track passes: ' +
      'equaliser, compressor, gate, de-esser, four bands, saturator, delay, room, width, transients, gain and ceiling, each with its ' +
      'values, its lanes and a tick that lets it act ([inserts]). The sentence beside the Path says whether what comes after a ' +
      'stage hears a change of level: lowering a region before a compressor changes its tone, lowering the fader does not. An ' +
      'insert, or all of them, can be copied to another strip. Beside them are the output and the sends. A bus, added above the tracks, is a row below them: tracks go through it or send some of their sound to it, before ' +
      'or after their faders. The mix has inserts before its fader and after its pan, where a ceiling belongs. What looks ahead ' +
      'moves nothing out of its place. After a jump a long delay needs its time to sound as it will in the file; the panel says how long.',
  },
  {
    title: 'Move volume and pan',
    text:
      'Pick the bead “Volume” or “Pan”: a lane lies over every track, and large in the bench. Knots, ' +
      'Draw and Plateau work as in a region. Hold [hand-weave] and sweep to weave a pattern: where you start is ' +
      'one limit, where you go the other; shape, note value, phase and duty in the bench redraw it. A ' +
      'lane without knots is the fader. The small curve beside a track’s name opens its lanes below it;' +
      ' those of the mix lie below all tracks: its volume always, its pan when it is opened there or ' +
      'picked in the Path. Sweep over knots and a box stands about them: its inside moves them, its top' +
      ' scales them, its sides stretch them. With a range set, [copy], [cut] and [paste] copy what the lane ' +
      'does there, also onto another track. “Give way” lowers music while speech or effects sound.',
  },
  {
    title: 'Ride',
    text:
      'Press “ride” at the top and choose touch or latch. While it plays, a volume or pan that you move' +
      ' by the fader, the value beside it, the arrow keys or a MIDI fader is written into the lane: ' +
      'touch returns when you let go, latch stays until you stop. What it replaces stays to be seen, ' +
      'dotted; a pass is one step. A simulated fader is there to try it.',
  },
  {
    title: 'Compare and check',
    text:
      '“shaped” at the top, or [unshaped], turns gains, threads, lanes and fades off while you listen; “= loud” measures ' +
      'both and lowers the louder one. [compare] steps through an insert, its chain or all inserts: without, with at the same ' +
      'loudness, with. [listen-here] plays the sound as it leaves the picked bead. [move-gain] moves a gain to the other side of ' +
      'the inserts and says first what will sound different. [meters] shows loudness, true peak, levels, phase and spectrum. A ' +
      'flag shows where a track or the mix would pass full scale; press it to go there and lower just that stretch.',
  },
  {
    title: 'Without a pointer',
    text:
      'F6 goes from area to area, Tab through what is selected, and arrow keys walk over the rest: over tracks, regions, ' +
      'knots and flags. A walk changes nothing; Enter takes hold of what it came to, and then arrow keys change it. After a ' +
      'typed value the focus is back on what was edited.',
  },
  {
    title: 'Take it back',
    text:
      'Every step has a name. Undo and redo are at the top, and the clock beside them lists all steps ' +
      'to jump to. The session is saved after each step, history included. “Keep this as a version”, ' +
      'below that list, keeps the session under a name, to go back to or to open beside.',
  },
  {
    title: 'Keep copies',
    text:
      '“Save a copy” at the top, or in the menu of a session in the list, writes the session with all ' +
      'its sound into one file (.oaken). “Open a copy…” in the list, or dropping the file, brings it ' +
      'back, in this browser or another one. The list says when the last copy was saved. Deleted ' +
      'sessions stay in the trash for 30 days. Sounds that are missing are silent and named above the ' +
      'tracks; give the files that they came from, and they sound again. A session that is open in ' +
      'two tabs is edited in one of them; “Edit here instead” takes it to the other. What is called ' +
      'saved outlasts a crash; a power cut may cost the last seconds, so keep copies elsewhere, too.',
  },
  {
    title: 'Export',
    text:
      '“Export” at the upper right renders the mix, stems, regions or tracks to WAV, FLAC or AIFF, one file after another ' +
      'while you keep working. Choose a loudness target (EBU R 128, or your own figures): the mix is measured first, and a gain ' +
      'that changes only the file is offered. Each file is read back and listed with its checksum, peaks and loudness. What is ' +
      'soloed, muted or bypassed is named before you render, with the plain mix one press away. “Report” lists what is left ' +
      'to fix. 32-bit float is exactly what you hear.',
  },
]
