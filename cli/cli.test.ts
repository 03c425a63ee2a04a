import { spawnSync } from 'node:child_process'
import fs from 'node:fs'
import os from 'node:os'
import path from 'node:path'
import { testRegion, testSession } from '../src/core/model/fixture.test-util'
import { bytesOf } from '../src/formats/bytes'
import { constant, flacOf, frame } from '../src/formats/flac-made.test-util'
import { exactWav } from '../src/formats/package'
import { writePackage } from '../src/formats/package.test-util'
import { samplesHash } from '../src/formats/samples-hash.test-util'
import { decodeWav, readWavHeader } from '../src/formats/wav-read'
import type { SoundFile } from '../src/formats/sound'
import { openSoundFile } from '../src/formats/sound-file'
import type { SessionReport } from '../src/core/suggest/report'
import { main } from './commands'

// Files are rendered and read again: a machine that other work shares takes its time.
jest.setTimeout(60_000)

const folder = fs.mkdtempSync(path.join(os.tmpdir(), 'oaken-'))
const inFolder = (name: string) => path.join(folder, name)
afterAll(() => fs.rmSync(folder, { recursive: true }))

/** Runs a command in this process, with what it says. */
async function oaken(...args: string[]) {
  const said = { stdout: '', stderr: '' }
  const spies = (['log', 'error'] as const).map((way) =>
    jest.spyOn(console, way).mockImplementation((...texts: unknown[]) => {
      said[way === 'log' ? 'stdout' : 'stderr'] += `${texts.join(' ')}\n`
    }),
  )
  const status = await main(args)
  for (const spy of spies) spy.mockRestore()
  return { status, ...said }
}

const sine = Float32Array.from({ length: 480000 }, (_, n) =>
  Math.fround(0.1 * Math.sin((2 * Math.PI * 1000 * n) / 48000)),
)
const sha256 = samplesHash([sine])
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
    await oaken('render', inFolder('session.json'), '-o', inFolder('a.wav'), '--format', 'wav32f'),
  ).toMatchObject({ status: 0, stderr: '' })
  expect(
    (await oaken('render', inFolder('p.oaken.zip'), '-o', inFolder('b.wav'), '--format', 'wav32f')).status,
  ).toBe(0)
  expect((await samplesOf('a.wav')).channels).toEqual((await samplesOf('b.wav')).channels)
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
    (
      await oaken(
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
      )
    ).status,
  ).toBe(0)
  const { header, channels } = await samplesOf('c.wav')
  expect(header).toMatchObject({ frames: 24000, bitsPerSample: 16, channels: 2 })
  expect(Math.max(...channels[0]!)).toBeCloseTo(0.1 * 10 ** (-3 / 20) * Math.cos((0.75 * Math.PI) / 2), 3)
  expect(
    (
      await oaken(
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
      )
    ).status,
  ).toBe(0)
  expect(Math.max(...(await samplesOf('d.wav')).channels[0]!)).toBeCloseTo(0.1 * 10 ** (-6 / 20), 5)
  expect((await oaken('render', inFolder('session.json'), '-o', inFolder('e.flac'))).status).toBe(0)
  expect(fs.readFileSync(inFolder('e.flac')).subarray(0, 4).toString()).toBe('fLaC')
})

