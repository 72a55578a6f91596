import type { Market } from '@dew-trail/contract/sites'
import type { Context } from '../context.ts'
import { inTransaction } from '../db/pool.ts'
import { lockSite, touchKeywords } from '../sites/queries.ts'
import { SourceError } from '../sources/source-error.ts'
import { type NewDemand, upsertDemand } from './queries.ts'
import { findLadderFor, toDemand } from './demand-facts.ts'

/** How many keywords one request for figures names. */
export const figuresAtATime = 500

/** Asks for figures of up to `figuresAtATime` keywords and saves them. When the source fails, that is saved and given back as the error. */
export async function askDemand(
  context: Context,
  siteId: number,
  market: Market,
  keywords: Array<{ id: number; phrase: string }>,
  signal: AbortSignal,
): Promise<SourceError | null> {
  const idOf = new Map(keywords.map(row => [row.phrase, row.id]))
  try {
    const figures = await context.sources.figures(market, [...idOf.keys()], signal)
    const ladder = await findLadderFor(context.pool, siteId, figures)
    await save(
      figures.flatMap(figure => (idOf.has(figure.text) ? [toDemand(idOf.get(figure.text)!, figure, ladder)] : [])),
    )
    return null
  } catch (error) {
    if (!(error instanceof SourceError)) throw error
    await save(
      keywords.map(row => ({
        keywordId: row.id,
        state: 'failed',
        monthsFrom: null,
        months: null,
        average: null,
        cpc: null,
        bidLow: null,
        bidHigh: null,
        competition: null,
        trend: null,
        yearly: null,
        season: null,
        peaks: null,
        rounded: null,
        low: null,
        high: null,
      })),
    )
    return error
  }

  async function save(rows: NewDemand[]): Promise<void> {
    await inTransaction(context.pool, async db => {
      await lockSite(db, siteId)
      await upsertDemand(db, siteId, market.place, 'ads', rows)
      await touchKeywords(
        db,
        siteId,
        rows.map(row => row.keywordId),
      )
    })
    context.events.publish(siteId, { type: 'keywords' })
  }
}
