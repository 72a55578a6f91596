import type { Db } from '../../../platform/db/pool.ts'

/** Accepted rivals that stand above the own site by the latest results of a tracked keyword and stood below it by those before. */
export async function manyPassed(
  db: Db,
  siteId: number,
  marketId: number,
): Promise<Array<{ keywordId: number; domain: string; position: number }>> {
  const { rows } = await db.query<{ keywordId: number; domain: string; position: number }>(
    `with best as (
       select r.keyword_id, s.domain, min(r.now) now, min(r.before) before
       from tracked_keyword t
       join result_row r on r.site_id = $1 and r.market_id = $2 and r.keyword_id = t.keyword_id
       join result_site s on s.site_id = $1 and s.id = r.on_site
       join site own on own.id = $1
       left join rival v on v.site_id = $1 and v.domain = s.domain and v.state = 'accepted'
       where t.site_id = $1 and t.active and (v.domain is not null or s.domain = own.domain)
       group by 1, 2)
     select b.keyword_id "keywordId", b.domain, b.now position from best b
     join site own on own.id = $1
     join best o on o.keyword_id = b.keyword_id and o.domain = own.domain
     join result_head h on h.site_id = $1 and h.market_id = $2 and h.keyword_id = b.keyword_id
     where b.domain <> own.domain and h.before_day is not null
       and b.now < coalesce(o.now, 1000) and coalesce(b.before, 1000) > o.before
     order by b.keyword_id, b.now`,
    [siteId, marketId],
  )
  return rows
}