test('render: inserts, a bus and a ceiling on the mix; a range has the bits of the whole, and stages are as they are called', async () => {
  const delay = { id: 'd', kind: 'delay', bypassed: false, values: { timeMs: 100, feedback: 0.5, mix: 0.5 } }
  const ceiling = {
    id: 'c',
    kind: 'ceiling',
    bypassed: false,
    values: { ceilingDbtp: -12, lookAheadMs: 3 },
    key: null,
  }
  const processed = {
    ...session,
    version: 2,
    regions: { r1: { ...session.regions.r1!, fadeIn: null, clipGainDb: 0 } },
    tracks: { t: { ...session.tracks.t!, pan: 0, volumeDb: 0, trimDb: 6, inserts: [delay], output: 'room' } },
    busIds: ['room'],
    buses: {
      room: {
        id: 'room',
        name: 'room',
        colour: 'walnut',
        channels: 2,
        trimDb: 0,
        polarity: 1,
        muted: false,
        soloed: false,
        inserts: [delay],
        sends: [],
        output: 'mix',
        volumeDb: 0,
        pan: 0,
        panMode: 'balance',
        lanes: {},
      },
    },
    mix: { volumeDb: 0, inserts: [], lastInserts: [ceiling], lanes: {} },
  }
  fs.writeFileSync(inFolder('processed.json'), JSON.stringify(processed))
  const run = async (out: string, ...options: string[]) => {
    const result = await oaken(
      'render',
      inFolder('processed.json'),
      '-o',
      inFolder(out),
      '--format',
      'wav32f',
      ...options,
    )
    expect(result).toMatchObject({ status: 0, stderr: '' })
    return (await samplesOf(out)).channels
  }
  const whole = await run('whole.wav')
  // The tail ends where nothing of -100 dBFS is left: with the last sample that is.
  const more = await run('more.wav', '--tail', '20')
  const heard = more.map((side) => side.findLastIndex((x) => Math.abs(x) >= 1e-5))
  expect(whole[0]!.length).toBe(Math.max(...heard) + 1)
  expect(whole[0]!.length).toBeGreaterThan(96_000 + 13 * 4800)
  expect((await run('none.wav', '--tail', 'none'))[0]).toHaveLength(96_000)
  expect(more[0]).toHaveLength(96_000 + 20 * 48_000)
  expect(whole[0]!.reduce((a, b) => Math.max(a, Math.abs(b)), 0)).toBeLessThan(10 ** (-11.9 / 20))
  const part = await run('part.wav', '--from', '0.777', '--to', '2.0001')
  const [from, to] = [Math.round(0.777 * 48000), Math.round(2.0001 * 48000)]
  expect(part.map((side) => side.length)).toEqual([to - from, to - from])
  expect(part[0]).toEqual(whole[0]!.subarray(from, to))
  const at = async (out: string, ...options: string[]) => (await run(out, ...options))[0]![9600]!
  const source = sine[9600]!
  const repeats = (0.5 * sine[9600]! + 0.5 * (sine[4800]! + 0.5 * sine[0]!)) * 10 ** (6 / 20)
  expect(await at('clip.wav', '--track', 'Narrator', '--stage', 'clip')).toBeCloseTo(source, 6)
  expect(await at('insert.wav', '--track', 'Narrator', '--stage', 'insert')).toBeCloseTo(repeats, 6)
  expect(await at('track.wav', '--track', 'Narrator')).toBeCloseTo(repeats * Math.SQRT1_2, 6)
  expect(await at('bus.wav', '--track', 'room', '--stage', 'insert')).toBeCloseTo(
    await at('sum.wav', '--stage', 'track'),
    6,
  )
})

test('a compressor adds no silence to a file, and all stems are as long as the mix', async () => {
  const of = (id: string, kind: string, values: object) => ({ id, kind, bypassed: false, values })
  const tracks = {
    t: { ...session.tracks.t!, inserts: [of('c', 'compressor', { releaseMs: 5000 })] },
    u: { ...session.tracks.t!, id: 'u', name: 'Bell', inserts: [of('d', 'delay', { timeMs: 200 })] },
  }
  const short = { ...session.regions.r1!, id: 'r2', trackId: 'u', length: 24_000, fadeIn: null }
  const both = { ...session, trackIds: ['t', 'u'], tracks, regions: { ...session.regions, r2: short } }
  fs.writeFileSync(inFolder('both.json'), JSON.stringify(both))
  const length = async (name: string) => (await samplesOf(name)).channels[0]!.length
  expect(
    await oaken('render', inFolder('both.json'), '-o', inFolder('t.wav'), '--track', 'Narrator'),
  ).toEqual({
    status: 0,
    stdout: '',
    stderr: '',
  })
  expect(await length('t.wav')).toBe(96_000)
  await oaken('render', inFolder('both.json'), '-o', inFolder('both.wav'))
  await oaken('render', inFolder('both.json'), '--stems', inFolder('both'))
  for (const stem of ['01 Narrator.wav', '02 Bell.wav'])
    expect(await length(`both/${stem}`)).toBe(await length('both.wav'))
  const wrong = await oaken('render', inFolder('both.json'), '-o', inFolder('t.wav'), '--tail', 'long')
  expect(wrong).toMatchObject({ status: 2 })
  expect(wrong.stderr).toContain('--tail takes none, audible, or seconds from 0 to 60, not “long”')
})

