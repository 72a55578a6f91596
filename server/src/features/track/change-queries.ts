import type { Db } from '../../platform/db/pool.ts'

/** All kept result pages of keywords in a market from a month on: bytes of core/results/month-results. */
export async function manyResultMonths(
  db: Db,
  siteId: number,
  marketId: number,
  keywordIds: readonly number[],
  from: string,
): Promise<Array<{ keywordId: number; month: string; days: Buffer }>> {
  return (
    await db.query<{ keywordId: number; month: string; days: Buffer }>(
      `select keyword_id "keywordId", month::text "month", days from result_month
       where site_id = $1 and market_id = $2 and keyword_id = any($3) and month >= date_trunc('month', $4::date)
       order by keyword_id, month`,
      [siteId, marketId, keywordIds, from],
    )
  ).rows
}
export type ResultAddress = { id: number; url: string; domain: string }
/** Addresses and sites of pages among results, by their numbers. */
export async function manyAddresses(
  db: Db,
  siteId: number,
  ids: readonly number[],
): Promise<Map<number, ResultAddress>> {
  const { rows } = await db.query<ResultAddress>(
    `select a.id, a.url, s.domain from result_address a
      join result_site s on s.site_id = a.site_id and s.id = a.on_site
     where a.site_id = $1 and a.id = any($2)`,
    [siteId, ids],
  )
  return new Map(rows.map(row => [row.id, row]))
}

/** Own pages to which links came or went between two days, with how many sites they are from. */
export async function manyLinkChanges(
  db: Db,
  domain: string,
  from: string,
  to: string,
): Promise<Array<{ url: string; gained: number; lost: number }>> {
  const { rows } = await db.query<{ url: string; gained: number; lost: number }>(
    `select p.url, count(distinct l.source_site_id) filter (where l.first_seen > $2)::integer gained,
       count(distinct l.source_site_id) filter (where l.gone_on > $2)::integer lost
     from linked_site s join link l on l.graph_id = 1 and l.target_site_id = s.id and l.source_site_id <> s.id
       and (l.first_seen > $2 and l.first_seen <= $3 or l.gone_on > $2 and l.gone_on <= $3)
     join linked_page p on p.graph_id = 1 and p.id = l.target_page_id
     where s.graph_id = 1 and s.domain = $1 group by p.url`,
    [domain, from, to],
  )
  return rows
}

/** Searches by month of keywords in a place: the month of the first and the figures from it on. */
export async function manyMonthly(
  db: Db,
  siteId: number,
  place: string,
  keywordIds: readonly number[],
): Promise<Array<{ id: number; from: string; months: number[] }>> {
  const { rows } = await db.query<{ id: number; from: string; months: number[] }>(
    `select keyword_id id, months_from::text "from", months from demand
     where site_id = $1 and place = $2 and keyword_id = any($3) and months_from is not null and months is not null`,
    [siteId, place, keywordIds],
  )
  return rows
}

/** Domains of the rivals that somebody accepted. */
export async function manyAcceptedRivals(db: Db, siteId: number): Promise<string[]> {
  const { rows } = await db.query<{ domain: string }>(
    `select domain from rival where site_id = $1 and state = 'accepted' order by domain`,
    [siteId],
  )
  return rows.map(row => row.domain)
}
