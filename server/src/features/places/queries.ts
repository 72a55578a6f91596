import type { Business, ListedBusiness, PlaceGrid } from '@dew-trail/contract/places'
import type { Db } from '../../platform/db/pool.ts'
import type { SourceListing } from '../../sources/ask-places.ts'

export type GridRow = Omit<PlaceGrid, 'businesses' | 'runs' | 'schedule'> & { businessIds: number[] }
const gridSql = `select id, name, town, town_name "townName", engine, language, keywords,
  business_ids::integer[] "businessIds", latitude, longitude,
  size, spacing, depth, left_out "leftOut", version from place_grid where site_id = $1 and removed_at is null`
export async function manyGrids(db: Db, siteId: number): Promise<GridRow[]> {
  return (await db.query<GridRow>(`${gridSql} order by id desc`, [siteId])).rows
}
export async function maybeGrid(db: Db, siteId: number, gridId: number): Promise<GridRow | undefined> {
  return (await db.query<GridRow>(`${gridSql} and id = $2`, [siteId, gridId])).rows[0]
}
export type NewGrid = Omit<GridRow, 'id' | 'leftOut' | 'version' | 'depth'>
export async function insertGrid(db: Db, siteId: number, grid: NewGrid): Promise<number> {
  const { rows } = await db.query<{ id: number }>(
    `insert into place_grid (site_id, name, town, town_name, engine, language, keywords, business_ids, latitude,
      longitude, size, spacing)
     values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12) returning id`,
    [
      siteId,
      grid.name,
      grid.town,
      grid.townName,
      grid.engine,
      grid.language,
      grid.keywords,
      grid.businessIds,
      grid.latitude,
      grid.longitude,
      grid.size,
      grid.spacing,
    ],
  )
  return rows[0]!.id
}
/** What of a grid can be changed. */
export type GridChange = { name: string; keywords: string[]; leftOut: number[] }
export async function updateGrid(db: Db, siteId: number, gridId: number, change: GridChange): Promise<void> {
  await db.query(
    `update place_grid set name = $3, keywords = $4, left_out = $5, version = version + 1
      where site_id = $1 and id = $2`,
    [siteId, gridId, change.name, change.keywords, change.leftOut],
  )
}
/** Marks a grid or a run as removed, or takes that back; how many rows are otherwise now. */
export async function setRemoved(
  db: Db,
  table: 'place_grid' | 'place_run',
  siteId: number,
  id: number,
  removed: boolean,
): Promise<number> {
  const { rowCount } = await db.query(
    `update ${table} set removed_at = case when $3 then now() end
     where site_id = $1 and id = $2 and (removed_at is null) = $3`,
    [siteId, id, removed],
  )
  return rowCount ?? 0
}

export type RunRow = {
  id: number
  gridId: number
  day: string
  keywords: string[]
  leftOut: number[]
  jobId: number | null
  checked: number
}
const runSql = `select r.id, r.grid_id "gridId", r.day, r.keywords, r.left_out "leftOut", r.job_id "jobId",
    (select count(*)::integer from place_point p where p.site_id = $1 and p.run_id = r.id) checked
  from place_run r where r.site_id = $1 and r.removed_at is null`
export async function manyRuns(db: Db, siteId: number, gridId: number | null): Promise<RunRow[]> {
  const { rows } = await db.query<RunRow>(
    `${runSql} and ($2::bigint is null or r.grid_id = $2) order by r.day desc, r.id desc`,
    [siteId, gridId],
  )
  return rows
}
export async function maybeRun(db: Db, siteId: number, runId: number): Promise<RunRow | undefined> {
  return (await db.query<RunRow>(`${runSql} and r.id = $2`, [siteId, runId])).rows[0]
}
export async function insertRun(
  db: Db,
  siteId: number,
  run: Pick<RunRow, 'gridId' | 'day' | 'keywords' | 'leftOut'>,
): Promise<number> {
  const { rows } = await db.query<{ id: number }>(
    `insert into place_run (site_id, grid_id, day, keywords, left_out) values ($1, $2, $3, $4, $5) returning id`,
    [siteId, run.gridId, run.day, run.keywords, run.leftOut],
  )
  return rows[0]!.id
}
export async function setRunJob(db: Db, siteId: number, runId: number, jobId: number): Promise<void> {
  await db.query('update place_run set job_id = $3 where site_id = $1 and id = $2', [siteId, runId, jobId])
}

/** Whether a run of a grid is under way, paused or waiting. */
export async function hasOpenRun(db: Db, siteId: number, gridId: number): Promise<boolean> {
  const { rows } = await db.query<{ open: boolean }>(
    `select exists (select from place_run r join job j on j.id = r.job_id and j.ended_at is null
       where r.site_id = $1 and r.grid_id = $2 and r.removed_at is null) open`,
    [siteId, gridId],
  )
  return rows[0]!.open
}

