import { createSite, getTrail } from '@dew-trail/contract/sites'
import { startWeighing } from '@dew-trail/contract/weigh'
import { callServer, finishJob, importPhrases } from '../lib/client.ts'
import type { Entry } from '../lib/measures.ts'
import { startStack } from '../lib/stack.ts'

const count = 1_000

/** A thousand keywords from the order to weigh them to the last row, with nothing known of sites and pages before. */
export const weighBench: Entry = {
  name: 'weigh.1000',
  gives: ['weigh.1000', 'weigh.first'],
  async run() {
    const stack = await startStack()
    try {
      const phrases = (await (await fetch(`${stack.truth}/keywords?language=en&every=1`)).json()) as string[]
      const every = Math.floor(phrases.length / count)
      const sample = phrases.filter((_, i) => i % every === 0).slice(0, count)
      const site = await callServer(stack.server, createSite, { domain: 'kilnandtide.example', name: 'Kiln & Tide' })
      const marketId = site.markets[0]!.id
      await importPhrases(stack.server, site.id, marketId, sample, true)
      const startedMs = performance.now()
      const { jobId } = await callServer(stack.server, startWeighing, { siteId: site.id, marketId })
      let firstMs = 0
      while (!firstMs) {
        if ((await callServer(stack.server, getTrail, { siteId: site.id })).weighed) firstMs = performance.now()
        else await new Promise(resolve => setTimeout(resolve, 20))
      }
      await finishJob(stack.server, jobId!)
      return [
        { name: 'weigh.1000', value: (performance.now() - startedMs) / 1000, unit: 's', better: 'lower' },
        { name: 'weigh.first', value: (firstMs - startedMs) / 1000, unit: 's to the first row', better: 'lower' },
      ]
    } finally {
      await stack.close()
    }
  },
}
