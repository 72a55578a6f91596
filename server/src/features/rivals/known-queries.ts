import { figureKey } from '@dew-trail/core/words/family-key'
import type { RivalMonth } from '@dew-trail/contract/rivals'
import { nextKnownId } from '../../platform/db/site-partition.ts'
import { noteFiguresChange } from '../../platform/db/figures-change.ts'
import type { Db } from '../../platform/db/pool.ts'
import type { InMarket } from './queries.ts'

/** Adds known keywords that are not there yet and gives the ids of all, by phrase. */
export async function upsertKnown(
  db: Db,
  siteId: number,
  place: string,
  language: string,
  phrases: readonly string[],
): Promise<Map<string, number>> {
  await db.query(
    `insert into known_keyword (site_id, id, place, language, phrase, family)
     select $1, ${nextKnownId(siteId)}, $2, $3, p.* from unnest($4::text[], $5::text[]) p
     on conflict (site_id, place, language, phrase) do nothing`,
    [siteId, place, language, phrases, phrases.map(phrase => figureKey(phrase, language))],
  )
  const { rows } = await db.query<{ id: number; phrase: string }>(
    'select id, phrase from known_keyword where site_id = $1 and place = $2 and language = $3 and phrase = any($4)',
    [siteId, place, language, phrases],
  )
  return new Map(rows.map(row => [row.phrase, row.id]))
}

export type KnownRow = { knownId: number; pageId: number; position: number }
/**
 * Puts rows in the place of what the feed told of a site before; with `partPages` of those pages of it alone, as a host, folder or page of
 * the site was asked about.
 */
export async function replaceKnown(
  db: Db,
  { siteId, marketId }: InMarket,
  onSite: number,
  rows: readonly KnownRow[],
  partPages: readonly number[] | null = null,
): Promise<void> {
  await db.query(
    `delete from known_ranking where site_id = $1 and market_id = $2 and on_site = $3
       and case when $4::integer[] is null then not part else part and page_id = any($4) end`,
    [siteId, marketId, onSite, partPages],
  )
  await db.query(
    `insert into known_ranking (site_id, market_id, on_site, known_id, page_id, position, part)
     select $1, $2, $3, u.*, $7 from unnest($4::integer[], $5::integer[], $6::smallint[]) u
     on conflict (site_id, market_id, on_site, known_id, page_id) do update set position = excluded.position`,
    [
      siteId,
      marketId,
      onSite,
      rows.map(row => row.knownId),
      rows.map(row => row.pageId),
      rows.map(row => row.position),
      partPages !== null,
    ],
  )
  await noteFiguresChange(db, siteId)
}
export type Load = { edition: 'weekly' | 'full' | 'paid'; asOf: string; keywords: number; found: number }
export async function upsertLoad(db: Db, { siteId, marketId }: InMarket, onSite: number, load: Load): Promise<void> {
  await db.query(
    `insert into ranking_load (site_id, market_id, on_site, edition, as_of, keywords, found)
     values ($1, $2, $3, $4, $5, $6, $7)
     on conflict (site_id, market_id, on_site, edition) do update set as_of = excluded.as_of,
       keywords = excluded.keywords, found = excluded.found, loaded_at = now()`,
    [siteId, marketId, onSite, load.edition, load.asOf, load.keywords, load.found],
  )
}
/** The newest month (YYYY-MM) that the rankings feed has told of a market; null where nothing of it was loaded. */
export async function maybeNewestMonth(db: Db, { siteId, marketId }: InMarket): Promise<string | null> {
  const { rows } = await db.query<{ month: string | null }>(
    `select to_char(max(as_of), 'YYYY-MM') as "month" from ranking_load
     where site_id = $1 and market_id = $2 and edition <> 'paid'`,
    [siteId, marketId],
  )
  return rows[0]!.month
}
/** Editions that were loaded of sites, by domain. */
export async function manyLoads(
  db: Db,
  { siteId, marketId }: InMarket,
  domains: readonly string[],
): Promise<Array<Load & { domain: string }>> {
  const { rows } = await db.query<Load & { domain: string }>(
    `select s.domain, l.edition, l.as_of "asOf", l.keywords, l.found from ranking_load l
     join result_site s on s.site_id = l.site_id and s.id = l.on_site
     where l.site_id = $1 and l.market_id = $2 and s.domain = any($3) order by s.domain, l.edition`,
    [siteId, marketId, domains],
  )
  return rows
}

