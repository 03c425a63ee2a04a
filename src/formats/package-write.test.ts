import fc from 'fast-check'
import { testRegion, testSession } from '../core/model/fixture.test-util'
import type { Session, Source } from '../core/model/session'
import { planSession, Renderer } from '../core/render'
import { bytesOf } from './bytes'
import { readPackage, sessionBytes, sourceSamples } from './package'
import { writePackageTo } from './package-write'
import { packagedSources, withoutUnusedSources } from './packaged-sources'
import { samplesHash } from './samples-hash.test-util'

/** A source over sound, filed by its hash. */
function sourceOf(id: string, channels: readonly Float32Array[]): Source {
  return {
    id,
    name: `${id}.wav`,
    channels: channels.length as 1 | 2,
    frames: channels[0]!.length,
    sampleRate: 48000,
    sha256: samplesHash(channels),
  }
}

async function packed(
  session: Session,
  sounds: ReadonlyMap<string, readonly Float32Array[]>,
  blockFrames = 100,
) {
  const pieces: Uint8Array[] = []
  await writePackageTo(session, {
    write: (bytes) => void pieces.push(bytes.slice()),
    async *sound({ sha256, frames }) {
      const channels = sounds.get(sha256)!
      for (let at = 0; at < frames; at += blockFrames)
        yield channels.map((c) => c.subarray(at, at + blockFrames))
    },
  })
  return Buffer.concat(pieces)
}

const rendered = (session: Session, sounds: ReadonlyMap<string, readonly Float32Array[]>) => {
  const plan = planSession(session)
  const [left, right] = [new Float32Array(plan.length), new Float32Array(plan.length)]
  new Renderer(plan, {
    read: (id, c, from, count, out) =>
      out.set(sounds.get(session.sources[id]!.sha256)![c]!.subarray(from, from + count)),
  }).render(0, left, right)
  return [left, right]
}

/** Samples of 16 or 24 bit, or such that only floats hold. */
const sample = fc.oneof(
  fc.integer({ min: -32768, max: 32767 }).map((n) => n / 32768),
  fc.integer({ min: -8388608, max: 8388607 }).map((n) => n / 8388608),
  fc.float({ min: -2, max: 2, noNaN: true }),
)
const sound = fc
  .tuple(fc.array(sample, { minLength: 1, maxLength: 500 }), fc.constantFrom(1, 2))
  .map(([list, channels]) =>
    Array.from({ length: channels }, (_, c) => Float32Array.from(list, (x) => (c ? -x : x))),
  )

test('what is packed is opened as it was: the same session, the same samples, the same render, to the bit', async () => {
  await fc.assert(
    fc.asyncProperty(
      fc.array(sound, { minLength: 1, maxLength: 3 }),
      fc.double({ min: -20, max: 6, noNaN: true }).map((db) => db + 0),
      async (list, gain) => {
        const sources = list.map((channels, i) => sourceOf(`s${i}`, channels))
        const sounds = new Map(sources.map((s, i) => [s.sha256, list[i]!]))
        const session: Session = {
          ...testSession(
            sources.map((s, i) =>
              testRegion(`r${i}`, { sourceId: s.id, start: i * 600, length: s.frames, clipGainDb: gain }),
            ),
          ),
          sources: Object.fromEntries(sources.map((s) => [s.id, s])),
        }
        const back = await readPackage(bytesOf(await packed(session, sounds)))
        expect(back.session).toEqual(session)
        const read = new Map<string, Float32Array[]>()
        for (const s of sources) read.set(s.sha256, await sourceSamples(s, await back.audio(s.sha256)))
        expect(read).toEqual(sounds)
        expect(rendered(back.session, read)).toEqual(rendered(session, sounds))
      },
    ),
    { numRuns: 40 },
  )
})

test('the same session gives the same bytes, however its sound comes; sound that two sources share is packed once', async () => {
  const channels = [Float32Array.from({ length: 1000 }, (_, n) => Math.sin(n / 7))]
  const [a, b] = [sourceOf('a', channels), sourceOf('b', channels)]
  const session = { ...testSession([testRegion('r', { sourceId: 'a', length: 1000 })]), sources: { a, b } }
  const sounds = new Map([[a.sha256, channels]])
  expect(packagedSources(session)).toEqual([b])
  const bytes = await packed(session, sounds, 100)
  expect((await packed(session, sounds, 333)).equals(bytes)).toBe(true)
  // 4 bytes a sample, once.
  expect(bytes.length).toBeLessThan(2 * 4000)
  expect(withoutUnusedSources(session).sources).toEqual({ a })
})

test('what sound or disk throw ends the packing, and so does whoever stops it', async () => {
  const source = sourceOf('s', [new Float32Array(1000)])
  const session = { ...testSession([]), sources: { s: source } }
  const blocks = async function* () {
    await Promise.resolve()
    yield [new Float32Array(500)]
    throw new Error('the sound is gone')
  }
  const write = () => undefined
  await expect(writePackageTo(session, { write, sound: blocks })).rejects.toThrow('the sound is gone')
  const whole = async function* () {
    await Promise.resolve()
    yield [new Float32Array(1000)]
  }
  const full = () => {
    throw new Error('the disk is full')
  }
  await expect(writePackageTo(session, { write: full, sound: whole })).rejects.toThrow('the disk is full')
  const check = () => {
    throw new Error('stopped')
  }
  await expect(writePackageTo(session, { write, sound: whole, check })).rejects.toThrow('stopped')
})

test('a session that could not be opened again is not written, and says so before anything is', async () => {
  const session = testSession([testRegion('a')])
  const bytes = sessionBytes(session)
  expect(sessionBytes(session, bytes.length)).toEqual(bytes)
  expect(() => sessionBytes(session, bytes.length - 1)).toThrow(
    /^The session is too large to be opened again: .* Nothing was written/,
  )
})
