import type { AnyImportKind } from '@dew-trail/contract/imports'
import type { Db } from '../platform/db/pool.ts'

export async function addSourceUse(
  db: Db,
  use: { source: string; requests: number; failures: number; limited: number; lastFailure: string | null },
): Promise<void> {
  await db.query(
    `insert into source_use (source, day, requests, failures, limited, last_failure)
      values ($1, current_date, $2, $3, $4, $5)
     on conflict (source, day) do update set requests = source_use.requests + excluded.requests,
       failures = source_use.failures + excluded.failures,
       limited = source_use.limited + excluded.limited, last_failure = coalesce(excluded.last_failure,
         source_use.last_failure)`,
    [use.source, use.requests, use.failures, use.limited, use.lastFailure],
  )
}

export type Use = {
  source: string
  day: string
  requests: number
  failures: number
  limited: number
  lastFailure: string | null
}
/** Use of all sources over the last days, oldest first. */
export async function manyUses(db: Db, days: number): Promise<Use[]> {
  const { rows } = await db.query<Use>(
    `select source, day, requests, failures, limited, last_failure "lastFailure" from source_use
      where day > current_date - $1::integer order by day`,
    [days],
  )
  return rows
}

/** Limits a day by source. */
export async function manyLimits(db: Db): Promise<Map<string, number>> {
  const { rows } = await db.query<{ source: string; mostADay: number }>(
    'select source, most_a_day "mostADay" from source_limit',
  )
  return new Map(rows.map(row => [row.source, row.mostADay]))
}
export async function saveLimit(db: Db, source: string, mostADay: number | null): Promise<void> {
  if (mostADay === null) await db.query('delete from source_limit where source = $1', [source])
  else
    await db.query(
      `insert into source_limit (source, most_a_day) values ($1, $2) on conflict (source) do update
        set most_a_day = excluded.most_a_day`,
      [source, mostADay],
    )
}

/** When the newest data of each source came for a site; `null` when none did. */
export async function oneNewest(
  db: Db,
  siteId: number,
): Promise<
  Record<
    'engines' | 'completions' | 'ads' | 'querylog' | 'feeds' | 'rankings' | 'registry' | 'maps' | 'web',
    string | null
  >
> {
  const { rows } = await db.query<Record<string, Date | null>>(
    `select (select max(fetched_at) from result_page where site_id = $1) engines,
       (select max(g.started_at) from gathering g where g.site_id = $1 and 'completions' = any(g.ways)) completions,
       (select max(fetched_at) from demand where site_id = $1 and source = 'ads') ads, (select max(loaded_at)
         from log_property where site_id = $1) querylog,
       (select max(loaded_at) from ranking_load where site_id = $1) rankings,
       (select max(links_at) from site_fact) feeds, (select max(registry_at) from site_fact) registry,
       (select max(created_at) from place_grid where site_id = $1) maps,
         (select max(fetched_at) from page_content where graph_id = 1) web`,
    [siteId],
  )
  return Object.fromEntries(Object.entries(rows[0]!).map(([key, at]) => [key, at?.toISOString() ?? null])) as Awaited<
    ReturnType<typeof oneNewest>
  >
}

export type ImportView = {
  id: number
  kind: AnyImportKind
  fileName: string
  createdAt: string
  ran: boolean
  reading: boolean
  errors: number
  /** Keywords that it alone brought; null for imports of kinds that bring none. */
  brought: number | null
  canTakeBack: boolean
  takenBack: boolean
}
export async function manyImports(db: Db, siteId: number): Promise<ImportView[]> {
  const { rows } = await db.query<Omit<ImportView, 'createdAt'> & { createdAt: Date }>(
    `select i.id, i.kind, i.file_name "fileName", i.created_at "createdAt", i.mapping is not null ran,
      exists (select from job j where j.site_id = i.site_id and j.kind like 'import%' and j.ended_at is null
        and (j.payload->>'importId')::bigint = i.id) reading,
      (select count(*) from import_error e where e.site_id = i.site_id and e.import_id = i.id) errors,
      case when i.kind in ('keywords', 'positions', 'themes') then coalesce(b.count, 0) end brought,
      case when i.kind = 'keywords' then coalesce(b.count, 0) > 0 else i.brought is not null end "canTakeBack",
      i.taken_back_at is not null "takenBack"
     from import i left join (select import_id, count(*) from keyword where site_id = $1 and import_id is not null
       group by 1) b on b.import_id = i.id where i.site_id = $1 order by i.id desc limit 50`,
    [siteId],
  )
  return rows.map(row => ({ ...row, createdAt: row.createdAt.toISOString() }))
}

/** Pages of each domain that were fetched and answered. */
export async function manyFetchedPages(db: Db, graphId: number, domains: string[]): Promise<Map<string, number>> {
  const { rows } = await db.query<{ domain: string; pages: number }>(
    `select s.domain, count(*) pages from linked_site s join linked_page p on p.graph_id = s.graph_id
      and p.site_id = s.id join page_content c on c.graph_id = p.graph_id and c.page_id = p.id
     where s.graph_id = $1 and s.domain = any($2) and c.status = 200 group by 1`,
    [graphId, domains],
  )
  return new Map(rows.map(row => [row.domain, row.pages]))
}
