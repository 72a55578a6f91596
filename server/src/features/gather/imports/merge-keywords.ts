import type pg from 'pg'
import { settleHiddenDemand } from '../../../domain/keywords/hidden-demand.ts'
import { noteFiguresChange } from '../../../platform/db/figures-change.ts'
import { inTransaction } from '../../../platform/db/pool.ts'
import {
  columnsOf,
  dropNext,
  indexNextPartition,
  makeNextPartition,
  nextRevision,
  sitePartition,
  swapPartitions,
} from '../../../platform/db/site-partition.ts'
import { addKeywords } from './add-keywords.ts'
import { hasFigures, type Settled } from '../../../domain/imports/queries.ts'

export type MergeInput = {
  siteId: number
  language: string
  place: string
  keep: boolean
  importId: number
  /** From how many staged rows on a site's keywords are written anew: writing a row without looking after indexes takes a fifth of changing one. */
  anewFrom: number
  /** The table of the settled rows (`settleKeywordStage`), which every connection sees, and what is in it. */
  from: string
  settled: Settled
}
export type Merged = { added: number; total: number; withDemand: number }
type Step = (share: number) => Promise<void>

/** Up to how many times as many keywords as staged rows a site's keywords are written anew instead of changed in place. */
const anewUpTo = 4

/** What one import alone brought can be taken back: one that was imported before belongs to none alone. */
const touchedImport = (importId: number): string => `case when not k.imported then ${Number(importId)} end`
const touchedKept = (keep: boolean): string => (keep ? 'coalesce(k.kept_at, now())' : 'k.kept_at')

/** What a row of figures from a file holds; the other columns are unknown. */
const imported = {
  site_id: '$1::bigint',
  keyword_id: 'id',
  place: '$2',
  source: "'import'",
  state: "'known'",
  average: 'searches',
  cpc: 'cpc',
  competition: 'competition',
  fetched_at: 'now()',
}
const importedColumns = Object.keys(imported).join(', ')
const importedRows = (from: string): string => `select ${Object.values(imported).join(', ')} from ${from}`

/** A figure that goes with the searches: what was worked out from other searches is no longer true. */
const unlessSearches = (column: string): string => `case when excluded.average is null then demand.${column} end`
const ownSource = (figure: string): string =>
  `case when excluded.${figure} is not null then 'import'
    when demand.${figure} is not null then coalesce(demand.${figure}_source, demand.source) end`
const ownDate = (figure: string): string =>
  `case when excluded.${figure} is not null then now()
    when demand.${figure} is not null then coalesce(demand.${figure}_at, demand.fetched_at) end`
const takesOver = 'excluded.average is not null or demand.average is null'
/** What becomes of known figures (`demand`) when a file gives some (`excluded`): those it gives count, the others stay with their source. */
const combined: Record<string, string> = {
  state: "'known'",
  source: `case when ${takesOver} then 'import' else demand.source end`,
  fetched_at: `case when ${takesOver} then now() else demand.fetched_at end`,
  cpc_source: ownSource('cpc'),
  cpc_at: ownDate('cpc'),
  competition_source: ownSource('competition'),
  competition_at: ownDate('competition'),
  average: 'coalesce(excluded.average, demand.average)',
  cpc: 'coalesce(excluded.cpc, demand.cpc)',
  competition: 'coalesce(excluded.competition, demand.competition)',
  ...Object.fromEntries(
    [
      'mobile_share',
      'worldwide',
      'months',
      'months_from',
      'trend',
      'yearly',
      'season',
      'peaks',
      'rounded',
      'low',
      'high',
    ].map(column => [column, unlessSearches(column)]),
  ),
}

/**
 * Merges settled rows into a site's keywords and figures: what is new is added, what was there is touched, and gets the figures of the
 * file. All or nothing, in the transaction of `keeper`, which holds `lockSite`; `pool` gives two connections more. `step` hears what
 * share of the new keywords is written (0–1).
 */
export async function mergeKeywords(
  pool: pg.Pool,
  keeper: pg.PoolClient,
  input: MergeInput,
  step: Step,
): Promise<Merged> {
  const { siteId, anewFrom, settled } = input
  const { rows } = await keeper.query<{ count: number }>('select count(*) count from keyword where site_id = $1', [
    siteId,
  ])
  const anew = settled.total >= anewFrom && rows[0]!.count <= settled.total * anewUpTo
  const added = await (anew ? mergeAnew : mergeInPlace)(pool, keeper, input, bytes =>
    step(Math.min(1, bytes / (settled.bytes || 1))),
  )
  await settleHiddenDemand(keeper, siteId)
  await noteFiguresChange(keeper, siteId)
  return { added, total: settled.total, withDemand: settled.withDemand }
}

