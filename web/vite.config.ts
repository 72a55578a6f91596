import { fileURLToPath } from 'node:url'
import react from '@vitejs/plugin-react'
import { defineConfig, type Plugin } from 'vite'

/**
 * Names what the program's main module loads in the page itself, where browsers find it while they read: added by a script, as the build
 * does for a module that is imported later, these fifty links hold the first drawing up by 40 ms.
 */
const mainInThePage: Plugin = {
  name: 'main-in-the-page',
  transformIndexHtml: {
    order: 'post',
    handler(html, { bundle }) {
      const chunks = Object.values(bundle ?? {}).filter(each => each.type === 'chunk')
      const main = chunks.find(chunk => chunk.name === 'main')
      const files = new Set<string>()
      const add = (file: string): void => {
        if (files.has(file)) return
        files.add(file)
        for (const each of chunks.find(chunk => chunk.fileName === file)?.imports ?? []) add(each)
      }
      if (main) add(main.fileName)
      return [...files]
        .filter(file => !html.includes(file))
        .map(file => ({ tag: 'link', attrs: { rel: 'modulepreload', href: `/${file}` }, injectTo: 'head' as const }))
    },
  },
}

export default defineConfig(({ mode }) => ({
  plugins: [react(), mainInThePage],
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
      : {
          outDir: 'dist',
          emptyOutDir: true,
          assetsInlineLimit: 0,
          modulePreload: {
            resolveDependencies: (file, dependencies) =>
              /\/main-[^/]*\.js$/.test(file) ? dependencies.filter(each => each.endsWith('.css')) : dependencies,
          },
        },
}))
