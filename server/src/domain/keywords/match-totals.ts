import type { Market } from '@dew-trail/contract/sites'
import type { Context } from '../../context.ts'
import { type Db, inTransaction } from '../../platform/db/pool.ts'
import { runInThread } from '../../platform/jobs/run-in-thread.ts'
import { lockSite, touchKeywords } from '../sites/queries.ts'
import type { MatchAnswer, MatchQuestion } from './match-thread.ts'

/** A larger body is summed at night: a hundred thousand keywords would double the time of an import. */
const mostAtOnce = 25_000

/**
 * Sums the searches of a market's keywords by match for those of which the ads data tells no totals, and saves what is new. Only keywords
 * whose words others hold too get any. With `most`, a larger body is left as it is.
 */
export async function settleMatches(
  context: Context,
  siteId: number,
  { place, language }: Pick<Market, 'place' | 'language'>,
  most = mostAtOnce,
): Promise<void> {
  const { rows } = await context.pool.query<{ id: number; phrase: string; figures: string; searches: number | null }>(
    `select k.id, k.phrase, k.family figures, d.searches from keyword k
     left join demand d on d.site_id = $1 and d.keyword_id = k.id and d.place = $2
     where k.site_id = $1 and k.language = $3 order by k.id limit $4`,
    [siteId, place, language, most + 1],
  )
  if (rows.length > most || rows.length < 2) return
  const question: MatchQuestion = {
    phrases: rows.map(row => row.phrase),
    searches: rows.map(row => row.searches),
    figures: rows.map(row => row.figures),
  }
  const totals = await runInThread<MatchAnswer>(
    new URL('./match-thread.ts', import.meta.url),
    question,
    new AbortController().signal,
  )
  const reported = rows.flatMap((_, i) => (totals.others[i] ? i : []))
  const known = (value: number): number | null => (Number.isNaN(value) ? null : value)
  const changed = await inTransaction(context.pool, async db => {
    await lockSite(db, siteId)
    const ids = await replaceSums(db, siteId, place, {
      looked: rows.map(row => row.id),
      ids: reported.map(i => rows[i]!.id),
      exact: reported.map(i => known(totals.exact[i]!)),
      inOrder: reported.map(i => known(totals.inOrder[i]!)),
      anyOrder: reported.map(i => totals.anyOrder[i]!),
    })
    await touchKeywords(db, siteId, ids)
    return ids.length
  })
  if (changed) context.events.publish(siteId, { type: 'keywords' })
}

type Sums = {
  looked: number[]
  ids: number[]
  exact: Array<number | null>
  inOrder: Array<number | null>
  anyOrder: number[]
}
/** Gives the keywords whose totals changed. */
async function replaceSums(db: Db, siteId: number, place: string, sums: Sums): Promise<number[]> {
  const { rows: gone } = await db.query<{ id: number }>(
    `delete from demand_match where site_id = $1 and place = $2 and source = 'body' and keyword_id = any($3)
     and not keyword_id = any($4) returning keyword_id id`,
    [siteId, place, sums.looked, sums.ids],
  )
  const { rows: put } = await db.query<{ id: number }>(
    `insert into demand_match (site_id, keyword_id, place, source, exact, in_order, any_order)
     select $1, id, $2, 'body', exact, in_order, any_order
     from unnest($3::bigint[], $4::real[], $5::real[], $6::real[]) t (id, exact, in_order, any_order)
     on conflict (site_id, keyword_id, place) do update
       set exact = excluded.exact, in_order = excluded.in_order, any_order = excluded.any_order
     where demand_match.source = 'body' and (demand_match.exact, demand_match.in_order, demand_match.any_order)
       is distinct from (excluded.exact, excluded.in_order, excluded.any_order)
     returning keyword_id id`,
    [siteId, place, sums.ids, sums.exact, sums.inOrder, sums.anyOrder],
  )
  return [...gone, ...put].map(row => row.id)
}

/** Settles them for the bodies of all sites, however large; what a night does. */
export async function settleAllMatches(context: Context): Promise<void> {
  const { rows } = await context.pool.query<{ siteId: number; place: string; language: string }>(
    `select distinct m.site_id "siteId", m.place, m.language from market m
     join site s on s.id = m.site_id and s.removed_at is null order by 1, 2, 3`,
  )
  for (const { siteId, ...market } of rows) await settleMatches(context, siteId, market, Number.MAX_SAFE_INTEGER)
}
