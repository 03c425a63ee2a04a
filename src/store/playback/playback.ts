import { insertKindOf } from '../../core/model/inserts/insert-kinds'
import { mostWork } from '../../core/render'
import { showTime } from '../../core/units/typed'
import { diff, type Patch } from '../../core/model/patch'
import { regionEnd, sessionLength } from '../../core/model/queries'
import type { Session } from '../../core/model/session'
import { changeIsHeard } from '../../engine/worker'
import { Player, type PlayerNotice } from '../../engine/playback'
import type { Store, Thunk } from '../store'
import { noticed, playingChanged } from '../transport-slice'
import { listeningOf } from './listening'
import { monitorWith } from './monitoring'
import { watchWith } from './watching'
import { loopSet, rangeSet } from '../view'

let player: Player | null = null

let PlayerClass = Player

/** Uses another class of player for sessions opened from now on, for tests. */
export const setPlayerClass = (kind: typeof Player) => void (PlayerClass = kind)

/** The player of the open session; null while none is open. */
export const getPlayer = () => player

/** What is said where rendering cannot keep up with playing, with what would help. */
function gapsWords(session: Session): string {
  const most = mostWork(session)
  const heavy = most !== null && most.part > 0.3
  const { name } = heavy ? insertKindOf(most.kind) : { name: '' }
  const what = heavy
    ? `${most.count === 1 ? `One insert of the kind “${name}” takes` : `${most.count} inserts of the kind “${name}” take`} ${Math.round(most.part * 100)} % of the work: bypass what you do not need now, or render tracks in place.`
    : 'Mute or render in place tracks that you do not need now, and close other programs.'
  return `This machine cannot keep up, so sound is missing here and there while it plays; exports are whole. ${what}`
}

const words = (notice: PlayerNotice, session: Session) =>
  notice === 'gaps'
    ? gapsWords(session)
    : notice === 'no-audio-device'
      ? 'No audio device answers, so nothing can be heard. Connect or choose one and press play again; ' +
        'shaping, saving and exporting still work.'
      : notice === 'no-shared-memory'
        ? 'This page was served without shared memory, so sound takes a little longer to follow an edit. ' +
          'Everything works; start Oaken Thread with “npm start” to have it faster.'
        : 'failed' in notice
          ? `Playing stopped: ${notice.failed}`
          : 'tooLargeAt' in notice
            ? `At ${showTime(notice.tooLargeAt * 1000, 1000)} the sound is too large to be a number, so there is silence. Lower what raises it there: a clip gain, a fader, an insert, or the sound itself.`
            : `The insert “${notice.fault}” output NaN, so it is left out. Lower its gain or feedback, or remove it.`

/**
 * Sessions with more regions, and threads with more knots, are large; milliseconds between two times that the
 * player is told of a change in them.
 */
const LARGE = 500
const PAUSE_MS = { playing: 33, silent: 500 }

/** Whether a patch carries a long thread, or much of one. */
function isHeavy({ value, items }: Patch): boolean {
  const carried = items?.insert ?? value
  return Array.isArray(carried) && carried.length > LARGE
}

/** A player that is lost more often than this within so many milliseconds is not started anew by itself. */
const MOST_LOST = 3
const LOST_WITHIN_MS = 30_000

/** Keeps a player in step with the store: its session, its loop, and whether it plays. */
export function startPlayback(store: Store): void {
  let known: Session | null = null
  /** The session as the player knows it, and when it was last updated. */
  let told: Session | null = null
  let toldAt = 0
  let heavy = false
  let timer = 0
  let knownSounds = 0
  let knownLoop: unknown = null
  let knownListen: unknown = null
  const send = () => {
    window.clearTimeout(timer)
    timer = 0
    if (!known || !told || known.id !== told.id) return
    const { forward } = diff(told, known)
    told = known
    toldAt = performance.now()
    heavy = forward.some(isHeavy)
    if (forward.length && player?.playing) changeIsHeard()
    if (forward.length) player?.patch(forward)
  }
  // What a hand changes in a large session is told at most so often, so that its pictures keep up.
  const tell = () => {
    const rest =
      heavy || Object.keys(known!.regions).length > LARGE
        ? toldAt + (player?.playing ? PAUSE_MS.playing : PAUSE_MS.silent) - performance.now()
        : 0
    if (rest <= 0) send()
    else timer ||= window.setTimeout(send, rest)
  }
  /** When players were lost lately, in milliseconds. */
  let lost: number[] = []
  /** A player of which nothing comes any more is replaced by a new one, which goes on where it stood. */
  const replace = (what: 'worker' | 'audio') => {
    const old = player
    if (!old || !known) return
    const [at, playing] = [old.position(), old.playing]
    old.close()
    const now = performance.now()
    lost = [...lost.filter((t) => now - t < LOST_WITHIN_MS), now]
    player = open(store, known, send, replace)
    told = known
    window.clearTimeout(timer)
    timer = 0
    const { listening, selection } = store.getState()
    player.setListening(listeningOf(store.getState()))
    player.setLoop(listening.loop ? selection.range : null)
    player.seek(at)
    const again = playing && lost.length <= MOST_LOST
    const why =
      what === 'worker'
        ? 'A part of the program that renders sound has stopped'
        : 'The browser has stopped the sound'
    const next = again ? 'It was started anew and goes on where it was.' : 'Press play to go on where it was.'
    store.dispatch(noticed({ id: 'lost', text: `${why}. ${next} The session is as it was.` }))
    if (again) void player.play()
    else store.dispatch(playingChanged(false))
  }
  store.subscribe(() => {
    const {
      session: { session, soundVersion },
      selection: { range },
      listening: { loop },
    } = store.getState()
    if (session !== known || soundVersion !== knownSounds) {
      const soundsFound = soundVersion !== knownSounds
      knownSounds = soundVersion
      const before = known
      known = session
      if (!session || session.id !== before?.id || soundsFound) {
        player?.close()
        player = session ? open(store, session, send, replace) : null
        told = session
        window.clearTimeout(timer)
        timer = 0
        knownLoop = null
        knownListen = null
      } else tell()
    }
    const listening = listeningOf(store.getState())
    const listen = JSON.stringify(listening)
    if (listen !== knownListen && player) {
      knownListen = listen
      player.setListening(listening)
    }
    const wanted = loop ? range : null
    if (wanted !== knownLoop && player) {
      knownLoop = wanted
      player.setLoop(wanted)
    }
  })
}

