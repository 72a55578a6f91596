import { keepKeywords, startGathering } from '@dew-trail/contract/gather'
import { createSite } from '@dew-trail/contract/sites'
import { checkNow, trackKeywords } from '@dew-trail/contract/track'
import type { Browser } from 'puppeteer-core'
import lighthouse, { desktopConfig } from 'lighthouse'
import { openBrowser } from '../lib/browser.ts'
import { buildWeb } from '../lib/build-web.mjs'
import { callServer, finishJob, keywordRows } from '../lib/client.ts'
import { type Entry, type Measure, median } from '../lib/measures.ts'
import { root, startStack } from '../lib/stack.ts'

const categories = ['performance', 'accessibility', 'best-practices'] as const

async function lowestScore(browser: Browser, url: string): Promise<number> {
  const port = Number(new URL(browser.wsEndpoint()).port)
  const result = await lighthouse(
    url,
    { port, logLevel: 'error', output: 'json', onlyCategories: [...categories] },
    desktopConfig,
  )
  const scores = categories.map(key => 100 * (result!.lhr.categories[key]!.score ?? 0))
  console.error(`  ${categories.map((key, i) => `${key} ${scores[i]!.toFixed(0)}`).join(', ')}`)
  return Math.min(...scores)
}
/** Lighthouse's scores (0–100, at a desk, median of three) of Gather and Track with a gathered, partly tracked seed: the lowest of its three categories that fit a program. */
export const lighthouseBench: Entry = {
  name: 'web.lighthouse',
  gives: ['web.lighthouse.gather', 'web.lighthouse.track'],
  async run() {
    buildWeb(root)
    const stack = await startStack({ size: 0.3 })
    const { browser, close } = await openBrowser()
    try {
      const site = await callServer(stack.server, createSite, { domain: 'kilnandtide.example', name: 'Kiln & Tide' })
      const marketId = site.markets[0]!.id
      const at = { siteId: site.id, marketId }
      const { jobs } = await callServer(stack.server, startGathering, {
        ...at,
        seeds: ['kiln'],
        ways: ['completions', 'ads'],
      })
      await finishJob(stack.server, jobs[0]!.jobId)
      const keywordIds = (await keywordRows(stack.server, site.id, marketId)).slice(0, 60).map(row => row.id)
      await callServer(stack.server, keepKeywords, { siteId: site.id, keywordIds, kept: true })
      await callServer(stack.server, trackKeywords, { siteId: site.id, keywordIds, tracked: true })
      await finishJob(stack.server, (await callServer(stack.server, checkNow, { siteId: site.id })).jobId)
      const measures: Measure[] = []
      for (const view of ['gather', 'track']) {
        const url = `${stack.server}/${site.id}/${view}`
        const tries: number[] = []
        for (let i = 0; i < 3; i++) tries.push(await lowestScore(browser, url))
        measures.push({ name: `web.lighthouse.${view}`, value: median(tries), unit: '', better: 'higher' })
      }
      return measures
    } finally {
      await close()
      await stack.close()
    }
  },
}
