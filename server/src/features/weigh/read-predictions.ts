import { type Predictions, type readPredictions, settledDays } from '@dew-trail/contract/weigh'
import { registrableDomain } from '@dew-trail/core/links/registrable-domain'
import { cameTrue } from '@dew-trail/core/results/came-true'
import type pg from 'pg'
import type { z } from 'zod'
import { needSite } from '../../domain/sites/need-market.ts'
import { manyPredictions, type PredictionRow } from '../../domain/chances/prediction-queries.ts'

const firstPage = 10
type Seen = { seenOn: string; position: number | null; depth: number }

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
    today,
  )
  const rows = kept.map(({ positionOn, position, resultsOn, urls, ...row }): Predictions['rows'][number] => {
    const seen = firstLook(site.domain, { positionOn, position, resultsOn, urls })
    return {
      ...row,
      state: seen ? 'judged' : row.dueOn <= today ? 'unseen' : 'waiting',
      seenOn: seen?.seenOn ?? null,
      position: seen?.position ?? null,
      depth: seen?.depth ?? null,
    }
  })
  const settled = rows.filter(row => row.state === 'judged')
  const sum = cameTrue(
    settled.map(row => ({ chance: row.chance, happened: row.position !== null && row.position <= firstPage })),
  )
  return { rows, sum }
}

/** Where the site stood when somebody first looked after the page had settled: on a result page or while positions were watched. */
function firstLook(
  domain: string,
  { positionOn, position, resultsOn, urls }: Pick<PredictionRow, 'positionOn' | 'position' | 'resultsOn' | 'urls'>,
): Seen | null {
  if (positionOn !== null && position !== null && (resultsOn === null || positionOn <= resultsOn)) {
    const found = position > 0 ? position : null
    return { seenOn: positionOn, position: found, depth: found ?? -position }
  }
  if (resultsOn === null || !urls) return null
  const at = urls.findIndex(url => registrableDomain(url) === domain)
  return { seenOn: resultsOn, position: at < 0 ? null : at + 1, depth: urls.length }
}
