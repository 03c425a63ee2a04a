// Builds the WebAssembly form of the kernels and writes it as text beside them: `npm run kernels` after a change. A unit test
// tells when that was forgotten.
import { spawnSync } from 'node:child_process'
import fs from 'node:fs'
import os from 'node:os'
import path from 'node:path'
import { bin, ensureInstalled, inRoot } from './lib.mjs'

/** The compiled kernel in base 64. */
export function compiledKernel() {
  const file = path.join(fs.mkdtempSync(path.join(os.tmpdir(), 'oaken-kernel-')), 'strip.wasm')
  const { status, stderr } = spawnSync(
    bin('asc'),
    [
      'src/core/dsp/kernels/assembly/strip.ts',
      ...['-O3', '--noAssert', '--enable', 'simd', '--runtime', 'stub'],
      ...['--memoryBase', '32768', '--initialMemory', '1', '--outFile', file],
    ],
    { cwd: inRoot() },
  )
  if (status !== 0) throw new Error(`the kernel could not be built: ${stderr}`)
  return fs.readFileSync(file).toString('base64')
}

if (process.argv[1] === import.meta.filename) {
  ensureInstalled()
  const text = compiledKernel()
  fs.writeFileSync(
    inRoot('src/core/dsp/kernels/strip-wasm.ts'),
    `/** The WebAssembly form of the strip's kernel, in base 64. Written by \`npm run kernels\`. */\nexport const STRIP_WASM =\n  '${text}'\n`,
  )
}
