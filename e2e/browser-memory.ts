import fs from 'node:fs'
import type { Page } from '@playwright/test'

/** The memory of all processes of the browser in MB, their proportional set size, and that of each kind of them. */
export function browserMemory(): { megabytes: number; kinds: Record<string, number> } {
  let sum = 0
  const kinds: Record<string, number> = {}
  for (const pid of fs.readdirSync('/proc').filter((name) => /^\d+$/.test(name))) {
    try {
      if (!/chrom/.test(fs.readFileSync(`/proc/${pid}/comm`, 'utf8'))) continue
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
export const browserMegabytes = () => browserMemory().megabytes

/** The size that the browser settles at. */
export async function settled(page: Page): Promise<number> {
  let least = Infinity
  for (let i = 0; i < 12; i++) {
    await page.waitForTimeout(1500)
    least = Math.min(least, browserMegabytes())
  }
  return least
}
