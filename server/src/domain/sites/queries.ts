import type { AveragePeriod } from '@dew-trail/core/demand/average-searches'
import { dropNext, idSequence, nextRevision } from '../../platform/db/site-partition.ts'
import type { Market, Trail } from '@dew-trail/contract/sites'
import type { Db } from '../../platform/db/pool.ts'

export type SiteRow = {
  id: number
  domain: string
  name: string
  linkingSites: number | null
  linksAskedOn: string | null
  ageYears: number | null
  refreshWeighings: boolean
  visitWorth: number | null
  firstShare: number | null
  averageMonths: AveragePeriod
  markets: Market[]
}

const siteSql = `select s.id, s.domain, s.name, known_linking_sites(f.linking_sites, s.domain) "linkingSites",
  f.links_at::date::text "linksAskedOn", ((current_date - f.registered_on) / 365.25)::float8 "ageYears",
  s.refresh_weighings "refreshWeighings", s.visit_worth "visitWorth",
  s.first_share "firstShare", s.average_months "averageMonths",
  coalesce((select json_agg(json_build_object('id', m.id, 'engine', m.engine, 'place', m.place, 'language',
    m.language, 'device', m.device, 'name', m.name, 'paused', m.paused) order by m.id)
    from market m where m.site_id = s.id), '[]') markets
  from site s left join site_fact f on f.domain = s.domain`

