import { spawnSync } from 'node:child_process'
import fs from 'node:fs'
import os from 'node:os'
import path from 'node:path'
import { testRegion, testSession } from '../src/core/model/fixture.test-util'
import { bytesOf } from '../src/formats/bytes'
import { exactWav, writePackage } from '../src/formats/package'
import { SamplesHash } from '../src/formats/samples-hash'
import { decodeWav, readWavHeader } from '../src/formats/wav-read'

const folder = fs.mkdtempSync(path.join(os.tmpdir(), 'oaken-'))
const inFolder = (name: string) => path.join(folder, name)
afterAll(() => fs.rmSync(folder, { recursive: true }))

function oaken(...args: string[]) {
  const { status, stdout, stderr } = spawnSync(
    process.execPath,
    [path.join(__dirname, 'oaken.mjs'), ...args],
    { encoding: 'utf8' },
  )
  return { status, stdout, stderr }
}

const sine = Float32Array.from({ length: 480000 }, (_, n) =>
  Math.fround(0.1 * Math.sin((2 * Math.PI * 1000 * n) / 48000)),
)
const hash = new SamplesHash()
hash.add([sine])
const sha256 = hash.hex()
const base = testSession(
  [
    testRegion('r1', {
      length: 96000,
      clipGainDb: -6,
      fadeIn: { kind: 'gain', length: 48000, curve: 'linear', bend: 0, level: 0 },
    }),
  ],
  { name: 'Narrator', volumeDb: -3, pan: 0.5 },
)
const session = { ...base, sources: { s: { ...base.sources.s!, sha256 } } }
const bytes = exactWav([sine], 48000)
fs.mkdirSync(inFolder('audio'))
fs.writeFileSync(inFolder(`audio/${sha256}.wav`), bytes)
fs.writeFileSync(inFolder('session.json'), JSON.stringify(session))
fs.writeFileSync(inFolder('p.oaken.zip'), writePackage(session, new Map([[sha256, bytes]])))
fs.writeFileSync(inFolder('broken.json'), JSON.stringify({ ...session, trackIds: [] }))
fs.writeFileSync(inFolder('words.json'), 'not json')

async function samplesOf(name: string) {
  const file = fs.readFileSync(inFolder(name))
  const header = await readWavHeader(bytesOf(file))
  return {
    header,
    channels: decodeWav(
      header,
      file.subarray(header.dataFrom, header.dataFrom + header.frames * header.bytesPerFrame),
      0,
    ),
  }
}

test('render: the mix of a session and of a package, equal to the formula and to each other', async () => {
  expect(
    oaken('render', inFolder('session.json'), '-o', inFolder('a.wav'), '--format', 'wav32f'),
  ).toMatchObject({ status: 0, stderr: '' })
  expect(oaken('render', inFolder('p.oaken.zip'), '-o', inFolder('b.wav'), '--format', 'wav32f').status).toBe(
    0,
  )
  expect(fs.readFileSync(inFolder('a.wav')).equals(fs.readFileSync(inFolder('b.wav')))).toBe(true)
  const { channels } = await samplesOf('a.wav')
  const worst = channels[0]!.reduce(
    (most, x, n) =>
      Math.max(
        most,
        Math.abs(
          x -
            0.1 *
              Math.sin((2 * Math.PI * 1000 * n) / 48000) *
              10 ** (-9 / 20) *
              Math.min(1, n / 48000) *
              Math.cos((0.75 * Math.PI) / 2),
        ),
      ),
    0,
  )
  expect(worst).toBeLessThan(1e-6)
})

test('render: a stretch, one track, one region, unshaped, 16 bit, FLAC', async () => {
  expect(
    oaken(
      'render',
      inFolder('session.json'),
      '-o',
      inFolder('c.wav'),
      '--format',
      'wav16',
      '--from',
      '1',
      '--to',
      '1.5',
      '--track',
      'Narrator',
      '--unshaped',
    ).status,
  ).toBe(0)
  const { header, channels } = await samplesOf('c.wav')
  expect(header).toMatchObject({ frames: 24000, bitsPerSample: 16, channels: 2 })
  expect(Math.max(...channels[0]!)).toBeCloseTo(0.1 * 10 ** (-3 / 20) * Math.cos((0.75 * Math.PI) / 2), 3)
  expect(
    oaken(
      'render',
      inFolder('session.json'),
      '-o',
      inFolder('d.wav'),
      '--format',
      'wav32f',
      '--region',
      'r1',
      '--from',
      '1.2',
    ).status,
  ).toBe(0)
  expect(Math.max(...(await samplesOf('d.wav')).channels[0]!)).toBeCloseTo(0.1 * 10 ** (-6 / 20), 5)
  expect(oaken('render', inFolder('session.json'), '-o', inFolder('e.flac')).status).toBe(0)
  expect(fs.readFileSync(inFolder('e.flac')).subarray(0, 4).toString()).toBe('fLaC')
})

test('measure prints levels, loudness, correlation and DC as JSON', () => {
  const { status, stdout } = oaken('measure', inFolder(`audio/${sha256}.wav`))
  expect(status).toBe(0)
  const measured = JSON.parse(stdout) as {
    peak: number
    truePeak: number
    rms: number
    dc: number[]
    frames: number
  }
  expect(measured.peak).toBeCloseTo(-20, 3)
  expect(measured.rms).toBeCloseTo(-23.0103, 3)
  expect(measured.dc[0]).toBeCloseTo(0, 6)
  expect(measured.frames).toBe(480000)
  // One channel of 1 kHz at -20 dBFS peak has a mean square of -23 dB; K-weighting adds 0.69 dB there, and BS.1770 takes it off again.
  expect(measured).toMatchObject({ integrated: -23, momentaryMax: -23, correlation: null })
  expect(Math.abs(measured.truePeak + 20)).toBeLessThan(0.05)
})

test('check: 0 for a good session, 1 with the rule for a broken one', () => {
  expect(oaken('check', inFolder('p.oaken.zip'))).toMatchObject({ status: 0, stdout: 'keeps all rules\n' })
  const { status, stdout } = oaken('check', inFolder('broken.json'))
  expect([status, stdout.trim()]).toEqual([1, 'ids: tracks.t = t: is missing from trackIds'])
})

test.each([
  [2, []],
  [2, ['knit']],
  [2, ['render', 'session.json']],
  [2, ['render', '-o', 'x.wav']],
  [2, ['render', 'session.json', '-o', 'x.wav', '--format', 'mp3']],
  [2, ['render', 'session.json', '-o', 'x.wav', '--from', 'soon']],
  [2, ['render', 'session.json', '-o', 'x.wav', '--loud']],
  [2, ['render', 'session.json', '-o', 'x.wav', '--from', '2', '--to', '1']],
  [2, ['measure']],
  [1, ['render', 'nowhere.json', '-o', 'x.wav']],
  [1, ['render', 'words.json', '-o', 'x.wav']],
  [1, ['render', 'broken.json', '-o', 'x.wav']],
  [1, ['render', 'session.json', '-o', 'x.wav', '--track', 'Nobody']],
  [1, ['check', 'words.json']],
  [1, ['measure', 'words.json']],
] as const)('exit code %p and one line on standard error for: %p', (code, args) => {
  const { status, stderr } = oaken(...args.map((a) => (/\.(json|wav)$/.test(a) ? inFolder(a) : a)))
  expect(status).toBe(code)
  expect(stderr).toMatch(/^oaken: [^\n]+\n$/)
})
