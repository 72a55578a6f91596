import type { AnyImportKind } from '@dew-trail/contract/imports'
import type pg from 'pg'
import type { Db } from '../db/pool.ts'

export type ImportRow = {
  id: number
  siteId: number
  kind: AnyImportKind
  fileName: string
  filePath: string
  encoding: string
  separator: string
  mapping: Record<string, number> | null
}

export async function insertImport(db: Db, row: Omit<ImportRow, 'id' | 'mapping'>): Promise<number> {
  const { rows } = await db.query<{ id: number }>(
    'insert into import (site_id, kind, file_name, file_path, encoding, separator) values ($1, $2, $3, $4, $5, $6) returning id',
    [row.siteId, row.kind, row.fileName, row.filePath, row.encoding, row.separator],
  )
  return rows[0]!.id
}
export async function maybeImport(db: Db, siteId: number, importId: number): Promise<ImportRow | undefined> {
  const { rows } = await db.query<ImportRow>(
    'select id, site_id "siteId", kind, file_name "fileName", file_path "filePath", encoding, separator, mapping from import where site_id = $1 and id = $2',
    [siteId, importId],
  )
  return rows[0]
}
export async function setMapping(db: Db, importId: number, mapping: Record<string, number>): Promise<void> {
  await db.query('update import set mapping = $2 where id = $1', [importId, mapping])
}
/** Puts another file in the place of an import's, with a name that tells both. */
export async function setFile(db: Db, importId: number, filePath: string, fileName: string): Promise<void> {
  await db.query(
    "update import set file_path = $2, file_name = file_name || ' and ' || $3, mapping = '{}' where id = $1",
    [importId, filePath, fileName],
  )
}
export async function clearErrors(db: Db, importId: number): Promise<void> {
  await db.query('delete from import_error where import_id = $1', [importId])
}
export async function insertErrors(
  db: Db,
  importId: number,
  errors: Array<{ line: number; what: string; value: string }>,
): Promise<void> {
  if (errors.length)
    await db.query(
      'insert into import_error (import_id, line, what, value) select $1, * from unnest($2::bigint[], $3::text[], $4::text[])',
      [importId, errors.map(e => e.line), errors.map(e => e.what), errors.map(e => e.value)],
    )
}
export async function manyErrors(
  db: Db,
  importId: number,
): Promise<Array<{ line: number; what: string; value: string }>> {
  return (
    await db.query<{ line: number; what: string; value: string }>(
      'select line, what, value from import_error where import_id = $1 order by line',
      [importId],
    )
  ).rows
}

/** The staging table of one import run: made afresh on the connection that loads it. */
export async function makeKeywordStage(client: pg.PoolClient): Promise<void> {
  await client.query(
    'create temp table keyword_stage (line bigint, phrase text collate "C", searches real, cpc real, competition real) on commit drop',
  )
}

/**
 * Settles the staged rows in `keyword_last`: of a phrase the last line, with the id of the keyword or a new one. Ids are settled once,
 * under the site's lock, so that no row is written twice and demand needs no join: looking the fresh keywords up again took most of
 * the time.
 */
export async function settleKeywordStage(client: pg.PoolClient, siteId: number, language: string): Promise<void> {
  await client.query(
    `create temp table keyword_last on commit drop as
     select coalesce(k.id, nextval('keyword_id')) id, k.id is null is_new, s.* from (select distinct on (phrase) * from keyword_stage order by phrase, line desc) s
     left join keyword k on k.site_id = ${Number(siteId)} and k.language = ${client.escapeLiteral(language)} and k.phrase = s.phrase`,
  )
  await client.query('analyze keyword_last (is_new)')
}

/** Touches the keywords that were there before. Gives how many. */
export async function touchStaged(client: pg.PoolClient, siteId: number, keep: boolean): Promise<number> {
  const { rowCount } = await client.query(
    `update keyword k set revision = nextval('keyword_revision'), kept_at = case when $2 then coalesce(k.kept_at, now()) else k.kept_at end
     from keyword_last s where k.site_id = $1 and k.id = s.id and not s.is_new`,
    [siteId, keep],
  )
  return rowCount ?? 0
}

/** Writes the figures of the settled rows. New keywords have none yet, so theirs are written without looking. Gives how many. */
export async function saveStagedDemand(client: pg.PoolClient, siteId: number, place: string): Promise<number> {
  const insert = (which: string): string =>
    `insert into demand (site_id, keyword_id, place, source, state, average, cpc, competition, fetched_at)
     select $1::bigint, id, $2, 'import', 'known', searches, cpc, competition, now() from keyword_last where ${which} and (searches is not null or cpc is not null or competition is not null)`
  const fresh = await client.query(insert('is_new'), [siteId, place])
  const known = await client.query(
    `${insert('not is_new')}
     on conflict (site_id, keyword_id, place) do update set state = 'known',
       source = case when excluded.average is not null or demand.average is null then 'import' else demand.source end,
       fetched_at = case when excluded.average is not null or demand.average is null then now() else demand.fetched_at end,
       cpc_source = case when excluded.cpc is not null then 'import' when demand.cpc is not null then coalesce(demand.cpc_source, demand.source) end,
       cpc_at = case when excluded.cpc is not null then now() when demand.cpc is not null then coalesce(demand.cpc_at, demand.fetched_at) end,
       competition_source = case when excluded.competition is not null then 'import' when demand.competition is not null then coalesce(demand.competition_source, demand.source) end,
       competition_at = case when excluded.competition is not null then now() when demand.competition is not null then coalesce(demand.competition_at, demand.fetched_at) end,
       average = coalesce(excluded.average, demand.average),
       cpc = coalesce(excluded.cpc, demand.cpc), competition = coalesce(excluded.competition, demand.competition),
       mobile_share = case when excluded.average is null then demand.mobile_share end, worldwide = case when excluded.average is null then demand.worldwide end,
       months = case when excluded.average is null then demand.months end, months_from = case when excluded.average is null then demand.months_from end,
       trend = case when excluded.average is null then demand.trend end, yearly = case when excluded.average is null then demand.yearly end, season = case when excluded.average is null then demand.season end,
       peaks = case when excluded.average is null then demand.peaks end, rounded = case when excluded.average is null then demand.rounded end, low = case when excluded.average is null then demand.low end,
       high = case when excluded.average is null then demand.high end`,
    [siteId, place],
  )
  return (fresh.rowCount ?? 0) + (known.rowCount ?? 0)
}
