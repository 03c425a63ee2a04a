import os from 'node:os'
import path from 'node:path'
import { defineConfig } from '@playwright/test'

const port = Number(process.env.E2E_PORT ?? 4317)

export default defineConfig({
  testDir: '.',
  outputDir: '../test-results',
  // A machine that other work shares can be many times slower for a while, or stand still for seconds. What is
  // waited for ends when it is there: a longer wait costs a run that passes nothing.
  timeout: 600_000,
  expect: { timeout: 60_000 },
  workers: 2,
  fullyParallel: true,
  retries: 0,
  reporter: process.env.E2E_JSON ? [['line'], ['json', { outputFile: process.env.E2E_JSON }]] : [['line']],
  use: {
    // An element that is not there fails the test, in place of holding it up to its end.
    actionTimeout: 60_000,
    baseURL: `http://localhost:${port}`,
    viewport: { width: 1280, height: 800 },
    launchOptions: {
      executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium',
      args: [
        '--no-sandbox',
        '--disable-gpu',
        '--disable-quic',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
        '--autoplay-policy=no-user-gesture-required',
      ],
    },
  },
  webServer: {
    command: 'node ../node_modules/tsx/dist/cli.mjs server.ts',
    env: { PORT: String(port), DROP_OFF: path.join(os.tmpdir(), `oaken-drop-off-${port}`) },
    port,
    reuseExistingServer: false,
    stdout: 'ignore',
  },
})