test('render: samples over full scale are counted on standard error, and a script can fail on them', async () => {
  const loud = {
    ...session,
    regions: { r1: { ...session.regions.r1!, clipGainDb: 0 } },
    tracks: { t: { ...session.tracks.t!, volumeDb: 12 } },
    mix: { ...session.mix, volumeDb: 12 },
  }
  fs.writeFileSync(inFolder('loud.json'), JSON.stringify(loud))
  const args = ['render', inFolder('loud.json'), '-o', inFolder('loud.wav')]
  // 0.1 at +24 dB, panned R50: sin(67.5°) of it on the right.
  const peak = 0.1 * 10 ** (24 / 20) * Math.sin((0.75 * Math.PI) / 2)
  expect(20 * Math.log10(peak)).toBeCloseTo(3.31, 2)
  const { status, stderr } = await oaken(...args, '--format', 'wav16')
  expect(status).toBe(0)
  expect(stderr).toMatch(
    /^oaken: \d+ samples pass full scale \(peak \+3\.31 dBFS\); they were limited to it\n$/,
  )
  expect((await oaken(...args, '--format', 'wav16', '--fail-on-clip')).status).toBe(1)
  expect((await oaken(...args, '--format', 'wav32f')).stderr).toMatch(/32-bit float keeps them/)
  const right = (await samplesOf('loud.wav')).channels[1]!
  expect(right.reduce((most, x) => Math.max(most, x), 0)).toBeCloseTo(peak, 4)
  expect(await oaken(...args, '--track', 'Narrator', '--to', '0.1')).toMatchObject({ status: 0, stderr: '' })
})

test('render: unshaped, the level law measures the sound that is rendered', async () => {
  // The same sound on both sides, but the thread silences one of them: shaped, they have nothing in common.
  const knot = (frame: number, value: number) => ({ frame, value, shape: 'hold' as const, bend: 0 })
  const side = { curve: 'linear' as const, bend: 0 }
  const crossed = {
    ...session,
    regions: {
      a: testRegion('a', { length: 48000 }),
      b: testRegion('b', { start: 24000, offset: 24000, length: 48000, gainThreadId: 'g' }),
    },
    gainThreads: { g: { id: 'g', knots: [knot(0, 0)] } },
    crossfades: { x: { id: 'x', leftId: 'a', rightId: 'b', law: 'level' as const, out: side, in: side } },
  }
  fs.writeFileSync(inFolder('crossed.json'), JSON.stringify(crossed))
  const args = ['--format', 'wav32f', '--stage', 'clip', '--unshaped']
  expect(
    (await oaken('render', inFolder('crossed.json'), '-o', inFolder('crossed.wav'), ...args)).status,
  ).toBe(0)
  // Without the thread ρ is 1, and the level law is equal gain: the sound goes on as it was.
  const { channels } = await samplesOf('crossed.wav')
  expect(channels[0]!.reduce((most, x, n) => Math.max(most, Math.abs(x - sine[n]!)), 0)).toBeLessThan(1e-6)
})

test('render: what is very long or very large is said first', async () => {
  const far = { ...session, regions: { r1: { ...session.regions.r1!, start: 5 * 3600 * 48000 } } }
  fs.writeFileSync(inFolder('far.json'), JSON.stringify(far))
  const { status, stderr } = await oaken('render', inFolder('far.json'), '-o', inFolder('far.wav'))
  expect([status, stderr]).toEqual([
    2,
    'oaken: that is 5.0 hours and up to 5.2 GB; add --yes to render it all the same\n',
  ])
  expect(fs.existsSync(inFolder('far.wav'))).toBe(false)
  const part = ['--from', '18000', '--to', '18001']
  expect((await oaken('render', inFolder('far.json'), '-o', inFolder('far.wav'), ...part)).status).toBe(0)
})

test('render: a beginning past the end is said as such', async () => {
  expect(
    (await oaken('render', inFolder('session.json'), '-o', inFolder('x.wav'), '--from', '11')).stderr,
  ).toBe('oaken: --from 11 s is past the end, which is at 2.000 s\n')
})

