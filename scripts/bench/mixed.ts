import { keepKeywords } from '@dew-trail/contract/gather'
import { listPages } from '@dew-trail/contract/plan'
import { createSite, getTrail, listSites } from '@dew-trail/contract/sites'
import { checkNow, listPositions, listVisibility, trackKeywords } from '@dew-trail/contract/track'
import { getFirstPage, startWeighing } from '@dew-trail/contract/weigh'
import { listJobs } from '@dew-trail/contract/jobs'
import { callServer, finishJob, importPhrases, keywordRows } from '../lib/client.ts'
import { type Entry, quantile } from '../lib/measures.ts'
import { startStack } from '../lib/stack.ts'

const readers = 20
const forMs = 30_000

/** Twenty readers at once over the questions that the screens ask most. */
export const mixedBench: Entry = {
  name: 'server.mixed',
  async run() {
    const stack = await startStack()
    try {
      const { server } = stack
      const phrases = (await (await fetch(`${stack.truth}/keywords?language=en&every=5`)).json()) as string[]
      const site = await callServer(server, createSite, { domain: 'kilnandtide.example', name: 'Kiln & Tide' })
      const [siteId, marketId] = [site.id, site.markets[0]!.id]
      await importPhrases(server, siteId, marketId, phrases.slice(0, 3_000), false)
      const ids = (await keywordRows(server, siteId, marketId)).map(row => row.id)
      const weighed = ids.slice(0, 150)
      await callServer(server, keepKeywords, { siteId, keywordIds: weighed, kept: true })
      const { jobId } = await callServer(server, startWeighing, { siteId, marketId, keywordIds: weighed })
      await finishJob(server, jobId!)
      await callServer(server, trackKeywords, { siteId, keywordIds: weighed, tracked: true })
      const check = await callServer(server, checkNow, { siteId })
      await finishJob(server, check.jobId)
      // Weighing has strengths learnt, which is no reading.
      for (const job of await callServer(server, listJobs, { siteId })) await finishJob(server, job.id)
      const questions: Array<() => Promise<unknown>> = [
        () => callServer(server, listSites, {}),
        () => callServer(server, getTrail, { siteId }),
        () => callServer(server, listJobs, { siteId }),
        () => callServer(server, listPages, { siteId, marketId, today: '2026-11-20' }),
        () => callServer(server, listPositions, { siteId, marketId }),
        () => callServer(server, listVisibility, { siteId, marketId }),
        () =>
          callServer(server, getFirstPage, { siteId, marketId, keywordId: weighed[Math.floor(Math.random() * 150)]! }),
        async () => (await fetch(`${server}/api/sites/${siteId}/keywords?marketId=${marketId}&since=0`)).text(),
      ]
      const times: number[] = []
      const until = performance.now() + forMs
      const read = async (reader: number): Promise<void> => {
        for (let i = reader; performance.now() < until; i++) {
          const startedMs = performance.now()
          await questions[i % questions.length]!()
          times.push(performance.now() - startedMs)
          // A person looks at what came before asking for more.
          await new Promise(resolve => setTimeout(resolve, 100))
        }
      }
      await Promise.all(Array.from({ length: readers }, (_, i) => read(i)))
      return [
        {
          name: 'server.mixed',
          value: quantile(times, 0.95),
          unit: `ms at the 95th percentile, 99th ${Math.round(quantile(times, 0.99))} ms, ${times.length} answers to ${readers} readers`,
          better: 'lower',
        },
      ]
    } finally {
      await stack.close()
    }
  },
}
