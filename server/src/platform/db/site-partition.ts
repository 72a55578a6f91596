import { setTimeout as sleep } from 'node:timers/promises'
import type pg from 'pg'
import type { Db } from './pool.ts'

/** A table with a partition for each site. */
export type BySite = 'keyword' | 'demand'
/** The partition of a table that holds a site's rows. */
export const sitePartition = (table: BySite, siteId: number): string => `${table}_site_${Number(siteId)}`
const nextPartition = (table: BySite, siteId: number): string => `${sitePartition(table, siteId)}_next`

/** How long the swap waits for readers before it lets those behind it through: less than the database takes to suspect a deadlock. */
const lockWaitMs = 500
const lockTries = 240

/** The sequence that numbers a site's keywords. */
export const idSequence = (siteId: number): string => `keyword_id_site_${Number(siteId)}`
/** SQL for the next keyword id of a site. */
export const nextKeywordId = (siteId: number): string => `nextval('${idSequence(siteId)}')`
/** SQL for the next id of a known keyword of a site. */
export const nextKnownId = (siteId: number): string => `nextval('known_keyword_id_site_${Number(siteId)}')`
/** SQL for the next revision of a site's keyword rows. */
export const nextRevision = (siteId: number): string => `nextval('keyword_revision_site_${Number(siteId)}')`

/** Makes an empty table without indexes, to be filled with what is to be a site's partition. Call under `lockSite`. Gives its name. */
export async function makeNextPartition(client: pg.PoolClient, table: BySite, siteId: number): Promise<string> {
  const next = nextPartition(table, siteId)
  // The check spares the database from reading the rows again when they are put in place.
  await client.query(
    `create table ${next} (like ${table} including defaults including generated including constraints,
      check (site_id = ${Number(siteId)}))`,
  )
  if (table === 'keyword') await client.query(`alter table ${next} alter revision set default ${nextRevision(siteId)}`)
  return next
}

/** Drops the next partitions of a site, where they are. */
export async function dropNext(db: Db, siteId: number): Promise<void> {
  await db.query(`drop table if exists ${nextPartition('keyword', siteId)}, ${nextPartition('demand', siteId)}`)
}

/** Names of a table's columns in order, without those that the database works out. */
export async function columnsOf(client: Db, table: string): Promise<string[]> {
  const { rows } = await client.query<{ name: string }>(
    `select attname::text name from pg_attribute where attrelid = $1::regclass and attnum > 0
      and not attisdropped and attgenerated = '' order by attnum`,
    [table],
  )
  return rows.map(row => row.name)
}

/** Gives a filled next partition the indexes and keys that its table has. */
export async function indexNextPartition(client: pg.PoolClient, table: BySite, siteId: number): Promise<void> {
  const next = nextPartition(table, siteId)
  const { rows } = await client.query<{ key: string | null; index: string }>(
    `select pg_get_constraintdef(c.oid) key, pg_get_indexdef(i.indexrelid) index from pg_index i left
      join pg_constraint c on c.conindid = i.indexrelid and c.contype in ('p', 'u')
     where i.indrelid = $1::regclass order by i.indexrelid`,
    [table],
  )
  for (const { key, index } of rows)
    await client.query(
      key ? `alter table ${next} add ${key}` : index.replace(/ INDEX \S+ ON ONLY \S+ /, ` INDEX ON ${next} `),
    )
  await client.query(`analyze ${next}`)
}

/** Puts next partitions in the place of a site's old ones. Readers of the old rows are waited for, but never kept waiting long. */
export async function swapPartitions(client: pg.PoolClient, tables: readonly BySite[], siteId: number): Promise<void> {
  await lockTables(client, tables)
  for (const table of tables) {
    const old = sitePartition(table, siteId)
    const next = nextPartition(table, siteId)
    await client.query(`alter table ${table} detach partition ${old}`)
    await client.query(`drop table ${old}`)
    await client.query(`alter table ${next} rename to ${old}`)
    await client.query(`alter table ${table} attach partition ${old} for values in (${Number(siteId)})`)
  }
}

/** Locks tables against all others. Gives way and tries again, so that neither a long reader nor one who locks in another order stops everyone. */
async function lockTables(client: pg.PoolClient, tables: readonly BySite[]): Promise<void> {
  await client.query(`set local lock_timeout = ${lockWaitMs}`)
  for (let tries = 1; ; tries++) {
    await client.query('savepoint before_locks')
    try {
      await client.query(`lock table ${tables.join(', ')} in access exclusive mode`)
      break
    } catch (error) {
      if ((error as { code?: string }).code !== '55P03' || tries >= lockTries) throw error
      await client.query('rollback to savepoint before_locks')
      await sleep(lockWaitMs)
    }
  }
  await client.query('release savepoint before_locks')
  await client.query('set local lock_timeout = 0')
}