test('measure prints levels, loudness, correlation and DC as JSON', async () => {
  const { status, stdout } = await oaken('measure', inFolder(`audio/${sha256}.wav`))
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
  // One channel of 1 kHz at -20 dBFS peak has a mean square of -23 dB; K-weighting adds 0.69 dB there, and
  // BS.1770 takes it off again.
  expect(measured).toMatchObject({ integrated: -23, momentaryMax: -23, correlation: null })
  expect(Math.abs(measured.truePeak + 20)).toBeLessThan(0.05)
})

test('check: 0 for a good session, 1 with the rule for a broken one', async () => {
  expect(await oaken('check', inFolder('p.oaken.zip'))).toMatchObject({
    status: 0,
    stdout: 'keeps all rules\n',
  })
  const { status, stdout } = await oaken('check', inFolder('broken.json'))
  expect([status, stdout.trim()]).toEqual([1, 'ids: tracks.t = t: is missing from trackIds'])
})

test('check: 1 with a line for every sound that is missing or another', async () => {
  fs.writeFileSync(inFolder('silent.oaken.zip'), writePackage(session, new Map()))
  const other = new Map([[sha256, exactWav([sine.map((x) => x / 2)], 48000)]])
  fs.writeFileSync(inFolder('other.oaken.zip'), writePackage(session, other))
  expect(await oaken('check', inFolder('silent.oaken.zip'))).toMatchObject({
    status: 1,
    stdout: `audio: audio/${sha256}.wav (“s.wav”) is missing.\n`,
  })
  expect((await oaken('check', inFolder('other.oaken.zip'))).stdout).toMatch(
    /^audio: .* holds other sound .*\n$/,
  )
})

test('check: at most twenty faults, each on a short line that a terminal can show', async () => {
  const json = JSON.parse(JSON.stringify(session)) as { regions: Record<string, unknown> }
  for (let i = 0; i < 500; i++) json.regions[`\u001b[31m${i}${'x'.repeat(5000)}`] = {}
  fs.writeFileSync(inFolder('evil.json'), JSON.stringify(json))
  const { status, stdout } = await oaken('check', inFolder('evil.json'))
  const lines = stdout.trim().split('\n')
  expect([status, lines.length]).toEqual([1, 21])
  expect(lines.at(-1)).toBe('The first 20 faults are listed; there may be more.')
  for (const line of lines) expect(line.length).toBeLessThan(300)
  expect(stdout).not.toContain('\u001b')
  const named = { ...session, tracks: { t: { ...session.tracks.t!, name: '\u001b[2J\u009b' } } }
  fs.writeFileSync(inFolder('named.json'), JSON.stringify(named))
  const refused = await oaken('render', inFolder('named.json'), '-o', inFolder('x.wav'), '--track', 'nobody')
  expect(refused.stderr).toBe('oaken: there is no track or bus named “nobody”; there are: \\x1b[2J\\x9b\n')
})

test('stems add up to the mix; each region is a file; names are those of the strips and regions', async () => {
  const two = {
    ...session,
    trackIds: ['t', 'u'],
    tracks: {
      ...session.tracks,
      u: { ...session.tracks.t!, id: 'u', name: '../Mill: race', volumeDb: -9, pan: -0.4 },
    },
    regions: {
      ...session.regions,
      r2: { ...session.regions.r1!, id: 'r2', trackId: 'u', start: 24_000, name: 'turn' },
    },
  }
  fs.writeFileSync(inFolder('two.json'), JSON.stringify(two))
  const float = ['--format', 'wav32f'] as const
  expect((await oaken('render', inFolder('two.json'), '-o', inFolder('two.wav'), ...float)).status).toBe(0)
  const stems = await oaken('render', inFolder('two.json'), '--stems', inFolder('stems'), ...float)
  expect(
    stems.stdout
      .trim()
      .split('\n')
      .map((f) => path.basename(f)),
  ).toEqual(['01 Narrator.wav', '02 Mill race.wav'])
  const mix = await samplesOf('two.wav')
  const parts = await Promise.all(['stems/01 Narrator.wav', 'stems/02 Mill race.wav'].map(samplesOf))
  for (const c of [0, 1]) {
    expect(parts.map((part) => part.channels[c]!.length)).toEqual([
      mix.channels[c]!.length,
      mix.channels[c]!.length,
    ])
    let most = 0
    mix.channels[c]!.forEach((x, i) => {
      most = Math.max(most, Math.abs(x - parts[0]!.channels[c]![i]! - parts[1]!.channels[c]![i]!))
    })
    expect(most).toBeLessThan(1e-6)
  }
  const regions = await oaken(
    'render',
    inFolder('two.json'),
    '--regions',
    inFolder('regions'),
    '--format',
    'flac',
  )
  expect(
    regions.stdout
      .trim()
      .split('\n')
      .map((f) => path.basename(f)),
  ).toEqual(['01 r1.flac', '02 turn.flac'])
  // What does not go together is said, and nothing is written.
  for (const wrong of [
    ['--stems', inFolder('x'), '-o', inFolder('x.wav')],
    ['--stems', inFolder('x'), '--track', 'Narrator'],
    ['--regions', inFolder('x'), '--region', 'r1'],
  ])
    expect((await oaken('render', inFolder('two.json'), ...wrong)).status).toBe(2)
  expect(fs.existsSync(inFolder('x'))).toBe(false)
})

