import { registrableDomain } from '@dew-trail/core/links/registrable-domain'
import type { Db } from '../../platform/db/pool.ts'

export type NumberedPage = { pageId: number; onSite: number }

/** Numbers of pages and their sites by key, given to those that have none yet. `urlOf`: the address as written of each key. */
export async function numberPages(
  db: Db,
  siteId: number,
  urlOf: ReadonlyMap<string, string>,
): Promise<Map<string, NumberedPage>> {
  const known = await manyNumbered(db, siteId, [...urlOf.keys()])
  const fresh = [...urlOf].filter(([key]) => !known.has(key)).sort(([a], [b]) => (a < b ? -1 : 1))
  if (!fresh.length) return known
  const domains = fresh.map(([, url]) => registrableDomain(url))
  const sites = await numberSites(db, siteId, [...new Set(domains)])
  await db.query(
    `insert into result_address (site_id, id, key, on_site, url)
     select $1, nextval('result_page_id_site_${Number(siteId)}'), * from unnest($2::uuid[], $3::integer[], $4::text[])
     on conflict (site_id, key) do nothing`,
    [siteId, fresh.map(([key]) => key), domains.map(domain => sites.get(domain)!), fresh.map(([, url]) => url)],
  )
  for (const [key, page] of await manyNumbered(
    db,
    siteId,
    fresh.map(([key]) => key),
  ))
    known.set(key, page)
  return known
}

async function manyNumbered(db: Db, siteId: number, keys: string[]): Promise<Map<string, NumberedPage>> {
  const { rows } = await db.query<NumberedPage & { key: string }>(
    'select key, id "pageId", on_site "onSite" from result_address where site_id = $1 and key = any($2)',
    [siteId, keys],
  )
  return new Map(rows.map(({ key, pageId, onSite }) => [key, { pageId, onSite }]))
}

async function numberSites(db: Db, siteId: number, domains: string[]): Promise<Map<string, number>> {
  const known = await manySiteNumbers(db, siteId, domains)
  const fresh = domains.filter(domain => !known.has(domain)).sort()
  if (!fresh.length) return known
  await db.query(
    `insert into result_site (site_id, id, domain)
     select $1, nextval('result_site_id_site_${Number(siteId)}'), * from unnest($2::text[])
       on conflict (site_id, domain) do nothing`,
    [siteId, fresh],
  )
  return manySiteNumbers(db, siteId, domains)
}

/** Numbers of sites that stand among results, by domain; those that never did have none. */
export async function manySiteNumbers(
  db: Db,
  siteId: number,
  domains: readonly string[],
): Promise<Map<string, number>> {
  const { rows } = await db.query<{ id: number; domain: string }>(
    'select id, domain from result_site where site_id = $1 and domain = any($2)',
    [siteId, domains],
  )
  return new Map(rows.map(row => [row.domain, row.id]))
}
