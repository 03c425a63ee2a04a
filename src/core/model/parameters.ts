import { clamp } from '../units/clamp'
import { FADER_DB } from '../units/decibel'
import { gainScale, panScale } from '../units/scale'
import { dbToHeight, heightToDb } from '../units/taper'
import { parseLevel, parsePan, showDb, showPan } from '../units/typed'
import { BYPASSED, insertKindOf, insertParameter } from './inserts/insert-kinds'
import { insertLaneKey, insertOfLane, parameterOfInsert } from './inserts/insert-parameters'
import type { Parameter, StageWords, StaticValue, ThreadLook } from './parameter-types'
import type { Insert, Send, Session } from './session'
import { insertsOf, stripOf, type Strip } from './strips'

export type { Parameter, StageWords, StaticValue, ThreadLook } from './parameter-types'
export type { Strip } from './strips'
export { insertLaneKey, insertOfLane }

/** The gain thread of a region. */
export const gainThreadLook: ThreadLook = {
  name: 'Gain thread',
  words: 'gain thread',
  scale: gainScale,
  dye: 'weld',
  knotShape: 'square',
}

/** Whether the channels of a strip have pans of their own. The mix has a balance. */
const isPair = (strip: Strip) => 'panMode' in strip && strip.channels === 2 && strip.panMode === 'pair'

const volumeValue: StaticValue = {
  ...FADER_DB,
  allowsSilence: true,
  defaultValue: 0,
  defaultShort: '0 dB',
  defaultWords: '0 dB',
  step: 1,
  fineStep: 0.1,
  read: (strip) => strip.volumeDb,
  written: (_strip, volumeDb) => ({ volumeDb }),
  show: (db) => showDb(db),
  parse: (text) => parseLevel(text, { ...FADER_DB, silence: true }),
  toLane: (db) => (db === null ? 0 : dbToHeight(db)),
  fromLane(height) {
    const db = Math.round(heightToDb(height) * 100) / 100
    return db < FADER_DB.min ? null : Math.min(FADER_DB.max, db)
  },
}

const panValue: StaticValue = {
  min: -1,
  max: 1,
  allowsSilence: false,
  defaultValue: 0,
  defaultShort: 'C',
  defaultWords: 'the centre',
  step: 0.05,
  fineStep: 0.01,
  read: (strip) => strip.pan ?? 0,
  written: (_strip, pan) => ({ pan: pan ?? 0 }),
  show: (pan) => showPan(pan ?? 0),
  parse: parsePan,
  toLane: (pan) => pan ?? 0,
  fromLane: (pan) => pan,
}

/** The key of the parameter that a fader moves. */
export const FADER = 'volume'

const volume: Parameter = {
  key: FADER,
  stage: 'volume',
  shownAt: FADER,
  name: 'Volume',
  words: 'volume',
  shortName: 'Volume',
  laneName: 'Volume',
  scale: gainScale,
  dye: 'madder',
  knotShape: 'filled',
  actsOn: () => true,
  laneDefault: (strip) => volumeValue.toLane(strip.volumeDb),
  value: volumeValue,
  fieldLabel: { track: 'Static volume', mix: 'Volume of the mix' },
  path: {
    track: () => ({
      name: 'Volume',
      place: 'of the track',
      about:
        'The fader, after regions and inserts. Its lane lies over the rows: hold P and ' +
        'sweep to lower or raise a stretch, D to draw, W to weave; double-click adds a knot.',
    }),
    mix: {
      name: 'Mix',
      place: 'all tracks',
      about: 'The level of the whole mix, after all tracks are added. It is what you hear and export.',
    },
  },
}

const pan: Parameter = {
  key: 'pan',
  stage: 'pan',
  shownAt: 'pan',
  name: 'Pan',
  words: 'pan',
  shortName: 'Pan',
  laneName: 'Pan',
  scale: panScale,
  dye: 'woad',
  knotShape: 'round',
  actsOn: (strip) => !isPair(strip),
  laneDefault: (strip) => strip.pan ?? 0,
  value: panValue,
  fieldLabel: { track: 'Pan', mix: 'Pan of the mix' },
  path: {
    track: (track) => ({
      name: 'Pan',
      place: 'of the track',
      about:
        track.channels === 1
          ? 'Places the track between left (top of the lane) and right. Shape its lane over the tracks; W weaves a pattern.'
          : 'The balance of the track, or a pan for each channel. Left is at the top of the lane; W weaves a pattern.',
    }),
    mix: {
      name: 'Mix pan',
      place: 'balance',
      about: 'The balance of the whole mix, after its level: the side that you turn away from falls.',
    },
  },
}

/** The pan of one channel of a pair, which starts hard on its side. */
const channelPan = (key: string, side: 'left' | 'right', hard: -1 | 1): Parameter => ({
  ...pan,
  key,
  words: `${side} pan`,
  shortName: side === 'left' ? 'Left' : 'Right',
  laneName: `Pan, ${side} channel`,
  actsOn: isPair,
  laneDefault: () => hard,
  value: null,
})

const COMMON = new Map(
  [volume, pan, channelPan('panLeft', 'left', -1), channelPan('panRight', 'right', 1)].map((parameter) => [
    parameter.key,
    parameter,
  ]),
)

