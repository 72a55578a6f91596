import { noteFiguresChange } from '../../platform/db/figures-change.ts'
import type { Db } from '../../platform/db/pool.ts'
import type { InMarket } from './queries.ts'

/** Puts rows in the place of all that the ads data told of a site before. */
export async function replacePaid(
  db: Db,
  { siteId, marketId }: InMarket,
  onSite: number,
  rows: ReadonlyArray<{ knownId: number; position: number; spend: number }>,
): Promise<void> {
  await db.query('delete from known_paid where site_id = $1 and market_id = $2 and on_site = $3', [
    siteId,
    marketId,
    onSite,
  ])
  await db.query(
    `insert into known_paid (site_id, market_id, on_site, known_id, position, spend)
     select $1, $2, $3, * from unnest($4::integer[], $5::smallint[], $6::real[])`,
    [siteId, marketId, onSite, rows.map(row => row.knownId), rows.map(row => row.position), rows.map(row => row.spend)],
  )
  await noteFiguresChange(db, siteId)
}

export type PaidMonth = { month: string; keywords: number; spend: number }
export async function upsertPaidMonth(
  db: Db,
  { siteId, marketId }: InMarket,
  onSite: number,
  { month, keywords, spend }: PaidMonth,
): Promise<void> {
  await db.query(
    `insert into paid_month (site_id, market_id, on_site, month, keywords, spend) values ($1, $2, $3, $4, $5, $6)
     on conflict (site_id, market_id, on_site, month) do update
       set keywords = excluded.keywords, spend = excluded.spend`,
    [siteId, marketId, onSite, month, keywords, spend],
  )
}
export type PaidRow = {
  id: number
  phrase: string
  position: number
  spend: number
  searches: number | null
  cpc: number | null
  bidLow: number | null
  bidHigh: number | null
  stands: number | null
  own: number | null
  kept: boolean
  tracked: boolean
}
/**
 * Keywords that a site pays for, most spent first, the first `most`, with where it and the own site stand among the results. A keyword that
 * nobody gathered has the negative of its known id.
 */
export async function manyPaid(
  db: Db,
  { siteId, marketId, place }: InMarket,
  domain: string,
  ownDomain: string,
  most: number,
): Promise<{ rows: PaidRow[]; total: number; spend: number }> {
  const { rows } = await db.query<PaidRow & { total: number; whole: number }>(
    `with paid as (
       select p.known_id, p.position, p.spend from known_paid p
         join result_site s on s.site_id = $1 and s.id = p.on_site
       where p.site_id = $1 and p.market_id = $2 and s.domain = $4
     ), named as (
       select p.*, n.phrase, n.searches, n.cpc, k.id keyword_id, k.kept_at from paid p
       join known_keyword n on n.site_id = $1 and n.id = p.known_id
       left join keyword k on k.site_id = $1 and k.language = n.language and k.phrase = n.phrase
     ), stand as (
       select s.domain, r.keyword_id, null::integer known_id, min(r.now) at from result_row r
       join result_site s on s.site_id = $1 and s.id = r.on_site and s.domain in ($4, $5)
       where r.site_id = $1 and r.market_id = $2 and r.keyword_id in (select keyword_id from named)
       group by 1, 2
       union all
       select s.domain, null, r.known_id, r.position from known_ranking r
       join result_site s on s.site_id = $1 and s.id = r.on_site and s.domain in ($4, $5)
       where r.site_id = $1 and r.market_id = $2 and r.known_id in (select known_id from named)
     ), fetched as (select * from stand where keyword_id is not null), of_feed as (select * from stand
     where known_id is not null)
     select coalesce(n.keyword_id, -n.known_id)::integer id, n.phrase, n.position, n.spend,
       coalesce(d.searches, n.searches) searches, coalesce(d.cpc, n.cpc) cpc, d.bid_low "bidLow", d.bid_high "bidHigh",
       coalesce(a.at, b.at) stands, coalesce(c.at, e.at) own, n.kept_at is not null kept,
       coalesce(t.active, false) tracked, count(*) over ()::integer total, sum(n.spend) over () whole
     from named n
     left join demand d on d.site_id = $1 and d.keyword_id = n.keyword_id and d.place = $3
     left join tracked_keyword t on t.site_id = $1 and t.keyword_id = n.keyword_id
     left join fetched a on a.domain = $4 and a.keyword_id = n.keyword_id
     left join of_feed b on b.domain = $4 and b.known_id = n.known_id
     left join fetched c on c.domain = $5 and c.keyword_id = n.keyword_id
     left join of_feed e on e.domain = $5 and e.known_id = n.known_id
     order by n.spend desc, n.phrase collate "C" limit $6`,
    [siteId, marketId, place, domain, ownDomain, most],
  )
  return {
    rows: rows.map(({ total: _, whole: __, ...row }) => row),
    total: rows[0]?.total ?? 0,
    spend: rows[0]?.whole ?? 0,
  }
}