test.each([
  [2, []],
  [2, ['toString']],
  [2, ['render', 'session.json', '-o', 'x.wav', '--from', '11', '--to', '10']],
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
] as const)('exit code %p and one line on standard error for: %p', async (code, args) => {
  const { status, stderr } = await oaken(...args.map((a) => (/\.(json|wav)$/.test(a) ? inFolder(a) : a)))
  expect(status).toBe(code)
  expect(stderr).toMatch(/^oaken: [^\n]+\n$/)
})

test('the command itself: its exit code, and what it says', () => {
  const run = (...args: string[]) =>
    spawnSync(process.execPath, [path.join(__dirname, 'oaken.mjs'), ...args], { encoding: 'utf8' })
  expect(run('check', inFolder('p.oaken.zip'))).toMatchObject({
    status: 0,
    stdout: 'keeps all rules\n',
    stderr: '',
  })
  expect(run('knit')).toMatchObject({ status: 2, stdout: '' })
})

test('a mix is brought to a target by one gain, and told whether it passes; a peak over the ceiling fails', async () => {
  const out = inFolder('target.wav')
  const quiet = await oaken('render', inFolder('session.json'), '-o', out, '--target', '-30,-1', '--to', '2')
  expect(quiet).toMatchObject({ status: 0, stderr: '' })
  expect(quiet.stdout).toMatch(/^changed by [+-]\d+\.\d\d dB for −30\.0 LUFS, −1\.0 dBTP$/m)
  expect(quiet.stdout).toMatch(/^pass: loudness −30\.0 LUFS, asked −30\.0 LUFS ±0\.5$/m)
  const reread = JSON.parse((await oaken('measure', out)).stdout) as { integrated: number }
  expect(reread.integrated).toBeCloseTo(-30, 1)
  // What no gain can do is not written, and it is said what would.
  const args = (target: string, ...more: string[]) =>
    [
      'render',
      inFolder('session.json'),
      '-o',
      inFolder('loud-target.wav'),
      '--target',
      target,
      '--to',
      '2',
      ...more,
    ] as const
  const refused = await oaken(...args('-20,-20'))
  expect(refused).toMatchObject({ status: 1, stdout: '' })
  expect(refused.stderr).toMatch(
    /^oaken: one gain cannot meet −20\.0 LUFS, −20\.0 dBTP: \+\d+\.\d dB lead to a true peak of -1\d\.\d dBTP\. A ceiling of -20\.0 dBTP .* by up to \d\.\d dB; add --yes .*\n$/,
  )
  expect(fs.existsSync(inFolder('loud-target.wav'))).toBe(false)
  const stems = inFolder('target-stems')
  expect(
    (await oaken('render', inFolder('session.json'), '--stems', stems, '--target', '-20,-20')).status,
  ).toBe(1)
  expect(fs.existsSync(stems)).toBe(false)
  const loud = await oaken(...args('-20,-20', '--yes'))
  expect(loud.status).toBe(1)
  expect(loud.stdout).toMatch(/^FAIL: true peak −1\d\.\d dBTP, asked at most −20\.0 dBTP$/m)
  // Where it has to clip, what is told is what the file has.
  const clipped = await oaken(...args('0,-1', '--yes', '--format', 'wav16'))
  const file = JSON.parse((await oaken('measure', inFolder('loud-target.wav'))).stdout) as {
    integrated: number
    truePeak: number
  }
  const told = (what: string) =>
    Number(new RegExp(`${what} (−?[\\d.]+)`).exec(clipped.stdout)![1]!.replace('−', '-'))
  expect(told('loudness')).toBeCloseTo(file.integrated, 1)
  expect(told('true peak')).toBeCloseTo(file.truePeak, 1)
  expect(file.integrated).toBeLessThan(-0.5)
  const bytes = fs.readFileSync(inFolder('loud-target.wav'))
  const bext = bytes.indexOf('bext') + 8
  expect(bytes.readInt16LE(bext + 412) / 100).toBeCloseTo(file.integrated, 1)
  expect(bytes.readInt16LE(bext + 416) / 100).toBeCloseTo(file.truePeak, 1)
  // Silence, and what is too short, have no loudness.
  fs.writeFileSync(
    inFolder('silent.json'),
    JSON.stringify({ ...session, regions: { r1: { ...session.regions.r1!, muted: true } } }),
  )
  const silent = await oaken('render', inFolder('silent.json'), '-o', inFolder('s.wav'), '--target', '-23')
  expect(silent).toMatchObject({ status: 1 })
  expect(silent.stderr).toContain('silent')
  const short = await oaken(
    'render',
    inFolder('session.json'),
    '-o',
    inFolder('s.wav'),
    '--target',
    '-23',
    '--to',
    '0.3',
  )
  expect(short.stderr).toContain('0.300 s have no loudness')
  expect(fs.existsSync(inFolder('s.wav'))).toBe(false)
  expect((await oaken('render', inFolder('session.json'), '-o', out, '--target', 'loud')).status).toBe(2)
})

