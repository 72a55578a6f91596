import type { Market } from '@dew-trail/contract/sites'
import type { Db } from '../../platform/db/pool.ts'

export type SlotRow = {
  keywordId: number
  slot: number
  phrase: string
  family: number
  searches: number | null
  /** Whether these are the least that the query log shows. */
  hidden: boolean
}
/**
 * Sets in which markets tracked keywords are checked (null: all of their language), and gives the ids of those that were otherwise before.
 * Call under the site's lock.
 */
export async function setTrackedMarkets(
  db: Db,
  siteId: number,
  keywordIds: number[],
  marketIds: number[] | null,
): Promise<number[]> {
  const { rows } = await db.query<{ id: number }>(
    `update tracked_keyword set market_ids = $3
     where site_id = $1 and keyword_id = any($2) and market_ids is distinct from $3 returning keyword_id id`,
    [siteId, keywordIds, marketIds],
  )
  return rows.map(row => row.id)
}
/** Gives tracked keywords their slots: old ones keep theirs, new ones get the next. Call under the site's lock. Returns the ids whose state changed. */
export async function setTracked(db: Db, siteId: number, keywordIds: number[], tracked: boolean): Promise<number[]> {
  if (!tracked)
    return (
      await db.query<{ id: number }>(
        `update tracked_keyword set active = false where site_id = $1 and keyword_id = any($2) and active
          returning keyword_id id`,
        [siteId, keywordIds],
      )
    ).rows.map(row => row.id)
  const { rows } = await db.query<{ id: number }>(
    `insert into tracked_keyword (site_id, keyword_id, slot, since)
     select $1, k.id, (select coalesce(max(slot) + 1, 0) from tracked_keyword where site_id = $1) + row_number()
       over (order by k.id) - 1, current_date
     from keyword k where k.site_id = $1 and k.id = any($2) and not exists (select 1 from tracked_keyword t
       where t.site_id = $1 and t.keyword_id = k.id and t.active)
       and not exists (select 1 from tracked_keyword t where t.site_id = $1 and t.keyword_id = k.id
         and not t.active) returning keyword_id id`,
    [siteId, keywordIds],
  )
  const again = await db.query<{ id: number }>(
    `update tracked_keyword set active = true where site_id = $1 and keyword_id = any($2) and not active
      returning keyword_id id`,
    [siteId, keywordIds],
  )
  return [...rows, ...again.rows].map(row => row.id)
}
/** Keywords that are tracked in a market, with their slots and the searches of its place. */
export async function manySlots(
  db: Db,
  siteId: number,
  { id, place, language }: Pick<Market, 'id' | 'place' | 'language'>,
): Promise<SlotRow[]> {
  const { rows } = await db.query<SlotRow>(
    `select t.keyword_id "keywordId", t.slot, k.phrase, hashtext(k.family) family, d.searches,
       d.hidden_searches is not null hidden
     from tracked_keyword t
      join keyword k on k.site_id = t.site_id and k.id = t.keyword_id
     left join demand d on d.site_id = t.site_id and d.keyword_id = t.keyword_id and d.place = $2
       where t.site_id = $1 and t.active and k.language = $3 and (t.market_ids is null or $4 = any(t.market_ids))
     order by d.searches desc nulls last, k.phrase`,
    [siteId, place, language, id],
  )
  return rows
}
export type RowFacts = { keywordId: number; since: string; labels: string | null; planned: string | null }
/** Of tracked keywords: since when, their labels, and the address of the page that the plan has for each. */
export async function manyRowFacts(
  db: Db,
  siteId: number,
  keywordIds: readonly number[] | null = null,
): Promise<RowFacts[]> {
  const { rows } = await db.query<RowFacts>(
    `select t.keyword_id "keywordId", t.since::text "since", l.labels, p.address planned from tracked_keyword t
     left join (select k.keyword_id, string_agg(n.name, '|' order by n.name) labels from list n
       join list_keyword k on k.site_id = $1 and k.list_id = n.id where n.site_id = $1 and n.kind = 'label'
       group by 1) l on l.keyword_id = t.keyword_id
     left join page_plan_keyword pk on pk.site_id = $1 and pk.keyword_id = t.keyword_id
     left join page_plan p on p.site_id = $1 and p.id = pk.page_id and p.removed_at is null and p.state = 'published'
     where t.site_id = $1 and t.active and ($2::bigint[] is null or t.keyword_id = any($2))`,
    [siteId, keywordIds],
  )
  return rows
}
export async function maybeSlot(
  db: Db,
  siteId: number,
  keywordId: number,
): Promise<{ slot: number; phrase: string } | undefined> {
  return (
    await db.query<{ slot: number; phrase: string }>(
      `select t.slot, k.phrase from tracked_keyword t join keyword k on k.site_id = t.site_id
        and k.id = t.keyword_id where t.site_id = $1 and t.keyword_id = $2`,
      [siteId, keywordId],
    )
  ).rows[0]
}
export type ToCheck = {
  keywordId: number
  slot: number
  phrase: string
  language: string
  /** Null: all of its language. */
  marketIds: number[] | null
}
/** Whether a tracked keyword is checked in a market. */
export const isCheckedIn = (
  { language, marketIds }: Pick<ToCheck, 'language' | 'marketIds'>,
  market: Pick<Market, 'id' | 'language'>,
): boolean => language === market.language && (marketIds === null || marketIds.map(Number).includes(market.id))
/** Keywords to check with the language they are in and their markets. */
export async function manyToCheck(db: Db, siteId: number, keywordIds: number[] | null): Promise<ToCheck[]> {
  const { rows } = await db.query<ToCheck>(
    `select t.keyword_id "keywordId", t.slot, k.phrase, k.language, t.market_ids "marketIds" from tracked_keyword t
      join keyword k on k.site_id = t.site_id and k.id = t.keyword_id
     where t.site_id = $1 and t.active and ($2::bigint[] is null or t.keyword_id = any($2)) order by t.slot`,
    [siteId, keywordIds],
  )
  return rows
}
export async function manySearchesBySlot(
  db: Db,
  siteId: number,
  place: string,
): Promise<Array<{ slot: number; searches: number | null }>> {
  return (
    await db.query<{ slot: number; searches: number | null }>(
      `select t.slot, d.searches from tracked_keyword t left join demand d on d.site_id = t.site_id
        and d.keyword_id = t.keyword_id and d.place = $2 where t.site_id = $1`,
      [siteId, place],
    )
  ).rows
}
