import { type Predictions, type readPredictions, settledDays } from '@dew-trail/contract/weigh'
import { cameTrue } from '@dew-trail/core/results/came-true'
import type pg from 'pg'
import type { z } from 'zod'
import { needSite } from '../sites/need-market.ts'
import { manyPredictions, maybePositionFrom, maybeResultsFrom, type PredictionRow } from './prediction-queries.ts'
import { siteDomain } from './site-domain.ts'

const firstPage = 10
type Seen = { seenOn: string; place: number | null; depth: number }

/** What was said of published pages and what came of it, each by the first look from `settledDays` after it was published. */
export async function readPredictionsOf(
  pool: pg.Pool,
  { siteId, engine, device, today }: z.output<(typeof readPredictions)['input']>,
): Promise<Predictions> {
  const site = await needSite(pool, siteId)
  const markets = site.markets.filter(market => market.engine === engine && market.device === device)
  const kept = await manyPredictions(
    pool,
    siteId,
    markets.map(market => market.id),
    settledDays,
  )
  const rows: Predictions['rows'] = []
  for (const { slot, ...row } of kept) {
    const due = row.dueOn <= today
    const seen = due ? await firstLook(pool, siteId, site.domain, { slot, ...row }) : null
    rows.push({
      ...row,
      state: seen ? 'judged' : due ? 'unseen' : 'waiting',
      seenOn: seen?.seenOn ?? null,
      place: seen?.place ?? null,
      depth: seen?.depth ?? null,
    })
  }
  const judged = rows.filter(row => row.state === 'judged')
  const sum = cameTrue(
    judged.map(row => ({ chance: row.chance, happened: row.place !== null && row.place <= firstPage })),
  )
  return { rows, sum }
}

/** Where the site stood when somebody first looked after the page had settled: on a result page or while positions were watched. */
async function firstLook(pool: pg.Pool, siteId: number, domain: string, row: PredictionRow): Promise<Seen | null> {
  const position =
    row.slot === null ? undefined : await maybePositionFrom(pool, siteId, row.marketId, row.slot, row.dueOn)
  const page = await maybeResultsFrom(pool, siteId, row.keywordId, row.marketId, row.dueOn)
  if (position && (!page || position.day <= page.day)) {
    const place = position.position > 0 ? position.position : null
    return { seenOn: position.day, place, depth: place ?? -position.position }
  }
  if (!page) return null
  const at = page.urls.findIndex(url => siteDomain(url) === domain)
  return { seenOn: page.day, place: at < 0 ? null : at + 1, depth: page.urls.length }
}
