import { createSite, listSites } from '@dew-trail/contract/sites'
import { getFirstPage, learnStrengths, startWeighing } from '@dew-trail/contract/weigh'
import { calibrationError, reliabilityOf } from '@dew-trail/core/results/learn-strength'
import { callServer, finishJob, importPhrases, keywordRows } from '../lib/client.ts'
import type { Entry } from '../lib/measures.ts'
import { startStack } from '../lib/stack.ts'
import { linkersOf, publishPages, type TrueSite, truthOf } from './publishing.ts'
import { splitKeywords } from './split-keywords.ts'

const learntFrom = 400
/**
 * Pages each site publishes, a few at a time, so that they do not stand in each other's way. Few pages would look ill calibrated by chance
 * alone: of 900 a perfect forecast has an error of about 0.03, of 450 one of 0.04.
 */
const published = 300
const atATime = 12
/** How long a page stands before it is looked for: engines take weeks to place what is new, and a chance is told of where it comes to stand. */
const settledDays = 60

/**
 * Whether what the program says of a new page comes true: the stand-in lets the own site and two others publish pages for keywords that
 * strengths were not learnt from, and the engine is asked where they land.
 */
export const chancesScore = (seed: number): Entry => ({
  name: 'chance.ece',
  gives: ['chance.ece', 'levels.kept'],
  async run() {
    const stack = await startStack({ seed })
    try {
      const { server, truth } = stack
      const ask = truthOf(truth)
      const sites = await ask<TrueSite[]>('/sites')
      const others = sites
        .filter(site => !site.network && site.language === 'en' && site.domain !== 'kilnandtide.example')
        .sort((a, b) => a.authority - b.authority)
      const domains = [
        'kilnandtide.example',
        ...[0.35, 0.75].map(share => others[Math.floor(share * others.length)]!.domain),
      ]
      const phrases = await ask<string[]>('/keywords?language=en&every=1')
      const { training, held } = splitKeywords(phrases, learntFrom, published)
      const linkers = await linkersOf(ask, sites)
      const predictions: Array<[chance: number, happened: boolean]> = []
      const byMean: typeof predictions = []
      let [comfortable, kept] = [0, 0]
      for (const domain of domains) {
        const { id: siteId, markets } = await callServer(server, createSite, { domain, name: domain })
        const marketId = markets[0]!.id
        await importPhrases(server, siteId, marketId, training, true)
        const { jobId } = await callServer(server, learnStrengths, { siteId, marketId })
        await finishJob(server, jobId)
        await importPhrases(server, siteId, marketId, held, true)
        const site = (await callServer(server, listSites, {})).find(each => each.id === siteId)!
        const own = site.levels.find(each => each.marketId === marketId)!
        const isHeld = new Set(held)
        const ids = (await keywordRows(server, siteId, marketId))
          .filter(row => isHeld.has(String(row.phrase)))
          .map(row => row.id)
        const weigh = async (keywordIds: number[]): Promise<void> => {
          const { jobId } = await callServer(server, startWeighing, { siteId, marketId, keywordIds, again: true })
          await finishJob(server, jobId!)
        }
        await weigh(ids)
        const publishing = { domain, linkers: linkers(domain), daysAgo: settledDays }
        // In one order, whatever the order in which they were weighed: it decides which pages link to which.
        const before = (await keywordRows(server, siteId, marketId))
          .filter(row => isHeld.has(String(row.phrase)) && row.chance !== null)
          .sort((a, b) => held.indexOf(String(a.phrase)) - held.indexOf(String(b.phrase)))
        for (let from = 0; from < before.length; from += atATime) {
          const rows = before.slice(from, from + atATime)
          const addresses = await publishPages(
            ask,
            { ...publishing, from },
            rows.map(row => String(row.phrase)),
          )
          await weigh(rows.map(row => row.id))
          for (const [i, row] of rows.entries()) {
            const page = await callServer(server, getFirstPage, { siteId, keywordId: row.id, marketId })
            const reached = page!.results.some(result => result.url === addresses[i])
            predictions.push([row.chance as number, reached])
            const standings = page!.results.flatMap(result => result.siteLevel ?? [])
            const mean = standings.reduce((sum, standing) => sum + standing, 0) / standings.length
            byMean.push([page!.ownLevel! > mean ? 1 : 0, reached])
            if ((row.difficulty as number) <= own.comfortable) {
              comfortable++
              if (reached) kept++
            }
          }
          await ask('/unpublish')
        }
      }
      const table = reliabilityOf(predictions)
      return [
        {
          name: 'chance.ece',
          value: calibrationError(table),
          unit: `over ${predictions.length} new pages: ${table.map(bin => `${bin.predicted.toFixed(2)}→${bin.happened.toFixed(2)} (${bin.count})`).join(' ')}`,
          better: 'lower',
          reference: {
            what: 'yes where the site stands above the mean of the page, else no',
            value: calibrationError(reliabilityOf(byMean)),
          },
        },
        {
          name: 'levels.kept',
          value: comfortable ? kept / comfortable : Number.NaN,
          unit: `of ${comfortable} keywords called comfortable the new page reached the first page`,
          better: 'higher',
        },
      ]
    } finally {
      await stack.close()
    }
  },
})
