import { zipSync, type Zippable } from 'fflate'
import { testRegion, testSession } from '../core/model/fixture.test-util'
import { SessionError } from '../core/model/check/open'
import { OWN_PRESETS, PresetError, presetFile, readPreset } from '../core/model/inserts/presets'
import { checkSession } from '../core/model/check/rules'
import { insertValueBreaches } from '../core/model/check/routing-rules'
import { firstNotFinite } from '../core/measure/finite'
import { gainScale } from '../core/units/scale'
import { keysFile, readKeysFile } from './keys-file'
import { seededRandom } from '../core/units/random'
import { bytesOf } from './bytes'
import { FileError } from './failure'
import { exactWav, parseSession, readPackage, sourceBlocks } from './package'
import { writePackage } from './package.test-util'
import { samplesHash } from './samples-hash.test-util'
import { constant, differences, flacOf, frame } from './flac-made.test-util'
import { boundedJson } from './json-look'
import { laneTable, readLaneTable } from './lane-table'
import { openSoundFile } from './sound-file'

/** A file made to do harm: what it is, and how it is made; what making it gives reads it. */
export interface Hostile {
  what: string
  make(): () => Promise<void>
}

const sound = Float32Array.from({ length: 20_000 }, (_, n) => Math.round(Math.sin(n * 0.02) * 9000) / 32768)
const wav = exactWav([sound], 48000)
const sha256 = samplesHash([sound])
const plain = testSession(
  [testRegion('a', { length: 20_000, gainThreadId: 'g' })],
  {},
  { gainThreads: { g: { id: 'g', knots: [] } } },
)
const session = { ...plain, sources: { s: { ...plain.sources.s!, frames: 20_000, sha256 } } }
const json = JSON.stringify(session)
const packed = writePackage(session, new Map([[sha256, wav]]))

/** What is wrong though it was taken. */
class WronglyTaken extends Error {}

const takenRightly = (holds: boolean, what: string) => {
  if (!holds) throw new WronglyTaken(`was taken, though ${what}`)
}

/** Reads a file of sound to its end, as importing does; what is taken has to be sound. */
export async function readWhole(bytes: Uint8Array): Promise<void> {
  const sound = await openSoundFile(bytesOf(bytes))
  if (!sound) throw new FileError('is no file of sound.')
  let frames = 0
  for await (const block of sound.blocks(65536)) {
    frames += block[0]!.length
    takenRightly(firstNotFinite(block) < 0, 'it holds no numbers')
    if (!sound.format.includes('float'))
      takenRightly(
        block.every((side) => side.every((x) => Math.abs(x) <= 1)),
        'it passes full scale',
      )
  }
  takenRightly(frames === sound.frames, 'it has another length than it says')
}

/** Reads a package with all of its sound. */
export async function readAllOf(bytes: Uint8Array): Promise<void> {
  const { session: opened, audio } = await readPackage(bytesOf(bytes))
  for (const source of Object.values(opened.sources)) {
    const blocks = sourceBlocks(source, await audio(source.sha256), 65536)
    while (!(await blocks.next()).done);
  }
}

const EXTREMES = [0, 1, 2, 0x7fff, 0x8000, 0xffff, 0x7fffffff, 0x80000000, 0xfffffffe, 0xffffffff]

/** A copy with some places overwritten by numbers that readers stumble over, by noise, or cut off. */
function spoiled(bytes: Uint8Array, random: () => number, within: number): Uint8Array {
  const copy = Buffer.from(bytes)
  const place = (size: number) => Math.max(0, Math.floor(random() * (Math.min(within, copy.length) - size)))
  for (let n = 1 + Math.floor(random() * 4); n > 0; n--) {
    const extreme = EXTREMES[Math.floor(random() * EXTREMES.length)]!
    const way = Math.floor(random() * 4)
    if (way < 2) copy.writeUInt32LE(extreme, place(4))
    else if (way === 2) copy.writeUInt16LE(extreme & 0xffff, place(2))
    else copy[place(1)] = Math.floor(random() * 256)
  }
  return random() < 0.25 ? copy.subarray(0, Math.floor(random() * copy.length)) : copy
}

const VALUES = [
  null,
  true,
  -1,
  1e308,
  1.5,
  '',
  'constructor',
  '__proto__',
  'x'.repeat(100_000),
  [],
  {},
  [[[[]]]],
  '\u001b[31m',
  -0,
  2 ** 53,
]

