import { fileURLToPath } from 'node:url'
import react from '@vitejs/plugin-react'
import { defineConfig } from 'vite'

export default defineConfig(({ mode }) => ({
  plugins: [react()],
  worker: { format: 'es' },
  // See the modules: workbooks are packed without workers of the library's own, and nothing is checked against schemas in the browser.
  resolve: {
    alias: [
      { find: /^fflate$/, replacement: fileURLToPath(new URL('src/rows/zip-in-place.ts', import.meta.url)) },
      { find: /^zod$/, replacement: fileURLToPath(new URL('src/api/no-schemas.ts', import.meta.url)) },
    ],
  },
  server: { proxy: { '/api': 'http://127.0.0.1:4600' } },
  // Fonts as files: the content security policy lets none in as data.
  build:
    mode === 'bench'
      ? { outDir: 'dist-bench', emptyOutDir: true, assetsInlineLimit: 0, rollupOptions: { input: 'bench/index.html' } }
      : { outDir: 'dist', emptyOutDir: true, assetsInlineLimit: 0 },
}))
