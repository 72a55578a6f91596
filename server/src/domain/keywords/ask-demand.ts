import type { Market } from '@dew-trail/contract/sites'
import type { Context } from '../../context.ts'
import { inTransaction } from '../../platform/db/pool.ts'
import { lockSite, touchKeywords } from '../sites/queries.ts'
import { SourceError } from '../../platform/outside/source-error.ts'
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
    const answered = new Map(figures.map(figure => [figure.text, figure]))
    const leftOut = keywords.filter(row => !answered.has(row.phrase))
    await save([
      ...figures.flatMap(figure => (idOf.has(figure.text) ? [toDemand(idOf.get(figure.text)!, figure, ladder)] : [])),
      ...leftOut.map(row => failedDemand(row.id)),
    ])
    if (!leftOut.length) return null
    // Not an answer of "nothing": the source said nothing at all about them.
    return new SourceError(
      'Ads data',
      'badReply',
      `The ads data left out ${leftOut.length} of ${keywords.length} keywords (such as "${leftOut[0]!.phrase}")`,
      false,
    )
  } catch (error) {
    if (!(error instanceof SourceError)) throw error
    await save(keywords.map(row => failedDemand(row.id)))
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

const failedDemand = (keywordId: number): NewDemand => ({
  keywordId,
  state: 'failed',
  monthsFrom: null,
  months: null,
  average: null,
  cpc: null,
  bidLow: null,
  bidHigh: null,
  competition: null,
  mobileShare: null,
  worldwide: null,
  trend: null,
  yearly: null,
  season: null,
  peaks: null,
  rounded: null,
  low: null,
  high: null,
  match: null,
})
