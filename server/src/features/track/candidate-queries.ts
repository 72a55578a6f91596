import type { Candidate, CandidateSource } from '@dew-trail/contract/track'
import type { Market } from '@dew-trail/contract/sites'
import type { Db } from '../../platform/db/pool.ts'

const mostListed = 2_000
/** A rival's keywords are those for which it stands so high. */
const deepest = 20

/** What names the phrases of each source, in the market's language: columns phrase, clicks, position, rank (lowest first). */
const sources: Record<CandidateSource, string> = {
  log: `select k.phrase, l.clicks::real, l.position, row_number() over (order by l.clicks desc,
    l.impressions desc) rank
    from log_sum l join keyword k on k.site_id = $1 and k.id = l.keyword_id and k.language = $3
    where l.site_id = $1 and l.place = $4 and l.impressions > 0 and $5::text is null`,
  plan: `select distinct on (k.phrase) k.phrase, null::real clicks, null::real "position", p.page_id rank
    from page_plan_keyword p join page_plan g on g.site_id = $1 and g.id = p.page_id and g.removed_at is null
    join keyword k on k.site_id = $1 and k.id = p.keyword_id and k.language = $3
    where p.site_id = $1 and $2::bigint is not null and $4::text is not null and $5::text is null`,
  themes: `select k.phrase, null::real clicks, null::real "position", 0::bigint rank
    from keyword_grouping g join theme t on t.site_id = $1 and t.grouping_id = g.id
    join keyword k on k.site_id = $1 and k.id = t.lead_id and k.language = $3
    where g.site_id = $1 and g.market_id = $2 and g.is_current and $4::text is not null and $5::text is null`,
  kept: `select k.phrase, null::real clicks, null::real "position", 0::bigint rank from keyword k
    where k.site_id = $1 and k.language = $3 and k.kept_at is not null and $2::bigint is not null
      and $4::text is not null
      and $5::text is null`,
  rival: `select phrase, null::real clicks, min(position)::real "position", 0::bigint rank from (
      select k.phrase, r.now as position from result_site s
      join result_row r on r.site_id = $1 and r.market_id = $2 and r.on_site = s.id and r.now <= ${deepest}
      join keyword k on k.site_id = $1 and k.id = r.keyword_id and k.language = $3
      where s.site_id = $1 and s.domain = $5
      union all
      select n.phrase, r.position from result_site s
      join known_ranking r on r.site_id = $1 and r.market_id = $2 and r.on_site = s.id and r.position <= ${deepest}
      join known_keyword n on n.site_id = $1 and n.id = r.known_id and n.language = $3 and n.place = $4
      where s.site_id = $1 and s.domain = $5) both_ group by phrase`,
}

/** Keywords of a source with what is known of them, the most telling first, and how many there are in all. */
export async function manyCandidates(
  db: Db,
  siteId: number,
  market: Market,
  from: CandidateSource,
  of: string | null,
): Promise<{ all: number; keywords: Candidate[] }> {
  const { rows } = await db.query<Candidate & { all: number }>(
    `with found as (${sources[from]})
     select f.phrase, coalesce(d.searches, n.searches) searches, f.clicks, f.position,
       coalesce(t.active and (t.market_ids is null or $2 = any(t.market_ids)), false) tracked,
       (count(*) over ())::integer "all"
     from found f
     left join keyword k on k.site_id = $1 and k.language = $3 and k.phrase = f.phrase
     left join demand d on d.site_id = $1 and d.keyword_id = k.id and d.place = $4
     left join known_keyword n on n.site_id = $1 and n.place = $4 and n.language = $3 and n.phrase = f.phrase
     left join tracked_keyword t on t.site_id = $1 and t.keyword_id = k.id
     order by ${from === 'log' ? 'f.rank' : 'searches desc nulls last'}, f.phrase limit ${mostListed}`,
    [siteId, market.id, market.language, market.place, of],
  )
  return { all: rows[0]?.all ?? 0, keywords: rows.map(({ all: _, ...keyword }) => keyword) }
}
