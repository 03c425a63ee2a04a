import fs from 'node:fs'
import type { Page } from '@playwright/test'

/** The processes of the browser that runs on a profile: the one that names it, and all that it began. */
function processesOf(profile: string): string[] {
  const parents = new Map<string, string>()
  let root = ''
  for (const pid of fs.readdirSync('/proc').filter((name) => /^\d+$/.test(name))) {
    try {
      const command = fs.readFileSync(`/proc/${pid}/cmdline`, 'utf8')
      if (!/chrom/.test(fs.readFileSync(`/proc/${pid}/comm`, 'utf8'))) continue
      if (command.includes(`--user-data-dir=${profile}`) && !command.includes('--type=')) root = pid
      parents.set(pid, /^PPid:\s+(\d+)/m.exec(fs.readFileSync(`/proc/${pid}/status`, 'utf8'))![1]!)
    } catch {
      // It ended meanwhile.
    }
  }
  const belongs = (pid: string | undefined): boolean =>
    pid !== undefined && (pid === root || belongs(parents.get(pid)))
  return [...parents.keys()].filter(belongs)
}

/**
 * The memory of a browser by the profile that it runs on: of all its processes in MB, their proportional set
 * size, and that of each kind of them.
 */
export function browserMemory(profile: string): { megabytes: number; kinds: Record<string, number> } {
  let sum = 0
  const kinds: Record<string, number> = {}
  for (const pid of processesOf(profile)) {
    try {
      const kilobytes = Number(
        /^Pss:\s+(\d+)/m.exec(fs.readFileSync(`/proc/${pid}/smaps_rollup`, 'utf8'))?.[1] ?? 0,
      )
      const command = fs.readFileSync(`/proc/${pid}/cmdline`, 'utf8')
      const kind =
        /--utility-sub-type=(\S+?)\0/.exec(command)?.[1] ?? /--type=(\w+)/.exec(command)?.[1] ?? 'browser'
      kinds[kind] = Math.round((kinds[kind] ?? 0) + kilobytes / 1024)
      sum += kilobytes
    } catch {
      // It ended meanwhile.
    }
  }
  return { megabytes: sum / 1024, kinds }
}

/** The same as one number. */
export const browserMegabytes = (profile: string) => browserMemory(profile).megabytes

/** The size that the browser settles at. */
export async function settled(page: Page, profile: string): Promise<number> {
  let least = Infinity
  for (let i = 0; i < 12; i++) {
    await page.waitForTimeout(1500)
    least = Math.min(least, browserMegabytes(profile))
  }
  return least
}