/** The session as JSON with some values, of whatever depth, replaced by others. */
function spoiledJson(random: () => number): string {
  const copy = JSON.parse(json) as Record<string, unknown>
  for (let n = 1 + Math.floor(random() * 3); n > 0; n--) {
    let at: Record<string, unknown> = copy
    for (;;) {
      const keys = Object.keys(at)
      const key = keys[Math.floor(random() * keys.length)]
      if (key === undefined) break
      const next = at[key]
      if (typeof next === 'object' && next !== null && random() < 0.8) at = next as Record<string, unknown>
      else {
        const name = random() < 0.15 ? '__proto__' : random() < 0.15 ? 'toString' : key
        Object.defineProperty(at, name, {
          value: VALUES[Math.floor(random() * VALUES.length)],
          enumerable: true,
          configurable: true,
          writable: true,
        })
        break
      }
    }
  }
  return JSON.stringify(copy)
}

/** Reads a session as a file on disk is read: looked through, parsed, checked. */
async function readSession(size: number, read: (from: number, to: number) => Uint8Array): Promise<void> {
  const opened = parseSession(await boundedJson(size, async (from, to) => read(from, to)))
  takenRightly(checkSession(opened).length === 0, 'it breaks a rule')
}

const asSession = (text: string) => {
  const bytes = new TextEncoder().encode(text)
  return () => readSession(bytes.length, (from, to) => bytes.subarray(from, to))
}

/** The same of a file that is never in memory as a whole: a text in place of `HERE`, so many times. */
function asLargeSession(text: string, unit: string, count: number): () => Promise<void> {
  const [head, tail] = text.split('HERE').map((part) => Buffer.from(part)) as [Buffer, Buffer]
  const middle = unit.length * count
  const read = (from: number, to: number): Uint8Array => {
    const parts: Buffer[] = [head.subarray(from, to)]
    const [a, b] = [Math.max(0, from - head.length), Math.min(middle, to - head.length)]
    const turn = a % unit.length
    if (b > a) parts.push(Buffer.alloc(b - a, unit.slice(turn) + unit.slice(0, turn)))
    const end = head.length + middle
    if (to > end) parts.push(tail.subarray(Math.max(0, from - end), to - end))
    return Buffer.concat(parts)
  }
  return () => readSession(head.length + middle + tail.length, read)
}

const asTable = (text: string) => async () => {
  const read = readLaneTable(text, gainScale, 48_000)
  if (!read.ok) throw new FileError(read.message)
  const { knots } = read
  takenRightly(
    knots.every(({ frame, value }, i) => {
      const [before, first] = [knots[i - 1], knots[i - 2]]
      return value >= 0 && value <= 1 && frame >= (before?.frame ?? 0) && frame !== first?.frame
    }),
    'its knots are out of order or range',
  )
}

const asPreset = (text: string) => async () => {
  const { inserts } = readPreset(text)
  takenRightly(
    inserts.every((insert) => [...insertValueBreaches(insert, 'values')].length === 0),
    'a value is out of range',
  )
}

const asKeys = (text: string) => async () => {
  const read = readKeysFile(text, new Set(['play', 'loop']))
  if (!read) throw new FileError('holds no keys.')
  takenRightly(
    Object.entries(read.keymap).every(
      ([id, keys]) => ['play', 'loop'].includes(id) && keys.every((k) => /^[a-z0-9+]{1,40}$/.test(k)),
    ),
    'it has keys of unknown commands',
  )
}

/** Frames of FLAC whose checksums are right and of which something else is not, most of the time. */
function spoiledFlac(random: () => number): Uint8Array {
  const depth = [8, 16, 24][Math.floor(random() * 3)]!
  const channels = random() < 0.5 ? 1 : 2
  const block = 64
  const value = () => Math.floor((random() - 0.5) * 2 ** (depth + (random() < 0.2 ? 3 : 0)))
  const subframe = () =>
    random() < 0.5
      ? constant(value() % 2 ** (depth - 1), depth)
      : differences(
          value() % 2 ** (depth - 1),
          Array.from({ length: block - 1 }, () =>
            Math.floor((random() - 0.5) * (random() < 0.3 ? 2 ** 19 : 40)),
          ),
          depth,
        )
  const frames = Array.from({ length: 4 }, (_, n) =>
    frame(
      random() < 0.1 ? Math.floor(random() * 70_000) : n,
      block,
      Array.from({ length: channels }, subframe),
    ),
  )
  if (random() < 0.3) frames.push(frames.shift()!)
  const md5 = random() < 0.3 ? Array.from({ length: 16 }, () => Math.floor(random() * 256)) : undefined
  const info = {
    block,
    channels,
    depth,
    frames: random() < 0.8 ? 4 * block : Math.floor(random() * 1e9),
  } as const
  const bytes = flacOf(frames, md5 ? { ...info, md5 } : info)
  return random() < 0.3 ? spoiled(bytes, random, 42) : bytes
}

