import fs from 'node:fs/promises'
import path from 'node:path'
import { parseArgs, type ParseArgsConfig } from 'node:util'
import { MOST_BREACHES } from '../src/core/model/check/rules'
import { shownText } from '../src/core/model/check/shown'
import { MOST_TAIL_SECONDS, type Stage, type Tail } from '../src/core/render'
import { check } from './check'
import { UsageError } from './failure'
import { measureFile } from './measure'
import {
  EBU_R128,
  judge,
  TARGET_DBTP,
  TARGET_LUFS,
  typedTarget,
  type Target,
} from '../src/core/measure/target'
import { outputFormats, type OutputFormat } from './output'
import { terminalProgress } from './progress'
import { reportCsv } from '../src/core/suggest/report'
import { report } from './report'
import { clipSentence, faultSentence, render, renderParts, type RenderOptions } from './render'
import { seams } from './seams'

const usage = `Usage:
  oaken render  SESSION.oaken|session.json -o mix.wav [--format wav16|wav24|wav32f|flac|flac16|aiff24|aiff16]
                [--from S] [--to S] [--tail none|audible|SECONDS] [--target ebu-r128|LUFS|LUFS,DBTP]
                [--track NAME] [--region ID] [--stage clip|insert|track|mix] [--unshaped] [--seed N]
                [--fail-on-clip] [--yes]
  oaken render  SESSION --stems DIR | --regions DIR [the options above]
                a file for each strip that feeds the mix, or for each region
  oaken measure FILE.wav … [--wrong-checksum]
                JSON: peak, true peak, RMS, loudness, range, correlation, DC; a FLAC file whose
                MD5 is wrong is refused unless you say so
  oaken check   SESSION             the rules and the audio; exits 1 and lists what breaks
  oaken seams   SESSION             JSON: every edge and join, its jump, and what mends it
  oaken report  SESSION [--target …] [--csv]
                JSON, or a table: loudness over time, peaks, overloads, seams that are left
  oaken demo    DIR                 writes the sample session as a package`

/** The most characters of a line about something that is wrong; what it quotes can be of any length. */
const MOST_CHARACTERS = 290

const say = (text: string) => console.log(text)

/** JSON without characters that a terminal would act on. */
const json = (value: unknown) =>
  JSON.stringify(value, null, 2).replace(
    /[\u007f-\u009f\u2028\u2029\u202a-\u202e\u2066-\u2069]/g,
    (character) => `\\u${character.charCodeAt(0).toString(16).padStart(4, '0')}`,
  )

/** Joins an option and a negative number after it, "--target -23,-1", which would be taken for another option. */
function withNegatives(args: readonly string[]): string[] {
  const joined: string[] = []
  for (const arg of args)
    if (/^-[\d.]/.test(arg) && /^--[a-z-]+$/.test(joined.at(-1) ?? '')) joined.push(`${joined.pop()!}=${arg}`)
    else joined.push(arg)
  return joined
}

/** Parses the arguments of one command; what does not fit is a `UsageError`. */
function parsed<T extends ParseArgsConfig>(config: T) {
  try {
    return parseArgs({ ...config, ...(config.args ? { args: withNegatives(config.args) } : {}) } as T)
  } catch (error) {
    throw new UsageError((error as Error).message.split('\n')[0]!)
  }
}

function numberOption(value: string | undefined, name: string, whole = false): number | null {
  if (value === undefined) return null
  const n = Number(value)
  if (value.trim() === '' || !Number.isFinite(n) || n < 0 || (whole && !Number.isInteger(n)))
    throw new UsageError(`${name} takes ${whole ? 'a whole number' : 'seconds'} from 0, not “${value}”`)
  return n
}

function oneOf<T extends string>(value: string | undefined, name: string, allowed: readonly T[]): T | null {
  if (value === undefined) return null
  const found = allowed.find((a) => a === value)
  if (!found) throw new UsageError(`${name} takes ${allowed.join(', ')}, not “${value}”`)
  return found
}

