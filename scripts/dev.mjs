// Serves the sources with live reloading.
import { bin, ensureInstalled, ensureSample, run } from './lib.mjs'

ensureInstalled()
ensureSample()
run(bin('vite'), process.env.PORT ? ['--port', process.env.PORT, '--strictPort'] : [])
