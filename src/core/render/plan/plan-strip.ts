import { panMono } from '../../dsp/pan'
import { ParameterReader, processorKind, type ProcessorSetup } from '../../dsp/processors'
import { BYPASSED, insertKindOf } from '../../model/inserts/insert-kinds'
import { stepSecondsOf, type InsertParameter } from '../../model/inserts/insert-types'
import { insertValue } from '../../model/inserts/insert-values'
import type { KeyFeed } from '../../model/sidechain'
import { sidesAsInsert } from '../../model/sides'
import { placedKnots } from '../../model/lane-places'
import { insertLaneKey, sendLaneKey } from '../../model/parameters'
import { TO_MIX, type Insert, type Lane, type Session } from '../../model/session'
import { feedKey, lastInsertsOf, type Row, type Strip } from '../../model/strips'
import { dbToGain } from '../../units/decibel'
import { readerOf } from './lane-reader'
import type { FaderPlan, FeedPlan, InsertPlan, MixPlan, RegionPlan, TrackPlan } from './render-plan'

const laneReader = (lanes: Record<string, Lane>, key: string, sampleRate: number, unshaped: boolean) => {
  const lane = lanes[key]
  return !lane || lane.bypassed || unshaped ? null : readerOf(lane.knots, sampleRate)
}

const fader = (db: number | null) => (db === null ? 0 : dbToGain(db))

/** The fader of a strip whose inserts put out so many channels. The mix is stereo. */
function planFader(session: Session, strip: Strip, channels: 1 | 2, unshaped: boolean): FaderPlan {
  const own = 'channels' in strip ? strip.channels : 2
  const lane = (key: string) => laneReader(strip.lanes, key, session.sampleRate, unshaped)
  return {
    channels,
    law: channels === 1 ? session.panLaw : null,
    input: dbToGain(strip.trimDb ?? 0) * ('polarity' in strip ? strip.polarity : 1),
    centre: channels > own ? panMono(session.panLaw, 0).left : 1,
    volume: fader(strip.volumeDb),
    volumeLane: lane('volume'),
    pan: strip.pan ?? 0,
    panMode: 'panMode' in strip && channels === own ? strip.panMode : 'balance',
    panLane: lane('pan'),
    panLeftLane: lane('panLeft'),
    panRightLane: lane('panRight'),
  }
}

/** A reader of a parameter of an insert: its lane, or the value that stays. */
function parameterReader(
  session: Session,
  strip: Strip,
  insert: Insert,
  parameter: InsertParameter,
  unshaped: boolean,
): ParameterReader {
  const { key, scale, moves } = parameter
  const still = key === BYPASSED.key ? 0 : insertValue(insert, key)
  const lane = moves === 'never' ? undefined : strip.lanes[insertLaneKey(insert.id, key)]
  const reader =
    !lane || lane.bypassed || unshaped
      ? null
      : readerOf(placedKnots(scale, lane.knots), session.sampleRate, stepSecondsOf(insert.kind, parameter))
  return new ParameterReader(still, reader, scale.toValue ?? null)
}

/** What the processor of an insert is made from, for sound of so many channels. */
export function insertSetup(
  session: Session,
  strip: Strip,
  insert: Insert,
  channels: 1 | 2,
  unshaped = false,
): ProcessorSetup {
  return {
    sampleRate: session.sampleRate,
    tempo: session.tempo,
    channels,
    keyed: Boolean(insert.key),
    values: Object.fromEntries(
      insertKindOf(insert.kind).parameters.map((parameter) => [
        parameter.key,
        parameterReader(session, strip, insert, parameter, unshaped),
      ]),
    ),
  }
}

