// Builds the WebAssembly form of the kernels and writes it as text beside them: `npm run kernels` after a change. A unit test
// tells when that was forgotten.
import { spawnSync } from 'node:child_process'
import fs from 'node:fs'
import os from 'node:os'
import path from 'node:path'
import { bin, ensureInstalled, inRoot } from './lib.mjs'

/** The kernels, and where the constants of each lie in its memory: behind its arrays (`*-places.ts`), at a whole page. */
const KERNELS = { strip: 131072, processing: 720896 }

export const kernelNames = Object.keys(KERNELS)

/** A compiled kernel in base 64. */
export function compiledKernel(name) {
  const file = path.join(fs.mkdtempSync(path.join(os.tmpdir(), 'oaken-kernel-')), 'kernel.wasm')
  const base = KERNELS[name]
  const { status, stderr } = spawnSync(
    bin('asc'),
    [
      `src/core/dsp/kernels/assembly/${name}.ts`,
      ...['-O3', '--noAssert', '--enable', 'simd', '--runtime', 'stub'],
      ...['--memoryBase', String(base), '--initialMemory', String(Math.ceil((base + 1) / 65536))],
      ...['--outFile', file],
    ],
    { cwd: inRoot() },
  )
  if (status !== 0) throw new Error(`the kernel “${name}” could not be built: ${stderr}`)
  return fs.readFileSync(file).toString('base64')
}

if (process.argv[1] === import.meta.filename) {
  ensureInstalled()
  for (const name of kernelNames)
    fs.writeFileSync(
      inRoot(`src/core/dsp/kernels/${name}-wasm.ts`),
      `/** The WebAssembly form of the kernel “${name}”, in base 64. Written by \`npm run kernels\`. */\n` +
        `export const ${name.toUpperCase()}_WASM =\n  '${compiledKernel(name)}'\n`,
    )
}