const TABLE = laneTable(
  Array.from({ length: 30 }, (_, i) => ({ frame: i * 4800, value: i / 40, shape: 'line', bend: 0 })),
  gainScale,
  48_000,
)
const PRESET = JSON.stringify(presetFile(OWN_PRESETS.find((p) => p.inserts.length > 1)!))
const KEYS = keysFile({ singleKeys: true, keymap: { play: ['space'], loop: ['l', 'shift+l'] } })

/** A text with pieces repeated, cut out, or replaced by what readers stumble over. */
function spoiledText(text: string, random: () => number): string {
  let copy = text
  const place = () => Math.floor(random() * copy.length)
  const STRANGE = [
    '"',
    ',',
    ';',
    '\t',
    '\0',
    '\u202e',
    '-1e999',
    '9'.repeat(5000),
    '{',
    '[',
    'null',
    '__proto__',
    '∞',
  ]
  for (let n = 1 + Math.floor(random() * 5); n > 0; n--) {
    const [at, length] = [place(), Math.floor(random() * 20)]
    const way = random()
    const put =
      way < 0.4
        ? STRANGE[Math.floor(random() * STRANGE.length)]!
        : way < 0.6
          ? copy.slice(at, at + length).repeat(Math.floor(random() * 2000))
          : ''
    copy = copy.slice(0, at) + put + copy.slice(at + length)
  }
  return copy
}

function asPackage(files: Zippable): () => Promise<void> {
  const bytes = zipSync(files)
  return () => readAllOf(bytes)
}

/** Files that are made to do harm by what they are, and not by chance. */
const crafted: [string, () => () => Promise<void>][] = [
  ['JSON of a hundred thousand brackets', () => asSession('['.repeat(100_000))],
  [
    '130,000 wrong values in one insert',
    () =>
      asSession(
        json.replace(
          '"inserts":[]',
          `"inserts":[{"id":"i","kind":"gain","bypassed":false,"values":{${Array.from({ length: 130_000 }, (_, i) => `"v${i}":[]`).join()}}}]`,
        ),
      ),
  ],
  [
    'more knots than there may be in the inserts that are not heard',
    () =>
      asLargeSession(
        json.replace(
          '"lanes":{}}}',
          '"lanes":{},"chainB":{"inserts":[],"heard":false,"lanes":{"a":{"knots":[HERE{}]}}}}}',
        ),
        '{"frame":0,"value":0,"shape":"line","bend":0},',
        1_200_000,
      ),
  ],
  [
    'wrong knots in gain that was moved',
    () => {
      const state = `{"lane":null,"regions":{"a":{"clipGainDb":0,"gainThreadId":null,"knots":[${'{},'.repeat(700_000)}{}]}}}`
      return asSession(
        json.replace('"lanes":{}}}', `"lanes":{},"moved":[{"id":"m","before":${state},"after":${state}}]}}`),
      )
    },
  ],
  [
    'a session of 150 MB that is one text',
    () => asLargeSession(json.replace('"title":"', '"title":"HERE'), 'x', 150_000_000),
  ],
  [
    'three knots on a frame',
    () =>
      asSession(
        json.replace(
          '"knots":[]',
          `"knots":[${Array(3).fill('{"frame":5,"value":0,"shape":"line","bend":0}').join()}]`,
        ),
      ),
  ],
  ['a table of one row of 19 million commas', () => asTable(','.repeat(19_000_000))],
  ['a table of five million rows', () => asTable('0,0\n'.repeat(4_900_000))],
  [
    'a preset of 20,000 wrong values',
    () =>
      asPreset(
        PRESET.replace(
          '"values":{',
          `"values":{${Array.from({ length: 20_000 }, (_, i) => `"v${i}":[],`).join('')}`,
        ),
      ),
  ],
  [
    'keys of 30,000 commands',
    () =>
      asKeys(
        KEYS.replace(
          '"keymap": {',
          `"keymap": {${Array.from({ length: 30_000 }, (_, i) => `"c${i}":7,`).join('')}`,
        ),
      ),
  ],
  [
    'a million wrong knots',
    () => asSession(json.replace('"knots":[]', `"knots":[${'{},'.repeat(999_999)}{}]`)),
  ],
  [
    'hundreds of thousands of unknown keys',
    () => asSession(json.replace('{', `{${Array.from({ length: 300_000 }, (_, i) => `"k${i}":1`).join()},`)),
  ],
  [
    'ten thousand wrong regions',
    () =>
      asSession(
        json.replace(
          '"regions":{',
          `"regions":{${Array.from({ length: 10_000 }, (_, i) => `"z${i}":{}`).join()},`,
        ),
      ),
  ],
  [
    'a session of 40 MB of blanks in 40 KB',
    () => asPackage({ 'session.json': [new Uint8Array(40_000_000).fill(32), { level: 9 }] }),
  ],
  [
    'sound of 80 MB of zeros in 80 KB',
    () =>
      asPackage({
        'session.json': new TextEncoder().encode(json),
        [`audio/${sha256}.wav`]: [new Uint8Array(80_000_000), { level: 9 }],
      }),
  ],
  [
    'ten thousand empty files',
    () =>
      asPackage(Object.fromEntries(Array.from({ length: 10_000 }, (_, i) => [`f${i}`, new Uint8Array()]))),
  ],
  [
    'a WAV of ninety thousand empty chunks',
    () => {
      const bytes = Buffer.concat([wav.subarray(0, 12), Buffer.alloc(720_000, 'junk\0\0\0\0')])
      return () => readWhole(bytes)
    },
  ],
]

