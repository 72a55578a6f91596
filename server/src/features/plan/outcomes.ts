import type { listOutcomes } from '@dew-trail/contract/brief'
import { visitsRange } from '@dew-trail/core/planning/visits-range'
import type pg from 'pg'
import type { z } from 'zod'
import type { Context } from '../../context.ts'
import { sumOf, uncertain, visitsOfPage } from './page-figures.ts'
import { readPlan } from './read-plan.ts'

/** Keeps, in each market, what is expected of a page on the day on which its work is called published. */
export async function keepExpectations(
  db: pg.PoolClient,
  { pool }: Context,
  siteId: number,
  pageId: number,
): Promise<void> {
  const { rows } = await db.query<{ id: number }>('select id from market where site_id = $1 order by id', [siteId])
  for (const { id: marketId } of rows) {
    const { pages, reader } = await readPlan(pool, siteId, marketId)
    const found = pages.find(each => each.page.id === pageId)
    if (!found) continue
    const { keywords } = found
    const range = visitsRange([{ keywords: uncertain(keywords, reader), beside: found.beside }])
    const visits = visitsOfPage(found).expected
    if (!range || visits === null) continue
    await db.query(
      `insert into page_expectation (site_id, page_id, market_id, predicted_on, before, visits, low, high)
       values ($1, $2, $3, current_date, $4, $5, $6, $7)
       on conflict (site_id, page_id, market_id) do update set predicted_on = excluded.predicted_on, before = excluded.before,
         visits = excluded.visits, low = excluded.low, high = excluded.high`,
      [siteId, pageId, marketId, sumOf(keywords, each => each.inSums.now).sum, visits, range.low, range.high],
    )
  }
}

type Outcome = z.output<(typeof listOutcomes)['output']>[number]
/** Published pages with what was expected of their keywords and, once they have settled, what these bring now. */
export async function readOutcomes(pool: pg.Pool, siteId: number, marketId: number, today: string): Promise<Outcome[]> {
  const { pages, settling } = await readPlan(pool, siteId, marketId)
  const { rows } = await pool.query<
    Omit<Outcome, 'title' | 'publishedOn' | 'dueOn' | 'came'> & { predictedOn: string; dueOn: string }
  >(
    `select page_id "pageId", predicted_on::text "predictedOn", (predicted_on + $3::integer)::text "dueOn", before, visits expected,
      low, high
     from page_expectation where site_id = $1 and market_id = $2`,
    [siteId, marketId, settling.days],
  )
  const byPage = new Map(rows.map(row => [row.pageId, row]))
  return pages
    .flatMap(({ page, keywords }): Outcome[] => {
      const expectation = byPage.get(page.id)
      if (!expectation || page.state !== 'published') return []
      const { predictedOn, dueOn, ...figures } = expectation
      const came = dueOn <= today ? sumOf(keywords, each => each.inSums.now).sum : null
      return [{ ...figures, title: page.title, publishedOn: predictedOn, dueOn, came }]
    })
    .sort((a, b) => (a.publishedOn < b.publishedOn ? 1 : -1))
}
