import fs from 'node:fs'
import os from 'node:os'
import path from 'node:path'
import { chromium, expect, type BrowserContext, type LaunchOptions, type Page } from '@playwright/test'

/** A browser with a profile on disk that is really killed, as by the system or a power button. */
export class KilledBrowser {
  readonly folder = fs.mkdtempSync(path.join(os.tmpdir(), 'oaken-kill-'))
  private context: BrowserContext | null = null

  constructor(
    private readonly options: LaunchOptions & { baseURL?: string | undefined },
    /** Where the profile lies. */
    readonly profile = '',
  ) {
    this.profile ||= path.join(this.folder, 'profile')
  }

  /** Starts it on its profile and opens a page. */
  async start(address: string, prepare?: (page: Page) => Promise<unknown>): Promise<Page> {
    const { baseURL, ...options } = this.options
    this.context = await chromium.launchPersistentContext(this.profile, {
      ...options,
      ...(baseURL ? { baseURL } : {}),
      viewport: { width: 1280, height: 800 },
      handleSIGINT: false,
    })
    const page = this.context.pages()[0] ?? (await this.context.newPage())
    await prepare?.(page)
    await page.goto(address)
    return page
  }

  /** Kills all of its processes at once, with SIGKILL. */
  async kill(): Promise<void> {
    for (const pid of this.processes()) {
      try {
        process.kill(pid, 'SIGKILL')
      } catch {
        // It ended by itself meanwhile.
      }
    }
    await expect.poll(() => this.processes().length).toBe(0)
    // What Playwright still believes in is let go.
    await this.context?.close().catch(() => undefined)
    this.context = null
    fs.rmSync(path.join(this.profile, 'SingletonLock'), { force: true })
  }

  private processes(): number[] {
    return fs
      .readdirSync('/proc')
      .filter((name) => /^\d+$/.test(name))
      .filter((pid) => {
        try {
          return fs.readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes(this.profile)
        } catch {
          return false
        }
      })
      .map(Number)
  }

  async end(): Promise<void> {
    await this.kill()
    fs.rmSync(this.folder, { recursive: true, force: true })
  }
}