/**
 * So many hostile files from a seed: WAV and FLAC files, sessions, packages, tables, presets and keys, spoiled by chance, and
 * those that are crafted.
 */
export function hostileFiles(count: number, seed: number): Hostile[] {
  const random = seededRandom(seed)
  const made: Hostile[] = crafted.map(([what, make]) => ({ what, make }))
  while (made.length < count) {
    const n = made.length
    const kind = n % 7
    if (kind === 3) {
      const bytes = spoiledFlac(random)
      made.push({ what: `FLAC ${n}`, make: () => () => readWhole(bytes) })
    } else if (kind === 4) {
      const text = spoiledText(TABLE, random)
      made.push({ what: `table ${n}`, make: () => asTable(text) })
    } else if (kind === 5) {
      const text = spoiledText(PRESET, random)
      made.push({ what: `preset ${n}`, make: () => asPreset(text) })
    } else if (kind === 6) {
      const text = spoiledText(KEYS, random)
      made.push({ what: `keys ${n}`, make: () => asKeys(text) })
    } else if (kind === 0) {
      const bytes = spoiled(wav, random, random() < 0.8 ? 60 : wav.length)
      made.push({ what: `WAV ${n}`, make: () => () => readWhole(bytes) })
    } else if (kind === 1) {
      const text = spoiledJson(random)
      made.push({ what: `session ${n}`, make: () => asSession(text) })
    } else {
      const tail = random() < 0.7
      const from = tail ? packed.length - 400 : 0
      const part = spoiled(packed.subarray(from), random, tail ? 400 : 2000)
      const bytes = Buffer.concat([packed.subarray(0, from), part])
      made.push({ what: `package ${n}`, make: () => () => readAllOf(bytes) })
    }
  }
  return made
}

/**
 * What is wrong with how a file was refused; null where it was read, or refused as it should be: in one
 * sentence that is short and can be shown.
 */
export async function refusalFault(read: () => Promise<void>): Promise<string | null> {
  try {
    await read()
    return null
  } catch (error) {
    if (error instanceof WronglyTaken) return error.message
    if (!(error instanceof FileError || error instanceof SessionError || error instanceof PresetError))
      return `threw ${String(error).slice(0, 200)}`
    // eslint-disable-next-line no-control-regex
    if (error.message.length > 400 || /[\u0000-\u001f\u007f-\u009f]/.test(error.message))
      return `said ${JSON.stringify(error.message.slice(0, 200))}`
    return null
  }
}
