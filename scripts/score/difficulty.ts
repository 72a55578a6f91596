import { createSite } from '@dew-trail/contract/sites'
import { getFirstPage, startWeighing } from '@dew-trail/contract/weigh'
import { callServer, finishJob, importPhrases, keywordRows } from '../lib/client.ts'
import { type Entry, spearman } from '../lib/measures.ts'
import { startStack } from '../lib/stack.ts'

const sampleSize = 240

export const difficultyScore = (seed: number): Entry => ({
  name: 'difficulty.spearman',
  async run() {
    const stack = await startStack({ seed })
    try {
      const { server, truth } = stack
      const site = await callServer(server, createSite, { domain: 'kilnandtide.example', name: 'Kiln & Tide' })
      const marketId = site.markets[0]!.id
      const phrases = (await (await fetch(`${truth}/keywords?language=en&every=1`)).json()) as string[]
      const sample = phrases.filter((_, i) => i % Math.floor(phrases.length / sampleSize) === 0).slice(0, sampleSize)
      await importPhrases(server, site.id, marketId, sample, true)
      const { jobId } = await callServer(server, startWeighing, { siteId: site.id, marketId })
      await finishJob(server, jobId!)
      const rows = (await keywordRows(server, site.id, marketId)).filter(row => row.difficulty !== null)
      const hurdles = (await (
        await fetch(`${truth}/hurdles`, { method: 'POST', body: JSON.stringify(rows.map(row => row.phrase)) })
      ).json()) as Array<{ hurdle: number | null }>
      const truths = hurdles.map(each => each.hurdle ?? Number.NaN)
      const means: number[] = []
      for (const row of rows) {
        const page = await callServer(server, getFirstPage, { siteId: site.id, keywordId: row.id, marketId })
        const known = page!.results.map(result => result.siteStanding).filter(value => value !== null)
        means.push(known.reduce((sum, value) => sum + value, 0) / Math.max(1, known.length))
      }
      const estimates = rows.map(row => row.difficulty as number)
      // Difficulty stops at 0 and 100; ties there cost rank correlation just as they cost the user.
      return [
        {
          name: 'difficulty.spearman',
          value: spearman(estimates, truths),
          unit: 'rank correlation with the true hurdle',
          better: 'higher',
          reference: { what: 'mean site standing alone', value: spearman(means, truths) },
        },
      ]
    } finally {
      await stack.close()
    }
  },
})
