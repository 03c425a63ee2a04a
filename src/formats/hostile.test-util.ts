import { zipSync, type Zippable } from 'fflate'
import { testRegion, testSession } from '../core/model/fixture.test-util'
import { SessionError } from '../core/model/open'
import { seededRandom } from '../core/units/random'
import { bytesOf } from './bytes'
import { FileError } from './failure'
import { exactWav, parseSession, readPackage, sourceBlocks, writePackage } from './package'
import { samplesHash } from './samples-hash.test-util'
import { readWavHeader, wavBlocks } from './wav-read'

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

/** Reads a WAV file to its end, as importing does. */
export async function readWhole(bytes: Uint8Array): Promise<void> {
  const source = bytesOf(bytes)
  const header = await readWavHeader(source)
  const blocks = wavBlocks(source, header, 65536)
  while (!(await blocks.next()).done);
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

const asSession = (text: string) => async () => void parseSession(text)

function asPackage(files: Zippable): () => Promise<void> {
  const bytes = zipSync(files)
  return () => readAllOf(bytes)
}

/** Files that are made to do harm by what they are, and not by chance. */
const crafted: [string, () => () => Promise<void>][] = [
  ['JSON of a hundred thousand brackets', () => asSession('['.repeat(100_000))],
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
 * So many hostile files from a seed: WAV files, sessions and packages, spoiled by chance, and those that are
 * crafted.
 */
export function hostileFiles(count: number, seed: number): Hostile[] {
  const random = seededRandom(seed)
  const made: Hostile[] = crafted.map(([what, make]) => ({ what, make }))
  while (made.length < count) {
    const n = made.length
    const kind = n % 3
    if (kind === 0) {
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
    if (!(error instanceof FileError || error instanceof SessionError))
      return `threw ${String(error).slice(0, 200)}`
    // eslint-disable-next-line no-control-regex
    if (error.message.length > 400 || /[\u0000-\u001f\u007f-\u009f]/.test(error.message))
      return `said ${JSON.stringify(error.message.slice(0, 200))}`
    return null
  }
}
