import type { Grouping, GroupBasis, GroupMethod } from '@dew-trail/contract/group'
import { touchMembers } from '../../domain/themes/queries.ts'
import type { Db } from '../../platform/db/pool.ts'

const columns = `g.id, g.market_id "marketId", g.name, g.source->>'name' source, g.basis, g.threshold, g.method, g.compared,
  g.searches_from "searchesFrom", g.oldest_days "oldestDays", g.left_out "leftOut", g.is_current current,
  g.created_at "createdAt", g.grouped_at "groupedAt", g.job_id "jobId", j.state "jobState", g.version,
  coalesce(k.keywords, 0) keywords, coalesce(k.grouped, 0) grouped, coalesce(t.themes, 0) themes`
const joins = `from keyword_grouping g left join job j on j.id = g.job_id
  left join lateral (select count(*) keywords, count(theme_id) grouped from theme_keyword
    where site_id = $1 and grouping_id = g.id) k on true
  left join lateral (select count(*) themes from theme where site_id = $1 and grouping_id = g.id) t on true`
type Row = Omit<Grouping, 'createdAt' | 'groupedAt'> & { createdAt: Date; groupedAt: Date | null }
const toGrouping = (row: Row): Grouping => ({
  ...row,
  createdAt: row.createdAt.toISOString(),
  groupedAt: row.groupedAt?.toISOString() ?? null,
})

export async function manyGroupings(db: Db, siteId: number, marketId: number): Promise<Grouping[]> {
  const { rows } = await db.query<Row>(
    `select ${columns} ${joins} where g.site_id = $1 and g.market_id = $2 and g.removed_at is null
     order by g.is_current desc, g.id desc`,
    [siteId, marketId],
  )
  return rows.map(toGrouping)
}
/** A grouping that is known to be of the site; a removed one too. */
export async function oneGrouping(db: Db, siteId: number, groupingId: number): Promise<Grouping> {
  const { rows } = await db.query<Row>(`select ${columns} ${joins} where g.site_id = $1 and g.id = $2`, [
    siteId,
    groupingId,
  ])
  return toGrouping(rows[0]!)
}

export type NewGrouping = {
  marketId: number
  name: string
  source: { kind: string; name: string }
  basis: GroupBasis
  compared: 10 | 20
  searchesFrom: Grouping['searchesFrom']
  oldestDays: number
}
export async function insertGrouping(db: Db, siteId: number, row: NewGrouping): Promise<number> {
  const { rows } = await db.query<{ id: number }>(
    `insert into keyword_grouping (site_id, market_id, name, source, basis, searches_from, oldest_days, compared)
     values ($1, $2, $3, $4, $5, $6, $7, $8) returning id`,
    [siteId, row.marketId, row.name, row.source, row.basis, row.searchesFrom, row.oldestDays, row.compared],
  )
  return rows[0]!.id
}
export async function insertMembers(
  db: Db,
  siteId: number,
  groupingId: number,
  keywords: ReadonlyArray<{ id: number; searches?: number | null }>,
): Promise<void> {
  await db.query(
    `insert into theme_keyword (site_id, grouping_id, keyword_id, searches)
     select $1, $2, * from unnest($3::bigint[], $4::real[]) on conflict do nothing`,
    [siteId, groupingId, keywords.map(each => each.id), keywords.map(each => each.searches ?? null)],
  )
}
export async function setGroupingJob(db: Db, siteId: number, groupingId: number, jobId: number): Promise<void> {
  await db.query('update keyword_grouping set job_id = $3 where site_id = $1 and id = $2', [siteId, groupingId, jobId])
}
export type GroupingChange = {
  name?: string
  leftOut?: string[]
  oldestDays?: number
  threshold?: number
  method?: GroupMethod
  basis?: GroupBasis
  removed?: boolean
  grouped?: true
}
/** Changes what is given of a grouping and gives its new version. */
export async function updateGrouping(
  db: Db,
  siteId: number,
  groupingId: number,
  change: GroupingChange,
): Promise<number> {
  const { rows } = await db.query<{ version: number }>(
    `update keyword_grouping set version = version + 1, name = coalesce($3, name), left_out = coalesce($4, left_out),
       oldest_days = coalesce($5, oldest_days), threshold = coalesce($6, threshold), method = coalesce($7, method),
       basis = coalesce($8, basis), grouped_at = case when $10 then now() else grouped_at end,
       removed_at = case when $9 then now() when not $9 then null else removed_at end,
       is_current = is_current and not coalesce($9, false)
     where site_id = $1 and id = $2 returning version`,
    [
      siteId,
      groupingId,
      change.name ?? null,
      change.leftOut ?? null,
      change.oldestDays ?? null,
      change.threshold ?? null,
      change.method ?? null,
      change.basis ?? null,
      change.removed ?? null,
      change.grouped ?? false,
    ],
  )
  return rows[0]!.version
}
/** Makes a grouping the current one of its market (null: none is), and gives which was before. */
export async function setCurrent(
  db: Db,
  siteId: number,
  marketId: number,
  groupingId: number | null,
): Promise<number | null> {
  const { rows: current } = await db.query<{ id: number }>(
    'select id from keyword_grouping where site_id = $1 and market_id = $2 and is_current',
    [siteId, marketId],
  )
  // Their rows show no theme, or another one.
  for (const { id } of current) await touchMembers(db, siteId, id)
  const { rows } = await db.query<{ id: number }>(
    `update keyword_grouping set is_current = false where site_id = $1 and market_id = $2 and is_current returning id`,
    [siteId, marketId],
  )
  if (groupingId !== null) {
    await db.query(
      `update keyword_grouping set is_current = true
      where site_id = $1 and id = $2`,
      [siteId, groupingId],
    )
    await touchMembers(db, siteId, groupingId)
  }
  return rows[0]?.id ?? null
}
export async function manyMemberIds(db: Db, siteId: number, groupingId: number): Promise<number[]> {
  const { rows } = await db.query<{ id: number }>(
    'select keyword_id id from theme_keyword where site_id = $1 and grouping_id = $2 order by 1',
    [siteId, groupingId],
  )
  return rows.map(row => row.id)
}
/** Those of some keywords of which no results, `depth` deep, are known in a market, or only older ones than `oldestDays` days (0: however old). */
export async function manyToFetch(
  db: Db,
  siteId: number,
  marketId: number,
  keywordIds: readonly number[],
  oldestDays: number,
  depth: number,
): Promise<number[]> {
  const { rows } = await db.query<{ id: number }>(
    `select i.id from unnest($3::bigint[]) i (id) where not exists (select from result_head h where h.site_id = $1
       and h.market_id = $2 and h.keyword_id = i.id and h.depth >= $5 and ($4::integer = 0
         or h.day >= current_date - $4::integer))
     order by 1`,
    [siteId, marketId, keywordIds, oldestDays, depth],
  )
  return rows.map(row => row.id)
}
export async function countWithoutSearches(
  db: Db,
  siteId: number,
  place: string,
  keywordIds: readonly number[],
): Promise<number> {
  const { rows } = await db.query<{ count: number }>(
    `select count(*) from unnest($3::bigint[]) i (id) where not exists (select from demand d where d.site_id = $1
       and d.keyword_id = i.id and d.place = $2 and d.searches is not null)`,
    [siteId, place, keywordIds],
  )
  return rows[0]!.count
}
