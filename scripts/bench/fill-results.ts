import type { openPool } from '@dew-trail/server/db/pool'

type Pool = ReturnType<typeof openPool>

export const filled = { keywords: 100_000, results: 10_000_000, addresses: 2_000_000, sites: 50_000 }

/** A draw from 0 up to 1 in SQL, a hash of two expressions. */
export const draw = (a: string, b: string): string =>
  `((hashint8((${a}) * 131 + (${b}) * 7919) & 16777215) / 16777216.0)`

/**
 * Fills a market with ten million results of a hundred thousand keywords on 50,000 sites: a low number of a site means many pages. The
 * searches of keywords are their numbers.
 */
export async function fillResults(pool: Pool, siteId: number, market: { id: number; place: string }): Promise<void> {
  const { keywords, results, addresses, sites } = filled
  await pool.query(
    `insert into result_site select $1, i, 'site-' || i || '.example' from generate_series(1, ${sites}) i`,
    [siteId],
  )
  await pool.query(
    `insert into result_address select $1, i, md5(i::text)::uuid,
      1 + floor(${draw('i', '1')} ^ 3 * ${sites - 1})::integer, 'https://site.example/' || i
     from generate_series(1, ${addresses}) i`,
    [siteId],
  )
  await pool.query(
    `insert into result_row select $1, $2, k, a.id, a.on_site, p, p from generate_series(1, ${keywords}) k
     cross join generate_series(1, ${results / keywords}) p
     join result_address a on a.site_id = $1 and a.id = 1 + floor(${draw('k', 'p')} * ${addresses - 1})::integer
       on conflict do nothing`,
    [siteId, market.id],
  )
  await pool.query(
    `insert into demand (site_id, keyword_id, place, source, state, average, fetched_at)
     select $1, i, $2, 'x', 'known', i, now() from generate_series(1, ${keywords}) i`,
    [siteId, market.place],
  )
  await pool.query('analyze')
  await pool.query('select setval($1, $2)', [`result_page_id_site_${siteId}`, addresses])
  await pool.query('select setval($1, $2)', [`result_site_id_site_${siteId}`, sites])
}