test('a report has the figures of the mix, its loudness over time, overloads and seams that click', async () => {
  const regions = {
    r1: testRegion('r1', { length: 240_000, clipGainDb: 12 }),
    r2: testRegion('r2', { start: 240_000, offset: 12, length: 96_000, clipGainDb: 12 }),
  }
  const loud = { ...session, regions, mix: { ...session.mix, volumeDb: 12 } }
  fs.writeFileSync(inFolder('loud.json'), JSON.stringify(loud))
  const said = await oaken('report', inFolder('loud.json'), '--target', 'ebu-r128')
  expect(said.status).toBe(1)
  const report = JSON.parse(said.stdout) as SessionReport
  // 0.1, 24 dB up, 3 dB down, to the right by half (equal power): 0.1 · 10^(21/20) · cos(π/8).
  const peak = 20 * Math.log10(0.1 * 10 ** (21 / 20) * Math.cos(Math.PI / 8))
  expect(report.peakDb).toBeCloseTo(peak, 1)
  expect(report.overloads).toHaveLength(1)
  expect(report.overloads[0]!.to).toBeCloseTo(7, 1)
  expect(report.requirements.map(({ passes }) => passes)).toEqual([false, false])
  expect(report.loudness.map(({ seconds }) => seconds)).toEqual([3, 4, 5, 6, 7])
  // A quarter of a cycle is left out at the join.
  expect(report.seams.find(({ kind }) => kind === 'join')).toMatchObject({ track: 'Narrator', seconds: 5 })
  const csv = (await oaken('report', inFolder('loud.json'), '--csv')).stdout.split('\r\n')
  expect(csv[0]).toBe('what,from,to,value,unit,note')
  expect(csv.some((line) => line.startsWith('seam that clicks,5,5,'))).toBe(true)
})

test.each([
  ['aiff', 'aiff24'],
  ['aiff', 'aiff16'],
  ['flac', 'flac16'],
] as const)('an %s file (%s) reads back as what was rendered', async (extension, format) => {
  const markers = [{ id: 'm', frame: 24_001, name: 'door, öffnen' }]
  fs.writeFileSync(inFolder('marked.json'), JSON.stringify({ ...session, markers }))
  const out = inFolder(`read-back.${extension}`)
  expect((await oaken('render', inFolder('marked.json'), '-o', out, '--format', format)).status).toBe(0)
  await oaken('render', inFolder('marked.json'), '-o', inFolder('float.wav'), '--format', 'wav32f')
  const file = (await openSoundFile(bytesOf(fs.readFileSync(out))))!
  const float = (await openSoundFile(bytesOf(fs.readFileSync(inFolder('float.wav')))))!
  expect(file).toMatchObject({ frames: 96_000, channels: 2, sampleRate: 48_000 })
  if (extension === 'aiff') expect(file.cues).toEqual([{ frame: 24_001, name: 'door, öffnen' }])
  const [is, should] = [await all(file), await all(float)]
  // TPDF dither is within one step, and rounding within another half.
  const step = format.endsWith('16') ? 2 ** -15 : 2 ** -23
  let most = 0
  for (let i = 0; i < is.length; i++) most = Math.max(most, Math.abs(is[i]! - should[i]!))
  expect(most).toBeLessThan(1.51 * step)
  expect(most).toBeGreaterThan(0.5 * step)
})