function single(positionals: readonly string[], what: string): string {
  if (positionals.length !== 1) throw new UsageError(`give one ${what}; ${positionals.length} were given`)
  return positionals[0]!
}

/** The format that the end of a file's name asks for. */
const IMPLIED: Readonly<Record<string, OutputFormat>> = {
  '.flac': 'flac24',
  '.aif': 'aiff24',
  '.aiff': 'aiff24',
}

/** A target as it is typed: "ebu-r128", or LUFS and perhaps dBTP, such as "-16,-1". */
function targetOption(value: string | undefined): Target | null {
  if (value === undefined) return null
  if (value === 'ebu-r128') return EBU_R128
  const [loudness = NaN, ceiling = -1, more] = value
    .split(',')
    .map((part) => (part.trim() ? Number(part) : NaN))
  const within = (n: number, { min, max }: { min: number; max: number }) => n >= min && n <= max
  if (more !== undefined || !within(loudness, TARGET_LUFS) || !within(ceiling, TARGET_DBTP))
    throw new UsageError(
      `--target takes ebu-r128, or LUFS from ${TARGET_LUFS.min} to 0 and perhaps dBTP from ${TARGET_DBTP.min} to 0, such as -16,-1; not “${value}”`,
    )
  return typedTarget(loudness, ceiling)
}

/** What a file has after the last region, as it is typed. */
function tailOption(value: string | undefined): Tail {
  if (value === undefined || value === 'audible') return 'audible'
  if (value === 'none') return 'none'
  const seconds = value.trim() === '' ? NaN : Number(value)
  if (!(seconds >= 0 && seconds <= MOST_TAIL_SECONDS))
    throw new UsageError(
      `--tail takes none, audible, or seconds from 0 to ${MOST_TAIL_SECONDS}, not “${value}”`,
    )
  return seconds
}

const stages: readonly Stage[] = ['clip', 'insert', 'track', 'mix']

