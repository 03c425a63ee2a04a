// Runs every benchmark; each prints a JSON line per figure.
import { bin, ensureInstalled, run } from './lib.mjs'

ensureInstalled()
// The others are what these share.
for (const name of ['peaks.ts', 'measures.ts', 'inserts.ts', 'edit.ts', 'render.ts', 'page.ts'])
  run(bin('tsx'), [`bench/${name}`])
