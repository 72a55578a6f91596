import { chooseFirst } from '@dew-trail/contract/brief'
import { keepKeywords, startGathering } from '@dew-trail/contract/gather'
import { createGrouping, listGroupedKeywords } from '@dew-trail/contract/group'
import { createPage, listPages, type PlannedPage } from '@dew-trail/contract/plan'
import { createSite } from '@dew-trail/contract/sites'
import { learnStrengths, startWeighing } from '@dew-trail/contract/weigh'
import { seededDraw } from '@dew-trail/core/links/seeded-draw'
import { callServer, finishJob, keywordRows } from '../lib/client.ts'
import { type Entry, median, quantile } from '../lib/measures.ts'
import { startStack } from '../lib/stack.ts'
import { trueVisits, truthOf } from './publishing.ts'

const domain = 'kilnandtide.example'
const seeds = ['kiln', 'pottery wheel', 'glaze', 'air dry clay', 'pottery class', 'clay tools', 'ceramic mug', 'raku']
const [weighed, pool, chosenFirst, together, draws] = [900, 300, 50, 10, 200]
/** Of an 80 % range: what lies outside costs ten times the distance (interval score; Gneiting & Raftery 2007). */
const alpha = 0.2
/** A planner's rule of thumb: the share of clicks at the fifth position. */
const oneShare = 0.054

const intervalScore = (low: number, high: number, truth: number): number =>
  high - low + (2 / alpha) * (Math.max(0, low - truth) + Math.max(0, truth - high))
const mean = (values: readonly number[]): number => values.reduce((sum, each) => sum + each, 0) / values.length

/**
 * What planned pages would bring, against what they bring when each is published by itself and 90 days have passed: the keywords of a
 * grouping's themes are put on a page each, for which the site has none within 20 yet.
 */
export const planScore = (seed: number): Entry => ({
  name: 'plan.visits_error',
  gives: ['plan.visits_error', 'plan.visits_in_range', 'plan.range_score', 'plan.first_choice'],
  async run() {
    const stack = await startStack({ seed })
    try {
      const { server } = stack
      const ask = truthOf(stack.truth)
      const site = await callServer(server, createSite, { domain, name: 'Kiln & Tide' })
      const at = { siteId: site.id, marketId: site.markets[0]!.id }
      const today = new Date().toISOString().slice(0, 10)
      for (const { jobId } of (await callServer(server, startGathering, { ...at, seeds, mostIdeas: 600 })).jobs)
        await finishJob(server, jobId)
      const rows = (await keywordRows(server, at.siteId, at.marketId))
        .filter(row => typeof row.searches === 'number')
        .sort((a, b) => Number(b.searches) - Number(a.searches))
        .slice(0, weighed)
      const keywordIds = rows.map(row => row.id)
      await callServer(server, keepKeywords, { siteId: at.siteId, keywordIds, kept: true })
      await finishJob(server, (await callServer(server, startWeighing, { ...at, keywordIds })).jobId!)
      await finishJob(server, (await callServer(server, learnStrengths, at)).jobId)
      const { groupingId, jobId } = await callServer(server, createGrouping, { ...at, from: { kind: 'kept' } })
      await finishJob(server, jobId!)
      const grouped = await callServer(server, listGroupedKeywords, { siteId: at.siteId, groupingId })
      const themes = new Map<string, number[]>()
      for (const row of grouped.rows) {
        const key = row.themeId === null ? `alone ${row.id}` : `theme ${row.themeId}`
        themes.set(key, [...(themes.get(key) ?? []), row.id])
      }
      const phrases = new Map(rows.map(row => [row.id, String(row.phrase)]))
      for (const ids of themes.values())
        await callServer(server, createPage, { siteId: at.siteId, title: phrases.get(ids[0]!)!, keywordIds: ids })
      const planned = (await callServer(server, listPages, { ...at, today })).filter(
        page =>
          page.worth !== null &&
          page.low !== null &&
          page.keywords.every(keyword => keyword.position === null || keyword.position > 20),
      )
      const draw = seededDraw(seed)
      const pages = planned
        .map(page => ({ page, order: draw() }))
        .sort((a, b) => a.order - b.order)
        .slice(0, pool)
        .map(({ page }) => page)
      const leadOf = (page: PlannedPage): string => page.keywords[0]!.phrase
      const truths = await trueVisits(ask, domain, pages.map(leadOf))
      const truthOfPage = (page: PlannedPage): number => truths.get(leadOf(page))!
      const inRange = pages.filter(page => truthOfPage(page) >= page.low! && truthOfPage(page) <= page.high!).length
      const all = pages.map(truthOfPage)
      const [low, high] = [quantile(all, 0.1), quantile(all, 0.9)]
      const errors: number[] = []
      const errorsBySearches: number[] = []
      for (let i = 0; i < draws; i++) {
        const some = Array.from({ length: together }, () => pages[Math.floor(draw() * pages.length)]!)
        const truth = some.reduce((sum, page) => sum + truthOfPage(page), 0)
        if (truth <= 0) continue
        errors.push(Math.abs(some.reduce((sum, page) => sum + page.visits!, 0) - truth) / truth)
        errorsBySearches.push(Math.abs(some.reduce((sum, page) => sum + page.searches! * oneShare, 0) - truth) / truth)
      }
      const choice = await callServer(server, chooseFirst, {
        ...at,
        today,
        of: 'pages',
        aMonth: pages.length,
        months: 1,
      })
      const inPool = new Map(pages.map(page => [page.id, page]))
      const worthOf = (page: PlannedPage): number => truthOfPage(page) * (page.worth! / Math.max(page.gain!, 1e-9))
      const sum = (list: readonly PlannedPage[]): number =>
        list.slice(0, chosenFirst).reduce((total, page) => total + worthOf(page), 0)
      const proposed = choice.chosen
        .toSorted((a, b) => b.value - a.value)
        .flatMap(({ pageId }) => inPool.get(pageId) ?? [])
      const best = sum(pages.toSorted((a, b) => worthOf(b) - worthOf(a)))
      return [
        {
          name: 'plan.visits_error',
          value: median(errors),
          unit: `median relative error of the summed visits of ${together} of ${pages.length} pages`,
          better: 'lower',
          reference: { what: 'searches × one click share', value: median(errorsBySearches) },
        },
        {
          name: 'plan.visits_in_range',
          value: inRange / pages.length,
          unit: `of ${pages.length} pages lie in their 80 % range`,
          better: 'higher',
        },
        {
          name: 'plan.range_score',
          value: mean(pages.map(page => intervalScore(page.low!, page.high!, truthOfPage(page)))),
          unit: 'visits a month, mean interval score of the 80 % ranges',
          better: 'lower',
          reference: {
            what: 'the spread of all pages',
            value: mean(all.map(truth => intervalScore(low, high, truth))),
          },
        },
        {
          name: 'plan.first_choice',
          value: sum(proposed) / best,
          unit: `of what the best ${chosenFirst} of ${pages.length} pages are worth, the first ${chosenFirst} proposed are worth so much`,
          better: 'higher',
          reference: { what: 'by searches', value: sum(pages.toSorted((a, b) => b.searches! - a.searches!)) / best },
        },
      ]
    } finally {
      await stack.close()
    }
  },
})