/** The samples of the left channel. */
async function all(file: SoundFile): Promise<number[]> {
  const samples: number[] = []
  for await (const block of file.blocks(1 << 14)) samples.push(...block[0]!)
  return samples
}

test('a WAV file tells its loudness in its header', async () => {
  await oaken('render', inFolder('session.json'), '-o', inFolder('told.wav'), '--to', '2')
  const file = fs.readFileSync(inFolder('told.wav'))
  const bext = file.indexOf('bext') + 8
  const told = [0, 1, 2].map((n) => file.readInt16LE(bext + 412 + 2 * n) / 100)
  const measured = JSON.parse((await oaken('measure', inFolder('told.wav'))).stdout) as Record<string, number>
  expect(told[0]).toBeCloseTo(measured.integrated!, 1)
  expect(told[1]).toBeCloseTo(measured.range!, 1)
  expect(told[2]).toBeCloseTo(measured.truePeak!, 1)
})

test('a FLAC file with a wrong checksum is refused in a line, and measured where that is asked for', async () => {
  const flac = flacOf([frame(0, 48_000, [constant(16_384, 16)])], {
    block: 48_000,
    frames: 48_000,
    channels: 1,
    depth: 16,
    md5: Array<number>(16).fill(7),
  })
  fs.writeFileSync(inFolder('wrong.flac'), flac)
  const refused = await oaken('measure', inFolder('wrong.flac'))
  expect(refused).toMatchObject({ status: 1, stdout: '' })
  expect(refused.stderr).toContain('does not have the checksum (MD5)')
  const { stdout } = await oaken('measure', inFolder('wrong.flac'), '--wrong-checksum')
  expect((JSON.parse(stdout) as { peak: number }).peak).toBeCloseTo(-6.02, 2)
})

test('sound that is too large to be a number is never written: one line says where', async () => {
  const huge = Float32Array.from({ length: 48_000 }, (_, n) => (n === 24_000 ? 3e38 : 0.1))
  const hash = samplesHash([huge])
  const loud = testSession([testRegion('r', { clipGainDb: 36 })])
  const made = { ...loud, sources: { s: { ...loud.sources.s!, frames: 48_000, sha256: hash } } }
  fs.writeFileSync(inFolder('huge.oaken'), writePackage(made, new Map([[hash, exactWav([huge], 48000)]])))
  for (const format of ['wav32f', 'wav24', 'flac']) {
    const { status, stderr } = await oaken(
      'render',
      inFolder('huge.oaken'),
      '-o',
      inFolder('huge.out'),
      '--format',
      format,
    )
    expect(status).toBe(1)
    expect(stderr).toMatch(
      /^oaken: 0\.500 s after the start of the file the sound is too large to be a number/,
    )
    expect(fs.existsSync(inFolder('huge.out'))).toBe(false)
  }
})

test('check opens sessions of earlier versions as render does, and says of newer ones that they are', async () => {
  const { busIds: _ids, buses: _buses, ...rest } = session
  const first = {
    ...rest,
    version: 1,
    tracks: Object.fromEntries(
      Object.entries(rest.tracks).map(([id, { output: _output, ...track }]) => [id, track]),
    ),
    mix: { volumeDb: 0, inserts: [], lanes: {} },
  }
  fs.writeFileSync(inFolder('first.json'), JSON.stringify(first))
  expect(await oaken('check', inFolder('first.json'))).toMatchObject({
    status: 0,
    stdout: 'keeps all rules\n',
  })
  fs.writeFileSync(inFolder('newer.json'), JSON.stringify({ ...session, version: 99 }))
  const newer = await oaken('check', inFolder('newer.json'))
  expect(newer.status).toBe(1)
  expect(newer.stderr).toContain('newer version of Oaken Thread')
})