export async function manySites(db: Db): Promise<SiteRow[]> {
  return (await db.query<SiteRow>(`${siteSql} where s.removed_at is null order by s.id`)).rows
}
export async function maybeSite(db: Db, siteId: number): Promise<SiteRow | undefined> {
  return (await db.query<SiteRow>(`${siteSql} where s.id = $1 and s.removed_at is null`, [siteId])).rows[0]
}
/** Changes what is given of a site; a worth or a share of `null` takes it away. */
export async function updateSite(
  db: Db,
  siteId: number,
  {
    refreshWeighings,
    name,
    visitWorth,
    firstShare,
  }: {
    refreshWeighings?: boolean | undefined
    name?: string | undefined
    visitWorth?: number | null | undefined
    firstShare?: number | null | undefined
  },
): Promise<void> {
  await db.query(
    `update site set refresh_weighings = coalesce($2, refresh_weighings), name = coalesce($3, name),
       visit_worth = case when $4 then $5 else visit_worth end,
       first_share = case when $6 then $7 else first_share end where id = $1`,
    [
      siteId,
      refreshWeighings ?? null,
      name ?? null,
      visitWorth !== undefined,
      visitWorth ?? null,
      firstShare !== undefined,
      firstShare ?? null,
    ],
  )
}
/** Changes what is given of a market; a name of `null` takes its name away. */
export async function updateMarket(
  db: Db,
  siteId: number,
  marketId: number,
  { name, paused }: { name?: string | null | undefined; paused?: boolean | undefined },
): Promise<void> {
  await db.query(
    `update market set name = case when $3 then $4 else name end, paused = coalesce($5, paused)
     where site_id = $1 and id = $2`,
    [siteId, marketId, name !== undefined, name || null, paused ?? null],
  )
}
/** Removes a market with its positions, weighings and results; gatherings made in it pass to another market of the site. */
export async function deleteMarket(db: Db, siteId: number, marketId: number, heirId: number): Promise<void> {
  await db.query('update gathering set market_id = $3 where site_id = $1 and market_id = $2', [
    siteId,
    marketId,
    heirId,
  ])
  for (const table of ['result_row', 'result_head', 'result_month', 'known_ranking'])
    await db.query(`delete from ${table} where site_id = $1 and market_id = $2`, [siteId, marketId])
  await db.query(`delete from schedule where site_id = $1 and (subject->>'marketId')::bigint = $2`, [siteId, marketId])
  await db.query('delete from market where site_id = $1 and id = $2', [siteId, marketId])
}
/** How long a removed site can be brought back. */
const graceHours = 24
export async function markRemoved(db: Db, siteId: number): Promise<void> {
  await db.query('update site set removed_at = now() where id = $1', [siteId])
}
/** Removed sites that are still there, and when each goes for good. */
export async function manyRemovedSites(db: Db): Promise<Array<{ siteId: number; domain: string; goesAt: Date }>> {
  const { rows } = await db.query<{ siteId: number; domain: string; goesAt: Date }>(
    `select id "siteId", domain, removed_at + interval '${graceHours} hours' "goesAt" from site
     where removed_at is not null order by removed_at`,
  )
  return rows
}
/** Brings a removed site back; false where there is none of this id. */
export async function unmarkRemoved(db: Db, siteId: number): Promise<boolean> {
  const { rowCount } = await db.query('update site set removed_at = null where id = $1 and removed_at is not null', [
    siteId,
  ])
  return (rowCount ?? 0) > 0
}
/** Removes a site with everything of it; a trigger drops its partitions and sequences. */
export async function deleteSite(db: Db, siteId: number): Promise<void> {
  await dropNext(db, siteId)
  await db.query('delete from site where id = $1', [siteId])
}
/** The new site's id, or undefined when the domain is taken. */
export async function insertSite(db: Db, domain: string, name: string): Promise<number | undefined> {
  return (
    await db.query<{ id: number }>(
      'insert into site (domain, name) values ($1, $2) on conflict (domain) do nothing returning id',
      [domain, name],
    )
  ).rows[0]?.id
}
/** Id of a market of the site, made when it is not there yet. */
export async function oneMarketId(
  db: Db,
  siteId: number,
  market: { engine: string; place: string; language: string; device: string },
): Promise<number> {
  const values = [siteId, market.engine, market.place, market.language, market.device]
  await db.query(
    `insert into market (site_id, engine, place, language, device) values ($1, $2, $3, $4, $5)
      on conflict do nothing`,
    values,
  )
  return (
    await db.query<{ id: number }>(
      'select id from market where site_id = $1 and engine = $2 and place = $3 and language = $4 and device = $5',
      values,
    )
  ).rows[0]!.id
}
export async function maybeMarket(db: Db, siteId: number, marketId: number): Promise<Market | undefined> {
  return (
    await db.query<Market>(
      'select id, engine, place, language, device, name, paused from market where site_id = $1 and id = $2',
      [siteId, marketId],
    )
  ).rows[0]
}
const ofLanguage = `($2::bigint is null or k.language = (select language from market where site_id = $1 and id = $2))`
/** Of keywords of a market's language, as they stand in that market; without a market of all. `themes`: those of its current grouping. */
export async function oneTrail(db: Db, siteId: number, marketId: number | null): Promise<Trail> {
  const { rows } = await db.query<Trail>(
    `select own.found, own.kept,
       (select count(distinct w.keyword_id) from weighing w
       join keyword k on k.site_id = w.site_id and k.id = w.keyword_id
          where w.site_id = $1 and ($2::bigint is null or w.market_id = $2) and w.state = 'known'
            and k.kept_at is not null) weighed,
       (select count(*) from theme t join keyword_grouping g on g.site_id = t.site_id and g.id = t.grouping_id
          where t.site_id = $1 and g.market_id = $2 and g.is_current and g.removed_at is null) themes,
       (select count(*) from page_plan_keyword pk
          join keyword k on k.site_id = pk.site_id and k.id = pk.keyword_id and ${ofLanguage}
          join page_plan p on p.site_id = pk.site_id and p.id = pk.page_id and p.removed_at is null
          where pk.site_id = $1) planned,
       (select count(*) from page_plan where site_id = $1 and removed_at is null) pages,
       (select count(*) from tracked_keyword t
          join keyword k on k.site_id = t.site_id and k.id = t.keyword_id and ${ofLanguage}
          where t.site_id = $1 and t.active
            and ($2::bigint is null or t.market_ids is null or $2 = any(t.market_ids))) tracked
     from (select count(*) found, count(k.kept_at) kept from keyword k where k.site_id = $1 and ${ofLanguage}) own`,
    [siteId, marketId],
  )
  return rows[0]!
}
/** Holds the site's write lock to the end of the transaction, so that revisions appear in order. */
export async function lockSite(db: Db, siteId: number): Promise<void> {
  await db.query('select pg_advisory_xact_lock(72003, $1)', [siteId])
}
/** Lets this transaction take single keyword ids: runs of them (`reserveKeywordIds`) wait for its end, since they move the sequence by hand. */
export async function shareKeywordIds(db: Db, siteId: number): Promise<void> {
  await db.query('select pg_advisory_xact_lock_shared(72004, $1)', [siteId])
}
/**
 * Takes a run of keyword ids and gives the last of them. Numbering rows by the sequence itself would keep the database from sorting them
 * with several processes. Call in a transaction of its own, which others wait for.
 */
