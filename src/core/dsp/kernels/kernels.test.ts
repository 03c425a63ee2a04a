import { execFileSync } from 'node:child_process'
import path from 'node:path'
import fc from 'fast-check'
import { ROUGHLY } from './points'
import { plainProcessing, wasmProcessing } from './processing'
import { PROCESSING_WASM } from './processing-wasm'
import { STRIP_WASM } from './strip-wasm'

const root = path.join(__dirname, '../../../..')

test.each([
  ['strip', STRIP_WASM],
  ['processing', PROCESSING_WASM],
])(
  'what is shipped of the kernel “%s” is what its source compiles to (npm run kernels writes it)',
  (name, shipped) => {
    const said = execFileSync(
      process.execPath,
      [
        '-e',
        `import('./scripts/kernels.mjs').then((k) => process.stdout.write(k.compiledKernel('${name}')))`,
      ],
      { cwd: root, encoding: 'utf8' },
    )
    expect(said).toBe(shipped)
  },
)

const [plain, wasm] = [plainProcessing(), wasmProcessing()!]

test('rough points are within their bound of what they are', () => {
  const halves = Array.from({ length: 4 }, (_, p) =>
    Float64Array.from(
      { length: 32 },
      (_unused, t) => Math.sin(3 + p + t * t) / (2 + Math.abs(t - 15.5) * Math.abs(t - 15.5)),
    ),
  )
  for (let t = 0; t < 16; t++) halves[3]![31 - t] = halves[3]![t]!
  const taps = [...halves, ...halves.slice(0, 3).reverse()].map((row, p) => (p > 3 ? row.toReversed() : row))
  fc.assert(
    fc.property(
      fc.integer({ min: 0, max: 15 }),
      fc.integer({ min: 1, max: 16 }),
      fc.integer({ min: 1, max: 1000 }),
      (first, count, seed) => {
        const end = Math.min(16, first + count)
        const most = [plain, wasm].map(({ points: { rough } }) => {
          for (let i = 0; i < rough.window.length; i++)
            rough.window[i] = Math.sin(i * i * seed) * (1 + (i % 7))
          rough.use(taps)
          rough.measure()
          return rough.fill(first, end)
        })
        expect(most[0]).toBe(most[1])
        const [a, b] = [plain.points.rough, wasm.points.rough]
        expect(a.samples).toEqual(b.samples)
        expect(a.sizes.slice(7 * first, 7 * end)).toEqual(b.sizes.slice(7 * first, 7 * end))
        const table = wasm.points.keep(taps)
        for (let i = 0; i < a.window.length; i++) wasm.points.window[i] = a.window[i]!
        const bound = ROUGHLY * Math.max(...a.samples)
        for (let part = first; part < end; part++)
          for (let p = 0; p < 7; p++) {
            wasm.points.fill(table, 1 + 16 * part, 17 + 16 * part, p, p)
            const exact = Math.max(...wasm.points.sizes[p]!.subarray(1 + 16 * part, 17 + 16 * part))
            if (!(Math.abs(exact - a.sizes[7 * part + p]!) <= bound))
              throw new Error(`part ${part}, phase ${p}`)
          }
      },
    ),
  )
})