const commands: Record<string, (args: string[]) => Promise<number>> = {
  async render(args) {
    const { values, positionals } = parsed({
      args,
      allowPositionals: true,
      options: {
        output: { type: 'string', short: 'o' },
        stems: { type: 'string' },
        regions: { type: 'string' },
        format: { type: 'string' },
        from: { type: 'string' },
        to: { type: 'string' },
        track: { type: 'string' },
        region: { type: 'string' },
        stage: { type: 'string' },
        unshaped: { type: 'boolean', default: false },
        tail: { type: 'string' },
        seed: { type: 'string' },
        yes: { type: 'boolean', default: false },
        target: { type: 'string' },
        'fail-on-clip': { type: 'boolean', default: false },
      },
    } as const)
    const file = single(positionals, 'session')
    const targets = [values.output, values.stems, values.regions].filter((target) => target !== undefined)
    if (targets.length !== 1)
      throw new UsageError('say where to write with one of -o FILE, --stems DIR and --regions DIR')
    const parts = values.stems !== undefined ? 'stems' : values.regions !== undefined ? 'regions' : null
    if (values.tail !== undefined && values.to !== undefined)
      throw new UsageError('--to says where the file ends: --tail does not go with it')
    if (parts && values.region !== undefined) throw new UsageError(`--region does not go with --${parts}`)
    if (parts === 'stems' && (values.track !== undefined || values.stage !== undefined))
      throw new UsageError('stems are of the whole mix: --track and --stage do not go with --stems')
    const output = targets[0]!
    const implied = IMPLIED[path.extname(output).toLowerCase()] ?? 'wav24'
    const target = targetOption(values.target)
    const format = oneOf(values.format, '--format', outputFormats) ?? implied
    const options: RenderOptions = {
      output,
      format,
      from: numberOption(values.from, '--from'),
      to: numberOption(values.to, '--to'),
      track: values.track ?? null,
      region: values.region ?? null,
      stage: oneOf(values.stage, '--stage', stages),
      unshaped: values.unshaped ?? false,
      tail: tailOption(values.tail),
      seed: numberOption(values.seed, '--seed', true) ?? 1,
      yes: values.yes ?? false,
      target,
      tell: terminalProgress(process.stderr),
    }
    const rendered = parts ? await renderParts(file, parts, options) : [await render(file, options)]
    let clips = false
    let misses = false
    for (const one of rendered) {
      const sentence = clipSentence(one, format)
      clips ||= sentence !== null
      const of = 'file' in one ? `${one.file}: ` : ''
      for (const line of [faultSentence(one), sentence]) if (line) console.error(`oaken: ${of}${line}`)
      if ('file' in one && typeof one.file === 'string') say(one.file)
      if (!target) continue
      const change = `${one.gainDb < 0 ? '' : '+'}${one.gainDb.toFixed(2)} dB`
      say(`${of}changed by ${change} for ${target.name}`)
      for (const { what, asked, is, passes } of judge(target, one.measured)) {
        say(`${of}${passes ? 'pass' : 'FAIL'}: ${what.toLowerCase()} ${is}, asked ${asked}`)
        misses ||= !passes
      }
    }
    return misses || (clips && values['fail-on-clip']) ? 1 : 0
  },
  async measure(args) {
    const { values, positionals } = parsed({
      args,
      allowPositionals: true,
      options: { 'wrong-checksum': { type: 'boolean', default: false } },
    } as const)
    if (positionals.length === 0) throw new UsageError('give at least one WAV file')
    const results = []
    for (const file of positionals) results.push(await measureFile(file, values['wrong-checksum']))
    say(json(results.length === 1 ? results[0] : results))
    return 0
  },
  async check(args) {
    const { positionals } = parsed({ args, allowPositionals: true, options: {} } as const)
    const faults = await check(single(positionals, 'session'))
    for (const fault of faults) say(fault)
    if (faults.length === MOST_BREACHES)
      say(`The first ${MOST_BREACHES} faults are listed; there may be more.`)
    if (faults.length === 0) say('keeps all rules')
    return faults.length === 0 ? 0 : 1
  },
  async seams(args) {
    const { positionals } = parsed({ args, allowPositionals: true, options: {} } as const)
    say(json(await seams(single(positionals, 'session'))))
    return 0
  },
  async report(args) {
    const { values, positionals } = parsed({
      args,
      allowPositionals: true,
      options: { target: { type: 'string' }, csv: { type: 'boolean', default: false } },
    } as const)
    const tell = terminalProgress(process.stderr)
    const made = await report(single(positionals, 'session'), targetOption(values.target), tell)
    say(values.csv ? reportCsv(made) : json(made))
    return made.requirements.every(({ passes }) => passes) ? 0 : 1
  },
  async demo(args) {
    const { positionals } = parsed({ args, allowPositionals: true, options: {} } as const)
    const folder = single(positionals, 'folder')
    const { tideMillPackage } = await import('../demo/tide-mill')
    const file = path.join(folder, 'tide-mill.oaken.zip')
    await fs.mkdir(folder, { recursive: true })
    await fs.writeFile(file, await tideMillPackage())
    console.log(file)
    return 0
  },
}

/** Runs a command line; returns the exit code: 0, 1 for bad input, 2 for bad use. */
export async function main(args: readonly string[]): Promise<number> {
  const [name, ...rest] = args
  try {
    if (name === undefined)
      throw new UsageError(
        'name a command: render, measure, check, seams, report or demo (oaken --help shows how)',
      )
    if (name === '--help' || name === '-h' || name === 'help') {
      console.log(usage)
      return 0
    }
    const command = Object.hasOwn(commands, name) ? commands[name] : undefined
    if (!command)
      throw new UsageError(`there is no command “${name}”; there are ${Object.keys(commands).join(', ')}`)
    return await command(rest)
  } catch (error) {
    const line = error instanceof Error ? error.message : String(error)
    console.error(`oaken: ${shownText(line.replace(/\s*\n\s*/g, ' '), MOST_CHARACTERS)}`)
    return error instanceof UsageError ? 2 : 1
  }
}