function open(
  store: Store,
  session: Session,
  onStarting: () => void,
  onLost: (what: 'worker' | 'audio') => void,
): Player {
  const made = new PlayerClass({
    onStarting,
    onLost,
    onPlaying: (playing) => queueMicrotask(() => store.dispatch(playingChanged(playing))),
    onNotice: (notice) =>
      queueMicrotask(() =>
        store.dispatch(
          noticed({
            id: typeof notice === 'string' ? notice : 'failed',
            text: words(notice, store.getState().session.session ?? session),
          }),
        ),
      ),
  })
  made.setSession(session)
  watchWith(made)
  monitorWith(made)
  return made
}

/** Plays or pauses. Playing from the very end begins at the start again. */
export const togglePlay = (): Thunk => (_dispatch, getState) => {
  const { session } = getState().session
  if (!player || !session) return
  if (player.playing) return stopOf(player, getState().preferences.stopReturns)
  if (player.position() >= sessionLength(session)) player.seek(0)
  void player.play()
}

/** Stops, and goes back to where playing began where that is wished. */
function stopOf(playing: Player, returns: boolean): void {
  const began = playing.cuedAt
  playing.pause()
  if (returns) playing.seek(began)
}

/** Milliseconds between two looks at whether a span has been played. */
const LOOK_MS = 25

let spanTimer = 0

/** Plays from one frame to another and stops there; when something is playing, stops that. */
export const playSpan =
  (from: number, to: number): Thunk =>
  () => {
    window.clearInterval(spanTimer)
    if (!player) return
    if (player.playing) return player.pause()
    const own = player
    own.seek(Math.max(0, from))
    void own.play()
    let begun = false
    spanTimer = window.setInterval(() => {
      begun ||= own.playing
      const at = own.position()
      // It was stopped, or moved elsewhere, by hand.
      const left = own !== player || (begun && !own.playing) || at < from - 1
      if (at >= to) own.pause(to)
      if (left || at >= to) window.clearInterval(spanTimer)
    }, LOOK_MS)
  }

/** Plays a region in the mix, with what comes before and after it for as long as the pre- and post-roll. */
export const hearWithRoll =
  (regionId: string): Thunk =>
  (dispatch, getState) => {
    const {
      session: { session },
      preferences: { rollMs },
    } = getState()
    const region = session?.regions[regionId]
    if (!session || !region) return
    const roll = Math.round((rollMs / 1000) * session.sampleRate)
    dispatch(playSpan(Math.max(0, region.start - roll), regionEnd(region) + roll))
  }

/** Sets the range, and the loop with it when looping is on. */
export const setRange =
  (from: number, to: number): Thunk =>
  (dispatch) => {
    dispatch(rangeSet(to > from ? { from: Math.round(from), to: Math.round(to) } : null))
  }

/** Turns the loop on or off; on without a range it loops the whole session. */
export const toggleLoop = (): Thunk => (dispatch, getState) => {
  const {
    session: { session },
    selection,
    listening,
  } = getState()
  if (!session) return
  if (!selection.range) dispatch(setRange(0, Math.max(1, sessionLength(session))))
  dispatch(loopSet(!listening.loop))
  // From beyond its end the playhead would never come back to it.
  const {
    selection: { range },
    listening: { loop },
  } = getState()
  if (loop && range && player && player.position() >= range.to) player.seek(range.from)
}

/** Loops from one frame to another, and goes to its start unless the playhead is inside. */
export const loopOver =
  (from: number, to: number): Thunk =>
  (dispatch) => {
    dispatch(setRange(from, to))
    dispatch(loopSet(true))
    const at = player?.position() ?? 0
    if (at < from || at >= to) player?.seek(from)
  }

/** Plays one region alone; when it is playing, stops. */
export const hearAlone =
  (regionId: string): Thunk =>
  (_dispatch, getState) => {
    const region = getState().session.session?.regions[regionId]
    if (!region || !player) return
    if (player.playing) return player.pause()
    void player.playAlone(regionId, region.start)
  }
