import type { Strengths } from '@dew-trail/contract/weigh'
import { chancePositions } from '@dew-trail/core/results/first-page'
import { pagesToLearn } from '@dew-trail/core/results/learn-strength'
import { defaultModel } from '@dew-trail/core/results/strength'
import type { Context } from '../../context.ts'
import { needSite } from '../../domain/sites/need-market.ts'
import { manyModels, oneLearnState } from '../../domain/chances/learn-queries.ts'

const shownRecords = 5

function siteEffectsOf(siteEffects: Record<string, number>, ownDomain: string): Strengths['siteEffects'] {
  const list = Object.entries(siteEffects)
    .map(([domain, adds]) => ({ domain, adds }))
    .sort((a, b) => b.adds - a.adds)
  return {
    sites: list.length,
    own: siteEffects[ownDomain] ?? null,
    highest: list.filter(each => each.adds > 0).slice(0, shownRecords),
    lowest: list
      .filter(each => each.adds < 0)
      .slice(-shownRecords)
      .toReversed(),
  }
}

/** What is known of how each engine and device of a site puts pages in order. */
export async function describeStrengths({ pool, config }: Context, siteId: number): Promise<Strengths[]> {
  const site = await needSite(pool, siteId)
  const models = await manyModels(pool, siteId)
  const firstOf = new Map(
    site.markets.toReversed().map((market): [string, typeof market] => [`${market.engine} ${market.device}`, market]),
  )
  const markets = site.markets.filter(market => firstOf.get(`${market.engine} ${market.device}`) === market)
  return Promise.all(
    markets.map(async market => {
      const row = models.find(each => each.engine === market.engine && each.device === market.device)
      const state = await oneLearnState(pool, siteId, market)
      const model = row?.model ?? defaultModel
      return {
        engine: market.engine,
        device: market.device,
        marketId: market.id,
        learnt: Boolean(row?.model),
        fittedAt: row?.fittedAt.toISOString() ?? null,
        pages: row?.pages ?? 0,
        needed: pagesToLearn,
        sample: config.LEARN_PAGES,
        keywords: state.keywords,
        weighedSince: state.since,
        curves: model.curves,
        siteEffects: siteEffectsOf(model.siteEffects ?? {}, site.domain),
        thresholds: chancePositions.map(position => ({
          position,
          slope: model.slope[position]!,
          offset: model.offset[position]!,
        })),
        report: row?.report ?? null,
      }
    }),
  )
}
