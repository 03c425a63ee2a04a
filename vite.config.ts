import fs from 'node:fs'
import tailwindcss from '@tailwindcss/vite'
import react from '@vitejs/plugin-react'
import { defineConfig, type Plugin } from 'vite'
import { licences } from './scripts/licences.mjs'

const isolation = {
  'Cross-Origin-Opener-Policy': 'same-origin',
  'Cross-Origin-Embedder-Policy': 'require-corp',
}

/** Lists the parts of the build in a file, so that the page can load them before they are needed (`engine/worker/load-ahead.ts`). */
const listParts: Plugin = {
  name: 'list-parts',
  generateBundle(_options, bundle) {
    const parts = Object.keys(bundle)
      .filter((name) => /\.(js|wasm)$/.test(name))
      .map((name) => `/${name}`)
    this.emitFile({ type: 'asset', fileName: 'parts.json', source: JSON.stringify(parts) })
  },
}

// Fonts and styles are no modules, and kernels are compiled with a part of the compiler's own library.
const { inPage, inWorkers } = licences(fs.readFileSync('LICENSE', 'utf8'), [
  'assemblyscript',
  '@fontsource-variable/atkinson-hyperlegible-mono',
  '@fontsource-variable/atkinson-hyperlegible-next',
  'tailwindcss',
])

export default defineConfig({
  plugins: [react(), tailwindcss(), listParts, inPage],
  // The server puts a fresh nonce in its place with every page.
  html: { cspNonce: 'CSP_NONCE' },
  worker: { format: 'es', plugins: () => [inWorkers] },
  build: {
    outDir: 'dist/web',
    target: 'es2022',
    manifest: 'parts-of-pages.json',
    // What most parts use is one chunk: dozens of small ones compress worse, and each is a request.
    rolldownOptions: {
      output: { codeSplitting: { groups: [{ name: 'common', test: /src\//, minShareCount: 12 }] } },
    },
  },
  server: { headers: isolation },
})
