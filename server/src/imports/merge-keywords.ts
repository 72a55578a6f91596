import type pg from 'pg'
import { columnsOf, indexNextPartition, makeNextPartition, swapPartitions } from '../db/site-partition.ts'
import { addKeywords } from './add-keywords.ts'

export type MergeInput = {
  siteId: number
  language: string
  place: string
  keep: boolean
  /** From how many staged rows on a site's keywords are written anew: writing a row without looking after indexes takes a fifth of changing one. */
  anewFrom: number
}
export type Merged = { added: number; total: number; withDemand: number }
type Step = (written: number) => Promise<void>

/** Up to how many times as many keywords as staged rows a site's keywords are written anew instead of changed in place. */
const anewUpTo = 4

const hasFigures = '(searches is not null or cpc is not null or competition is not null)'
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
const importedRows = `select ${Object.values(imported).join(', ')} from keyword_last`

/** A figure that goes with the searches: what was worked out from other searches is no longer true. */
const unlessSearches = (column: string): string => `case when excluded.average is null then demand.${column} end`
const ownSource = (figure: string): string =>
  `case when excluded.${figure} is not null then 'import' when demand.${figure} is not null then coalesce(demand.${figure}_source, demand.source) end`
const ownDate = (figure: string): string =>
  `case when excluded.${figure} is not null then now() when demand.${figure} is not null then coalesce(demand.${figure}_at, demand.fetched_at) end`
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
 * Merges the rows that `keyword_last` settled into a site's keywords and figures: what is new is added, what was there is touched, and
 * gets the figures of the file. Call under `lockSite`. `step` hears how many new keywords are written.
 */
export async function mergeKeywords(client: pg.PoolClient, input: MergeInput, step: Step): Promise<Merged> {
  return (await isLarge(client, input)) ? mergeAnew(client, input, step) : mergeInPlace(client, input, step)
}

/** Whether so much is staged that writing everything anew is worth it. */
async function isLarge(client: pg.PoolClient, { siteId, anewFrom }: MergeInput): Promise<boolean> {
  const countOf = async (from: string, values: number[] = []): Promise<number> =>
    (await client.query<{ count: number }>(`select count(*) count from ${from}`, values)).rows[0]!.count
  const staged = await countOf('keyword_last')
  return staged >= anewFrom && (await countOf('keyword where site_id = $1', [siteId])) <= staged * anewUpTo
}

async function mergeInPlace(client: pg.PoolClient, input: MergeInput, step: Step): Promise<Merged> {
  const { siteId, place, keep } = input
  const touched = await client.query(
    `update keyword k set revision = nextval('keyword_revision'), kept_at = ${touchedKept(keep)}
     from keyword_last s where k.site_id = $1 and k.id = s.id and not s.is_new`,
    [siteId],
  )
  const added = await addKeywords(client, { ...input, into: 'keyword' }, step)
  // New keywords have no figures yet, so theirs are written without looking.
  const insert = `insert into demand (${importedColumns}) ${importedRows}`
  const fresh = await client.query(`${insert} where is_new and ${hasFigures}`, [siteId, place])
  const sets = Object.entries(combined).map(([column, value]) => `${column} = ${value}`)
  const known = await client.query(
    `${insert} where not is_new and ${hasFigures} on conflict (site_id, keyword_id, place) do update set ${sets.join(', ')}`,
    [siteId, place],
  )
  return { added, total: touched.rowCount! + added, withDemand: fresh.rowCount! + known.rowCount! }
}

/** The same, but the site's keywords and figures are written into new partitions, which then take the place of the old ones. */
async function mergeAnew(client: pg.PoolClient, input: MergeInput, step: Step): Promise<Merged> {
  const { siteId, place, keep } = input
  const keywords = await makeNextPartition(client, 'keyword', siteId)
  const changes: Record<string, string> = { revision: "nextval('keyword_revision')", kept_at: touchedKept(keep) }
  const keywordColumns = await columnsOf(client, 'keyword')
  const values = keywordColumns.map(name =>
    changes[name] ? `case when s.id is null then k.${name} else ${changes[name]} end` : `k.${name}`,
  )
  await client.query(
    `insert into ${keywords} (${keywordColumns.join(', ')}) select ${values.join(', ')} from keyword k left join keyword_last s on s.id = k.id and not s.is_new where k.site_id = $1`,
    [siteId],
  )
  const added = await addKeywords(client, { ...input, into: keywords }, step)
  await indexNextPartition(client, 'keyword', siteId)

  const figures = await makeNextPartition(client, 'demand', siteId)
  const demandColumns = await columnsOf(client, 'demand')
  const figureValues = demandColumns.map(name =>
    combined[name]
      ? `case when excluded.keyword_id is null then demand.${name} else ${combined[name]} end`
      : `demand.${name}`,
  )
  await client.query(
    `insert into ${figures} (${demandColumns.join(', ')}) select ${figureValues.join(', ')} from demand
     left join (select id keyword_id, searches average, cpc, competition from keyword_last where not is_new and ${hasFigures}) excluded on excluded.keyword_id = demand.keyword_id and demand.place = $2
     where demand.site_id = $1`,
    [siteId, place],
  )
  const insert = `insert into ${figures} (${importedColumns}) ${importedRows} where ${hasFigures}`
  await client.query(`${insert} and is_new`, [siteId, place])
  await client.query(
    `${insert} and not is_new and not exists (select from demand d where d.site_id = $1 and d.keyword_id = keyword_last.id and d.place = $2)`,
    [siteId, place],
  )
  await indexNextPartition(client, 'demand', siteId)
  await swapPartitions(client, ['keyword', 'demand'], siteId)
  const { rows } = await client.query<{ total: number; withDemand: number }>(
    `select count(*) total, count(*) filter (where ${hasFigures}) "withDemand" from keyword_last`,
  )
  return { added, ...rows[0]! }
}