/** The parameters that every strip may have, in the order of the path: without those of inserts and sends. */
export const allParameters = (): Parameter[] => [...COMMON.values()]

/** A parameter that every strip may have. */
export const findCommonParameter = (key: string): Parameter | undefined => COMMON.get(key)

/** The key of the lane of a send's level. */
export const sendLaneKey = (sendId: string) => `send:${sendId}:level`

/** The send whose level a lane is of; null for another lane. */
export function sendOfLane(strip: Strip, lane: string): Send | null {
  if (!('sends' in strip) || !lane.startsWith('send:') || !lane.endsWith(':level')) return null
  const id = lane.slice(5, -6)
  return strip.sends.find((s) => s.id === id) ?? null
}

const ofSends = new Map<string, Parameter>()

/** The level of a send as a parameter of its strip. */
function parameterOfSend({ id }: Send): Parameter {
  const known = ofSends.get(id)
  if (known) return known
  const key = sendLaneKey(id)
  const sendIn = (strip: Strip) => ('sends' in strip ? strip.sends.find((s) => s.id === id) : undefined)
  const words: StageWords = {
    name: 'Send',
    place: 'of the strip',
    about: 'How much of the strip goes to a bus besides its output. Its lane shapes that over time.',
  }
  const made: Parameter = {
    ...volume,
    key,
    stage: 'send',
    shownAt: key,
    name: 'Send level',
    words: 'send level',
    shortName: 'Send level',
    laneName: 'Send level',
    dye: 'lichen',
    actsOn: (strip) => sendIn(strip) !== undefined,
    laneDefault: (strip) => volumeValue.toLane(sendIn(strip)?.levelDb ?? null),
    value: {
      ...volumeValue,
      read: (strip) => sendIn(strip)?.levelDb ?? null,
      written: (strip, levelDb) =>
        'sends' in strip ? { sends: strip.sends.map((s) => (s.id === id ? { ...s, levelDb } : s)) } : {},
    },
    fieldLabel: { track: 'Level of the send', mix: 'Level of the send' },
    path: { track: () => words, mix: words },
  }
  ofSends.set(id, made)
  return made
}

/** The parameter of a lane of a strip; undefined for a key that it does not have, or that this version does not know. */
export function findParameter(strip: Strip, lane: string): Parameter | undefined {
  const common = COMMON.get(lane)
  if (common) return common
  const ofInsert = insertOfLane(strip, lane)
  if (ofInsert) {
    const parameter = insertParameter(ofInsert.insert.kind, ofInsert.key)
    return parameter && parameter.moves !== 'never'
      ? parameterOfInsert(ofInsert.insert, parameter)
      : undefined
  }
  const send = sendOfLane(strip, lane)
  return send ? parameterOfSend(send) : undefined
}

/** The parameter of a lane of a strip. Throws a RangeError for a key that it does not have. */
export function parameterOf(strip: Strip, lane: string): Parameter {
  const found = findParameter(strip, lane)
  if (!found) throw new RangeError(`there is no parameter “${lane}”`)
  return found
}

/** The parameters of a strip's inserts that lanes can move, in the order of the path. */
export const insertParametersOf = (insert: Insert): Parameter[] =>
  [...insertKindOf(insert.kind).parameters, BYPASSED]
    .filter((p) => p.moves !== 'never')
    .map((p) => parameterOfInsert(insert, p))

const commonOf = (strip: Strip): Parameter[] => allParameters().filter((p) => p.actsOn(strip))

const known = new WeakMap<Strip, Parameter[]>()

/** The parameters that act on a strip: those that every strip has, those of its sends, and those of its inserts. */
export function parametersOf(strip: Strip): Parameter[] {
  if (insertsOf(strip).length === 0 && !('sends' in strip && strip.sends.length)) return commonOf(strip)
  const kept = known.get(strip)
  if (kept) return kept
  const all = [
    ...commonOf(strip),
    ...('sends' in strip ? strip.sends.map(parameterOfSend) : []),
    ...insertsOf(strip).flatMap(insertParametersOf),
  ]
  known.set(strip, all)
  return all
}

/** The parameters that are stages of the Path by themselves. */
export const stageParameters = (): Parameter[] => allParameters().filter((p) => p.shownAt === p.key)

/** The next value of a parameter: a step up (1) or down (-1), or a fine one, within its range; to a hundredth. */
export function steppedValue(
  value: StaticValue,
  now: number | null,
  direction: number,
  fine: boolean,
): number {
  const next = (now ?? value.min) + direction * (fine ? value.fineStep : value.step)
  return clamp(Math.round(next * 100) / 100, value.min, value.max)
}

/** Throws a RangeError for a static value outside its range. */
export function expectInRange({ words, value }: Parameter, to: number | null): void {
  if (!value) throw new RangeError(`the ${words} has no value but that of its lane`)
  const inRange = to === null ? value.allowsSilence : to >= value.min && to <= value.max
  if (!inRange) throw new RangeError(`a ${words} of ${to} is outside ${value.min}…${value.max}`)
}

/** The keys of the lanes that act on a track, or with null on the mix, in the order of the path. */
export const laneKeysOf = (session: Session, trackId: string | null): string[] =>
  parametersOf(stripOf(session, trackId)!).map((p) => p.key)