/** The inserts of a list that act, and the channels that come out of them. One that is bypassed is not there at all. */
function planInserts(
  session: Session,
  strip: Strip,
  list: readonly Insert[],
  channelsIn: 1 | 2,
  unshaped: boolean,
): { inserts: InsertPlan[]; channels: 1 | 2 } {
  let channels = channelsIn
  const inserts: InsertPlan[] = []
  for (const insert of list) {
    const bypass = parameterReader(session, strip, insert, BYPASSED, unshaped)
    if (!bypass.lane && insert.bypassed) continue
    const setup = insertSetup(session, strip, insert, channels, unshaped)
    inserts.push({ id: insert.id, kind: insert.kind, setup, bypass: bypass.lane ? bypass : null })
    channels = processorKind(insert.kind).channels(setup)
  }
  return { inserts, channels }
}

/** Which feeds are rendered, and who steers what. */
export interface Routes {
  readonly feeds: ReadonlySet<string>
  readonly keys: readonly KeyFeed[]
}

const steerKey = ({ to, insertId }: KeyFeed) => JSON.stringify(['steers', to, insertId])

/** The ways on which a row is heard, and steers. */
function planFeeds(
  session: Session,
  row: Row,
  { feeds: sounding, keys }: Routes,
  unshaped: boolean,
): FeedPlan[] {
  const { id, output, sends, lanes } = row
  const feeds: FeedPlan[] = []
  const target = (to: string) => (to === TO_MIX ? null : to)
  const out = feedKey({ from: id, sendId: null })
  if (sounding.has(out))
    feeds.push({
      key: out,
      isOutput: true,
      to: target(output),
      point: 'post',
      sidechainOf: null,
      level: 1,
      lane: null,
    })
  for (const send of sends) {
    const key = feedKey({ from: id, sendId: send.id })
    if (!sounding.has(key)) continue
    const lane = laneReader(lanes, sendLaneKey(send.id), session.sampleRate, unshaped)
    const level = fader(send.levelDb)
    feeds.push({
      key,
      isOutput: false,
      to: target(send.to),
      point: send.point,
      sidechainOf: null,
      level,
      lane,
    })
  }
  for (const steer of keys)
    if (steer.from === id)
      feeds.push({
        key: steerKey(steer),
        isOutput: false,
        to: target(steer.to),
        point: 'inserts',
        sidechainOf: steer.insertId,
        level: 1,
        lane: null,
      })
  return feeds
}

/** Rows as they were planned last, with what they were made of besides themselves. */
const plannedRows = new WeakMap<Row, { of: readonly unknown[]; plan: TrackPlan }>()

/** A row flat for rendering; the same plan as before while nothing of it has changed. */
export function planRow(
  session: Session,
  row: Row,
  regions: readonly RegionPlan[],
  ways: Routes,
  unshaped: boolean,
): TrackPlan {
  const heard = [null, ...row.sends.map((send) => send.id)].map((sendId) =>
    ways.feeds.has(feedKey({ from: row.id, sendId })),
  )
  const steers = ways.keys.filter((key) => key.from === row.id).map(steerKey)
  const of = [session.sampleRate, session.panLaw, session.tempo, unshaped, ...heard, ...steers, ...regions]
  const known = plannedRows.get(row)
  if (known?.of.length === of.length && known.of.every((part, i) => part === of[i])) return known.plan
  const { inserts, channels } = planInserts(
    session,
    row,
    [...sidesAsInsert(row), ...row.inserts],
    row.channels,
    unshaped,
  )
  const feeds = planFeeds(session, row, ways, unshaped)
  const plan: TrackPlan = {
    id: row.id,
    audible: feeds.some((feed) => feed.sidechainOf === null),
    isBus: session.buses[row.id] !== undefined,
    regions: [...regions],
    inputChannels: row.channels,
    inserts,
    feeds,
    ...planFader(session, row, channels, unshaped),
  }
  plannedRows.set(row, { of, plan })
  return plan
}

/** The mix flat for rendering. */
export function planMix(session: Session, unshaped: boolean): MixPlan {
  const { mix } = session
  const { inserts } = planInserts(session, mix, mix.inserts, 2, unshaped)
  const last = planInserts(session, mix, lastInsertsOf(mix), 2, unshaped)
  return { ...planFader(session, mix, 2, unshaped), inserts, lastInserts: last.inserts }
}