export async function reserveKeywordIds(db: Db, siteId: number, count: number): Promise<number> {
  await db.query('select pg_advisory_xact_lock(72004, $1)', [siteId])
  const { rows } = await db.query<{ last: number }>(
    `select setval('${idSequence(siteId)}', last_value + $1 + 1) last from ${idSequence(siteId)}`,
    [count],
  )
  return rows[0]!.last
}
/** Gives rows new revisions; call under `lockSite`. */
export async function touchKeywords(db: Db, siteId: number, keywordIds: number[]): Promise<void> {
  if (keywordIds.length)
    await db.query(`update keyword set revision = ${nextRevision(siteId)} where site_id = $1 and id = any($2)`, [
      siteId,
      keywordIds,
    ])
}
/** The same for every tracked keyword. */
export async function touchTracked(db: Db, siteId: number): Promise<void> {
  await db.query(
    `update keyword k set revision = ${nextRevision(siteId)} from tracked_keyword t where k.site_id = $1
      and t.site_id = $1 and t.keyword_id = k.id and t.active`,
    [siteId],
  )
}
/** The same for the tracked keywords of some slots. */
export async function touchSlots(db: Db, siteId: number, slots: number[]): Promise<void> {
  if (slots.length)
    await db.query(
      `update keyword k set revision = ${nextRevision(siteId)} from tracked_keyword t where k.site_id = $1
        and t.site_id = $1 and t.keyword_id = k.id and t.slot = any($2)`,
      [siteId, slots],
    )
}
/** Gives every keyword of the site a new revision; call under `lockSite`. */
export async function touchAllKeywords(db: Db, siteId: number): Promise<void> {
  await db.query(`update keyword set revision = ${nextRevision(siteId)} where site_id = $1`, [siteId])
}
export type BrandRow = { owner: string; own: boolean; wording: string }
export async function manyBrandWords(db: Db, siteId: number): Promise<BrandRow[]> {
  return (
    await db.query<BrandRow>(
      `select owner, own, wording from brand_word where site_id = $1
      order by owner, wording`,
      [siteId],
    )
  ).rows
}
export async function replaceBrandWords(db: Db, siteId: number, rows: readonly BrandRow[]): Promise<void> {
  await db.query('delete from brand_word where site_id = $1', [siteId])
  await db.query(
    `insert into brand_word (site_id, owner, own, wording) select $1, *
      from unnest($2::text[], $3::boolean[], $4::text[]) on conflict do nothing`,
    [siteId, rows.map(row => row.owner), rows.map(row => row.own), rows.map(row => row.wording)],
  )
}
/** Has the database look at the keyword tables again. Until it does so by itself, a large import is read by plans made for small tables. */
export async function analyzeKeywords(db: Db): Promise<void> {
  await db.query('analyze keyword, demand, finding')
}