/** What was listed at the checked points of a run, of one keyword or of all. */
export type PointRow = { runId: number; keyword: number; point: number; listings: number[] }
export async function manyPoints(
  db: Db,
  siteId: number,
  runIds: readonly number[],
  keyword: number | null,
): Promise<PointRow[]> {
  const { rows } = await db.query<PointRow>(
    `select run_id "runId", keyword, point, listings from place_point
     where site_id = $1 and run_id = any($2) and ($3::integer is null or keyword = $3)
       order by run_id, keyword, point`,
    [siteId, runIds, keyword],
  )
  return rows
}
export async function insertPoints(db: Db, siteId: number, runId: number, points: readonly Omit<PointRow, 'runId'>[]) {
  await db.query(
    `insert into place_point (site_id, run_id, keyword, point, listings)
     select $1, $2, keyword, point, array(select jsonb_array_elements_text(listings)::integer)
     from jsonb_to_recordset($3) p (keyword smallint, point smallint, listings jsonb) on conflict do nothing`,
    [siteId, runId, JSON.stringify(points)],
  )
}

/** Keeps what businesses are told to be, and gives their numbers by what the source calls them. */
export async function upsertBusinesses(
  db: Db,
  siteId: number,
  listings: readonly SourceListing[],
  day: string,
): Promise<Map<string, number>> {
  const { rows } = await db.query<{ id: number; source_id: string }>(
    `insert into place_business (site_id, source_id, name, category, street, phone, url, rating, reviews, photos,
      hours,
       opened_on, latitude, longitude, seen_on)
     select $1, b.id, b.name, b.category, b.street, b.phone, b.url, b.rating, b.reviews, b.photos, b.hours,
       b.opened_on,
       b.latitude, b.longitude, $3
     from jsonb_to_recordset($2) b (id text, name text, category text, street text, phone text, url text, rating real,
       reviews integer, photos integer, hours text, opened_on date, latitude float8, longitude float8)
     on conflict (site_id, source_id) do update set name = excluded.name, category = excluded.category,
       street = excluded.street, phone = excluded.phone, url = excluded.url, rating = excluded.rating,
       reviews = excluded.reviews, photos = excluded.photos, hours = excluded.hours, opened_on = excluded.opened_on,
       latitude = excluded.latitude, longitude = excluded.longitude, seen_on = excluded.seen_on
     where place_business.seen_on <= excluded.seen_on
     returning id, source_id`,
    [siteId, JSON.stringify(listings), day],
  )
  const numbers = new Map(rows.map(row => [row.source_id, row.id]))
  // Rows that a newer look has written are not given back.
  const missing = listings.filter(each => !numbers.has(each.id)).map(each => each.id)
  if (missing.length) {
    const known = await db.query<{ id: number; source_id: string }>(
      'select id, source_id from place_business where site_id = $1 and source_id = any($2)',
      [siteId, missing],
    )
    for (const row of known.rows) numbers.set(row.source_id, row.id)
  }
  return numbers
}
export type BusinessRow = Omit<ListedBusiness, 'own' | 'rival'>
export async function manyBusinesses(db: Db, siteId: number, ids: readonly number[]): Promise<BusinessRow[]> {
  const { rows } = await db.query<BusinessRow>(
    `select id number, source_id id, name, category, street, phone, url, rating, reviews, photos, hours,
      opened_on "openedOn",
       latitude, longitude from place_business where site_id = $1 and id = any($2) order by id`,
    [siteId, ids],
  )
  return rows
}
export async function manyRivalDomains(db: Db, siteId: number): Promise<string[]> {
  const { rows } = await db.query<{ domain: string }>(
    `select domain from rival where site_id = $1 and state = 'accepted'`,
    [siteId],
  )
  return rows.map(row => row.domain)
}

/** Words of the keywords that a site keeps. */
export async function manyKeptWords(db: Db, siteId: number, most: number): Promise<string[]> {
  const { rows } = await db.query<{ word: string }>(
    `select word from (select phrase from keyword where site_id = $1 and kept_at is not null limit $2) k
     cross join lateral regexp_split_to_table(lower(k.phrase), '[^[:alpha:]]+') word
     where length(word) > 2 group by 1`,
    [siteId, most],
  )
  return rows.map(row => row.word)
}
/** What the link graph knows of some sites: text of their home pages, and whether they are of a network made to link. */
export async function manySiteTexts(
  db: Db,
  domains: readonly string[],
): Promise<Array<{ domain: string; text: string | null; networked: boolean }>> {
  const { rows } = await db.query<{ domain: string; text: string | null; networked: boolean }>(
    `select d.domain, (select concat_ws(' ', c.title, left(c.text, 4000)) from linked_page p
         join page_content c on c.graph_id = 1 and c.page_id = p.id
         where p.graph_id = 1 and p.site_id = d.id and c.status = 200 and p.url ~ '^https?://[^/]+/$' limit 1) "text",
       exists (select from site_standing t where t.graph_id = 1 and t.site_id = d.id and t.network is not null
         and t.snapshot_id = (select max(id) from graph_snapshot where graph_id = 1)) networked
     from linked_site d where d.graph_id = 1 and d.domain = any($1)`,
    [domains],
  )
  return rows
}
export const plainBusiness = ({ opened_on, ...listing }: SourceListing): Business => ({
  ...listing,
  openedOn: opened_on,
})
