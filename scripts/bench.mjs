// Runs every benchmark; each prints one JSON line.
import fs from 'node:fs'
import { bin, ensureInstalled, inRoot, run } from './lib.mjs'

ensureInstalled()
for (const name of fs
  .readdirSync(inRoot('bench'))
  .filter((n) => n.endsWith('.ts'))
  .sort())
  run(bin('tsx'), [`bench/${name}`])