/** Known keywords of which the ads data was not asked for 90 days, and that were not gathered either; the first `most`. */
export async function manyWithoutFigures(
  db: Db,
  siteId: number,
  place: string,
  language: string,
  most: number,
): Promise<Array<{ id: number; phrase: string }>> {
  const { rows } = await db.query<{ id: number; phrase: string }>(
    `select id, phrase from known_keyword where site_id = $1 and place = $2 and language = $3
       and (figures_at is null or figures_at < now() - interval '90 days') order by id limit $4`,
    [siteId, place, language, most],
  )
  return rows
}
export async function setFigures(
  db: Db,
  siteId: number,
  rows: ReadonlyArray<{ id: number; searches: number | null; cpc: number | null }>,
): Promise<void> {
  await db.query(
    `update known_keyword k set searches = n.searches, cpc = n.cpc, figures_at = now()
     from unnest($2::integer[], $3::real[], $4::real[]) n (id, searches, cpc)
     where k.site_id = $1 and k.id = n.id`,
    [siteId, rows.map(row => row.id), rows.map(row => row.searches), rows.map(row => row.cpc)],
  )
  await noteFiguresChange(db, siteId)
}
export type MonthRow = {
  domain: string
  month: string
  within3: number
  within10: number
  within30: number
  keywords: number
  visits: number | null
  worth: number | null
}
export async function upsertMonth(
  db: Db,
  { siteId, marketId }: InMarket,
  onSite: number,
  row: Omit<MonthRow, 'domain'>,
): Promise<void> {
  await db.query(
    `insert into ranking_month (site_id, market_id, on_site, month, within3, within10, within30, keywords, visits,
      worth)
     values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10)
     on conflict (site_id, market_id, on_site, month) do update set within3 = excluded.within3,
       within10 = excluded.within10, within30 = excluded.within30, keywords = excluded.keywords,
       visits = excluded.visits, worth = excluded.worth`,
    [siteId, marketId, onSite, row.month, row.within3, row.within10, row.within30, row.keywords, row.visits, row.worth],
  )
}
/** Months of sites by the feed and by the ads data, oldest first; what one of them was not asked for is null. */
export async function manyMonths(
  db: Db,
  { siteId, marketId }: InMarket,
  domains: readonly string[],
): Promise<RivalMonth[]> {
  const { rows } = await db.query<RivalMonth>(
    `select s.domain, u.month, m.within3, m.within10, m.within30, m.keywords, m.visits,
       coalesce(m.visits * w.visit_worth, m.worth) worth, p.keywords paid, p.spend
     from (
       select on_site, month from ranking_month where site_id = $1 and market_id = $2
       union select on_site, month from paid_month where site_id = $1 and market_id = $2
     ) u
     join result_site s on s.site_id = $1 and s.id = u.on_site and s.domain = any($3)
     join site w on w.id = $1
     left join ranking_month m on m.site_id = $1 and m.market_id = $2 and m.on_site = u.on_site and m.month = u.month
     left join paid_month p on p.site_id = $1 and p.market_id = $2 and p.on_site = u.on_site and p.month = u.month
     order by u.month, s.domain`,
    [siteId, marketId, domains],
  )
  return rows
}
/** Phrases of known keywords, in the order of their ids as given; those that are not there are left out. */
export async function manyKnownPhrases(db: Db, siteId: number, ids: readonly number[]): Promise<string[]> {
  const { rows } = await db.query<{ phrase: string }>(
    `select k.phrase from unnest($2::integer[]) with ordinality u (id, at)
     join known_keyword k on k.site_id = $1 and k.id = u.id order by u.at`,
    [siteId, ids],
  )
  return rows.map(row => row.phrase)
}
/** Ids of keywords by their phrases, in the order of these. */
export async function manyKeywordIds(
  db: Db,
  siteId: number,
  language: string,
  phrases: readonly string[],
): Promise<number[]> {
  const { rows } = await db.query<{ id: number }>(
    `select k.id from unnest($3::text[]) with ordinality u (phrase, at)
     join keyword k on k.site_id = $1 and k.language = $2 and k.phrase = u.phrase order by u.at`,
    [siteId, language, phrases],
  )
  return rows.map(row => row.id)
}
