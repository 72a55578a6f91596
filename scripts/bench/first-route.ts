import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { gzipSync } from 'node:zlib'
import { createSite } from '@dew-trail/contract/sites'
import { openBrowser } from '../lib/browser.ts'
import { buildWeb } from '../lib/build-web.mjs'
import { callServer } from '../lib/client.ts'
import type { Entry } from '../lib/measures.ts'
import { root, startStack } from '../lib/stack.ts'

/** Scripts and styles that the first screen of an empty site loads, packed with gzip; without fonts, beside what all of the program is. */
export const firstRouteBench: Entry = {
  name: 'web.first_route',
  async run() {
    buildWeb(root)
    const stack = await startStack({ size: 0.1 })
    const { browser, close } = await openBrowser()
    try {
      await callServer(stack.server, createSite, { domain: 'kilnandtide.example', name: 'Kiln & Tide' })
      const page = await browser.newPage()
      const loaded = new Set<string>()
      page.on('response', response => {
        const { pathname } = new URL(response.url())
        if (/^\/assets\/.*\.(js|css)$/.test(pathname)) loaded.add(pathname)
      })
      await page.goto(stack.server, { waitUntil: 'networkidle0' })
      const packed = [...loaded].map(path => gzipSync(readFileSync(join(root, 'web/dist', path))).length)
      return [
        {
          name: 'web.first_route',
          value: packed.reduce((sum, size) => sum + size, 0) / 1000,
          unit: 'kB',
          better: 'lower',
        },
      ]
    } finally {
      await close()
      await stack.close()
    }
  },
}
