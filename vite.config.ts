import tailwindcss from '@tailwindcss/vite'
import react from '@vitejs/plugin-react'
import { defineConfig } from 'vite'

const isolation = {
  'Cross-Origin-Opener-Policy': 'same-origin',
  'Cross-Origin-Embedder-Policy': 'require-corp',
}

export default defineConfig({
  plugins: [react(), tailwindcss()],
  // The server puts a fresh nonce in its place with every page.
  html: { cspNonce: 'CSP_NONCE' },
  worker: { format: 'es' },
  build: { outDir: 'dist/web', target: 'es2022', chunkSizeWarningLimit: 1500 },
  server: { headers: isolation },
})
