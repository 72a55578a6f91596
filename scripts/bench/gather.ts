import { startGathering } from '@dew-trail/contract/gather'
import { createSite } from '@dew-trail/contract/sites'
import { openBrowser } from '../lib/browser.ts'
import { buildWeb } from '../lib/build-web.mjs'
import { callServer } from '../lib/client.ts'
import type { Entry } from '../lib/measures.ts'
import { root, startStack } from '../lib/stack.ts'

const ideas = 3_000

export const gatherBench: Entry = {
  name: 'gather.3000',
  async run() {
    buildWeb(root)
    // Three times the demo's size, since one subject of the demo has fewer ideas than that.
    const stack = await startStack({ size: 3 })
    const { browser, close } = await openBrowser()
    try {
      const site = await callServer(stack.server, createSite, { domain: 'kilnandtide.example', name: 'Kiln & Tide' })
      const page = await browser.newPage()
      await page.setViewport({ width: 1280, height: 800 })
      await page.goto(`${stack.server}/${site.id}/gather`)
      await page.waitForSelector('.empty')
      const startedMs = performance.now()
      await callServer(stack.server, startGathering, {
        siteId: site.id,
        marketId: site.markets[0]!.id,
        seeds: ['pottery wheel'],
        mostIdeas: ideas,
      })
      await page.waitForFunction(
        (wanted: number) =>
          Number(
            /([\d,.\s]+) shown of/.exec(document.querySelector('.foot')?.textContent ?? '')?.[1]?.replace(/\D/g, '') ??
              0,
          ) >= wanted,
        { polling: 50, timeout: 120_000 },
        ideas,
      )
      return [
        {
          name: 'gather.3000',
          value: (performance.now() - startedMs) / 1000,
          unit: 's until 3,000 ideas are on screen',
          better: 'lower',
        },
      ]
    } finally {
      await close()
      await stack.close()
    }
  },
}