async function mergeInPlace(pool: pg.Pool, keeper: pg.PoolClient, input: MergeInput, step: Step): Promise<number> {
  const { siteId, place, keep, from, importId } = input
  await keeper.query(
    `update keyword k set revision = ${nextRevision(siteId)}, imported = true, import_id = ${touchedImport(importId)},
       kept_at = ${touchedKept(keep)}
     from ${from} s where k.site_id = $1 and k.id = s.id and not s.is_new`,
    [siteId],
  )
  const added = await inTransaction(pool, reader =>
    addKeywords({ reader, writer: keeper }, { ...input, into: sitePartition('keyword', siteId) }, step),
  )
  // New keywords have no figures yet, so theirs are written without looking.
  const insert = `insert into demand (${importedColumns}) ${importedRows(from)}`
  await keeper.query(`${insert} where is_new and ${hasFigures}`, [siteId, place])
  const sets = Object.entries(combined).map(([column, value]) => `${column} = ${value}`)
  await keeper.query(
    `${insert} where not is_new and ${hasFigures} on conflict (site_id, keyword_id, place) do update
      set ${sets.join(', ')}`,
    [siteId, place],
  )
  return added
}

/**
 * The same, but the site's keywords and figures are written into new partitions, side by side, each in a transaction of its own, while
 * nobody sees them; then they take the place of the old ones in the keeper's.
 */
async function mergeAnew(pool: pg.Pool, keeper: pg.PoolClient, input: MergeInput, step: Step): Promise<number> {
  const { siteId } = input
  // What an import that was killed has left.
  await dropNext(pool, siteId)
  try {
    const sides = await Promise.allSettled([
      inTransaction(pool, writer => writeKeywords({ reader: keeper, writer }, input, step)),
      inTransaction(pool, client => writeFigures(client, input)),
    ])
    for (const side of sides) if (side.status === 'rejected') throw side.reason
    await swapPartitions(keeper, ['keyword', 'demand'], siteId)
    return (sides[0] as PromiseFulfilledResult<number>).value
  } catch (error) {
    await dropNext(pool, siteId)
    throw error
  }
}

async function writeKeywords(
  { reader, writer }: { reader: pg.PoolClient; writer: pg.PoolClient },
  input: MergeInput,
  step: Step,
): Promise<number> {
  const { siteId, keep, from, importId } = input
  const into = await makeNextPartition(writer, 'keyword', siteId)
  const changes: Record<string, string> = {
    revision: nextRevision(siteId),
    imported: 'true',
    import_id: touchedImport(importId),
    kept_at: touchedKept(keep),
  }
  const columns = await columnsOf(writer, 'keyword')
  const values = columns.map(name =>
    changes[name] ? `case when s.id is null then k.${name} else ${changes[name]} end` : `k.${name}`,
  )
  await writer.query(
    `insert into ${into} (${columns.join(', ')}) select ${values.join(', ')} from keyword k left
      join ${from} s on s.id = k.id and not s.is_new where k.site_id = $1`,
    [siteId],
  )
  const added = await addKeywords({ reader, writer }, { ...input, into }, step)
  await indexNextPartition(writer, 'keyword', siteId)
  return added
}

async function writeFigures(client: pg.PoolClient, { siteId, place, from, settled }: MergeInput): Promise<void> {
  const into = await makeNextPartition(client, 'demand', siteId)
  const columns = await columnsOf(client, 'demand')
  const values = columns.map(name =>
    combined[name]
      ? `case when excluded.keyword_id is null then demand.${name} else ${combined[name]} end`
      : `demand.${name}`,
  )
  await client.query(
    `insert into ${into} (${columns.join(', ')}) select ${values.join(', ')} from demand
     left join (select id keyword_id, searches average, cpc, competition from ${from} where not is_new
       and ${hasFigures}) excluded on excluded.keyword_id = demand.keyword_id and demand.place = $2
     where demand.site_id = $1`,
    [siteId, place],
  )
  const insert = `insert into ${into} (${importedColumns}) ${importedRows(from)} s where ${hasFigures}`
  await client.query(`${insert} and is_new`, [siteId, place])
  if (settled.fresh < settled.total)
    await client.query(
      `${insert} and not is_new and not exists (select from demand d where d.site_id = $1
        and d.keyword_id = s.id and d.place = $2)`,
      [siteId, place],
    )
  await indexNextPartition(client, 'demand', siteId)
}
