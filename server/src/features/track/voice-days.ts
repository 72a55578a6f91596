import type { listVoiceDays } from '@dew-trail/contract/track'
import type pg from 'pg'
import type { z } from 'zod'
import { needMarket, needSite } from '../../domain/sites/need-market.ts'
import { readShareOfVoice } from './read-voices.ts'

/** As many lines as a picture is still read with. */
const mostLines = 6

/** Notes who has what share of voice now, under the newest day of the results; what was noted of that day before is replaced. */
export async function saveVoices(pool: pg.Pool, siteId: number, marketId: number): Promise<void> {
  const { to, sites } = await readShareOfVoice(pool, siteId, marketId)
  if (to === null) return
  await pool.query(
    `with gone as (delete from voice_day where site_id = $1 and market_id = $2 and day = $3 and not domain = any($4))
     insert into voice_day (site_id, market_id, day, domain, visits, share)
     select $1, $2, $3, * from unnest($4::text[], $5::real[], $6::real[])
     on conflict (site_id, market_id, day, domain) do update set visits = excluded.visits, share = excluded.share`,
    [
      siteId,
      marketId,
      to,
      sites.map(each => each.domain),
      sites.map(each => each.visits),
      sites.map(each => each.share),
    ],
  )
}

/** Shares by day of the own site, of those with most on the newest day, and of those that are added. */
export async function readVoiceDays(
  pool: pg.Pool,
  siteId: number,
  marketId: number,
  days: number,
  added: readonly string[],
): Promise<z.output<(typeof listVoiceDays)['output']>> {
  const { domain: own } = await needSite(pool, siteId)
  await needMarket(pool, siteId, marketId)
  const kept = await pool.query<{ first: string | null }>(
    `select min(m.month)::text "first" from result_month m join tracked_keyword t on t.site_id = $1 and t.active
       and t.keyword_id = m.keyword_id
     where m.site_id = $1 and m.market_id = $2`,
    [siteId, marketId],
  )
  const { rows } = await pool.query<{ domain: string; days: string[]; shares: number[] }>(
    `with last as (select max(day) as day from voice_day where site_id = $1 and market_id = $2),
       first_ones as (select domain, share, domain = $4 own from voice_day v join last on v.day = last.day
         where site_id = $1 and market_id = $2 order by own desc, share desc limit $5),
       shown as (select * from first_ones union all
         select added.domain, -1, false from unnest($6::text[]) added (domain)
         where not exists (select from first_ones f where f.domain = added.domain))
     select v.domain, array_agg(v.day::text order by v.day) days, array_agg(v.share order by v.day) shares
     from voice_day v join shown on shown.domain = v.domain cross join last
     where v.site_id = $1 and v.market_id = $2 and v.day > last.day - $3::integer
     group by v.domain, shown.own, shown.share order by shown.own desc, shown.share desc`,
    [siteId, marketId, days, own, mostLines, added],
  )
  const all = [...new Set(rows.flatMap(row => row.days))].sort()
  const at = new Map(all.map((day, i) => [day, i]))
  return {
    kept: kept.rows[0]!.first,
    days: all,
    sites: rows.map(row => {
      const shares = all.map((): number | null => null)
      for (const [i, day] of row.days.entries()) shares[at.get(day)!] = row.shares[i]!
      return { domain: row.domain, own: row.domain === own, shares }
    }),
  }
}
