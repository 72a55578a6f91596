import type { AnyImportKind } from '@dew-trail/contract/imports'
import type pg from 'pg'
import type { Db } from '../../platform/db/pool.ts'
import { nextRevision } from '../../platform/db/site-partition.ts'

export type ImportRow = {
  id: number
  siteId: number
  kind: AnyImportKind
  fileName: string
  filePath: string
  encoding: string
  separator: string
  headerLine: number
  columns: number
  mapping: Record<string, number> | null
  /** What its kind needs to take it back; null: it has not run, or cannot be taken back any more. */
  brought: Record<string, unknown> | null
  takenBack: boolean
}

export async function insertImport(
  db: Db,
  row: Omit<ImportRow, 'id' | 'mapping' | 'brought' | 'takenBack'>,
): Promise<number> {
  const { rows } = await db.query<{ id: number }>(
    `insert into import (site_id, kind, file_name, file_path, encoding, separator, header_line, columns)
      values ($1, $2, $3, $4, $5, $6, $7, $8) returning id`,
    [row.siteId, row.kind, row.fileName, row.filePath, row.encoding, row.separator, row.headerLine, row.columns],
  )
  return rows[0]!.id
}
export async function maybeImport(db: Db, siteId: number, importId: number): Promise<ImportRow | undefined> {
  const { rows } = await db.query<ImportRow>(
    `select id, site_id "siteId", kind, file_name "fileName", file_path "filePath", encoding, separator,
      header_line "headerLine", columns, mapping, brought, taken_back_at is not null "takenBack" from import
      where site_id = $1 and id = $2`,
    [siteId, importId],
  )
  return rows[0]
}
/** Files that an import or a job may still read: those uploaded since a moment, and those of jobs that are open or ended since then. */
export async function manyFilesInUse(db: Db, since: Date): Promise<string[]> {
  const { rows } = await db.query<{ path: string }>(
    `select file_path path from import where created_at > $1
     union select unnest(array[payload->>'filePath', payload->>'verticesPath', i.file_path]) from job
       left join import i on i.site_id = job.site_id and i.id = (payload->>'importId')::bigint
       where job.kind like 'import%' and (ended_at is null or ended_at > $1)`,
    [since],
  )
  return rows.flatMap(({ path }) => (path ? [path] : []))
}
/** Notes by which columns an import ran. */
export async function setMapping(
  db: Db,
  siteId: number,
  importId: number,
  mapping: Record<string, number>,
): Promise<void> {
  await db.query('update import set mapping = $3 where site_id = $1 and id = $2', [siteId, importId, mapping])
}
/** Takes the second file of a graph for an import that waits for it; false when it waits for none. */
export async function setFile(
  db: Db,
  siteId: number,
  importId: number,
  filePath: string,
  fileName: string,
): Promise<boolean> {
  const { rowCount } = await db.query(
    `update import set file_path = $3, file_name = file_name || ' and ' || $4, mapping = '{}'
      where site_id = $1 and id = $2 and mapping is null`,
    [siteId, importId, filePath, fileName],
  )
  return rowCount === 1
}
export async function clearErrors(db: Db, siteId: number, importId: number): Promise<void> {
  await db.query('delete from import_error where site_id = $1 and import_id = $2', [siteId, importId])
}
export async function insertErrors(
  db: Db,
  siteId: number,
  importId: number,
  errors: Array<{ line: number; what: string; value: string }>,
): Promise<void> {
  if (errors.length)
    await db.query(
      `insert into import_error (site_id, import_id, line, what, value) select $1, $2, *
        from unnest($3::bigint[], $4::text[], $5::text[])`,
      [siteId, importId, errors.map(e => e.line), errors.map(e => e.what), errors.map(e => e.value)],
    )
}
export async function manyErrors(
  db: Db,
  siteId: number,
  importId: number,
): Promise<Array<{ line: number; what: string; value: string }>> {
  return (
    await db.query<{ line: number; what: string; value: string }>(
      'select line, what, value from import_error where site_id = $1 and import_id = $2 order by line',
      [siteId, importId],
    )
  ).rows
}

/** What the connections of a large import may take: sorting two million rows takes memory, and several of the database's processes. */
export const importSettings = { work_mem: '256MB', maintenance_work_mem: '512MB', parallel_tuple_cost: '0.01' }

/** Makes the staging table of an import. */
export async function makeKeywordStage(client: pg.PoolClient, siteId: number, importId: number): Promise<string> {
  const stage = `keyword_stage_${Number(siteId)}_${Number(importId)}`
  await client.query(
    `create unlogged table ${stage} (line bigint, phrase text collate "C", searches real, cpc real, competition real)`,
  )
  return stage
}

/** What an import of keywords alone brought, and nobody uses: not kept, tracked, planned, listed or grouped. */
const unused = `k.site_id = $1 and k.import_id = $2 and k.kept_at is null
  and not exists (select from tracked_keyword t where t.site_id = $1 and t.keyword_id = k.id and t.active)
  and not exists (select from page_plan_keyword p where p.site_id = $1 and p.keyword_id = k.id)
  and not exists (select from list_keyword l where l.site_id = $1 and l.keyword_id = k.id)`
/** Leaves out keywords that an import alone brought and nobody uses, or (`on` false) puts them back; gives how many. Call under `lockSite`. */
export async function takeKeywordsBack(db: Db, siteId: number, importId: number, on: boolean): Promise<number> {
  const { rowCount } = await db.query(
    `update keyword k set imported = not $3, revision = ${nextRevision(siteId)} where ${unused} and k.imported = $3`,
    [siteId, importId, on],
  )
  return rowCount ?? 0
}
export async function setTakenBack(db: Db, siteId: number, importId: number, on: boolean): Promise<void> {
  await db.query('update import set taken_back_at = case when $3 then now() end where site_id = $1 and id = $2', [
    siteId,
    importId,
    on,
  ])
}
/** Whether a job reads the file of an import now, or waits to. */
export async function isBeingRead(db: Db, siteId: number, importId: number): Promise<boolean> {
  const { rowCount } = await db.query(
    `select from job where site_id = $1 and kind like 'import%' and (payload->>'importId')::bigint = $2
       and ended_at is null limit 1`,
    [siteId, importId],
  )
  return rowCount === 1
}
/** Notes what an import needs to be taken back; false when that was noted before, by a run that was cut off. */
export async function noteBrought(db: Db, siteId: number, importId: number, brought: object): Promise<boolean> {
  const { rowCount } = await db.query(
    'update import set brought = $3 where site_id = $1 and id = $2 and brought is null',
    [siteId, importId, brought],
  )
  return rowCount === 1
}
/** The table of an import's settled rows (`settleKeywordStage`). */
export const settledTable = (siteId: number, importId: number): string =>
  `keyword_settled_${Number(siteId)}_${Number(importId)}`

/**
 * Settles the staged rows in a table for several connections to read: of a phrase the last figures, with the id of the keyword or a new
 * one. Ids are settled once, under the site's lock, so that no row is written twice and demand needs no join: looking the fresh
 * keywords up again took most of the time. Gives how many there are, how many of them are new and how many have figures.
 */
export async function settleKeywordStage(
  client: pg.PoolClient,
  input: { stage: string; settled: string; firstId: number; siteId: number; language: string },
): Promise<Settled> {
  const { stage, settled, firstId, siteId, language } = input
  // Without knowing how many phrases differ the database would look the keywords up one by one.
  await client.query(`analyze ${stage} (phrase)`)
  await client.query(
    `create unlogged table ${settled} as
     select coalesce(k.id, ${firstId - 1} + row_number() over ()) id, k.id is null is_new, s.*
       from (select distinct on (phrase) * from ${stage} order by phrase, line desc) s
     left join keyword k on k.site_id = ${Number(siteId)} and k.language = ${client.escapeLiteral(language)}
       and k.phrase = s.phrase`,
  )
  // A blank cell of a later line says nothing: each figure is the last that is known. Few files name a keyword twice.
  await client.query(
    `update ${settled} t set searches = d.searches, cpc = d.cpc, competition = d.competition from (
       select phrase, ${['searches', 'cpc', 'competition'].map(lastKnown).join(', ')} from ${stage}
       where phrase in (select phrase from ${stage} group by phrase having count(*) > 1) group by phrase) d
         where t.phrase = d.phrase`,
  )
  await client.query(`drop table ${stage}`)
  const { rows } = await client.query<Settled>(
    `select count(*) total, count(*) filter (where is_new) fresh, count(*)
      filter (where ${hasFigures}) "withDemand", coalesce(sum(octet_length(phrase))
      filter (where is_new), 0)::float8 bytes from ${settled}`,
  )
  const counts = rows[0]!
  // Only what was there before is joined with.
  if (counts.fresh < counts.total) await client.query(`analyze ${settled} (is_new)`)
  return counts
}
const lastKnown = (figure: string): string =>
  `(array_agg(${figure} order by line desc) filter (where ${figure} is not null))[1] ${figure}`
export type Settled = {
  total: number
  withDemand: number
  /** New keywords. */
  fresh: number
  /** Of the phrases of new keywords. */
  bytes: number
}
export const hasFigures = '(searches is not null or cpc is not null or competition is not null)'
