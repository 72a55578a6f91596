import { createHash } from 'node:crypto'
import { readdir, readFile } from 'node:fs/promises'
import { fileURLToPath } from 'node:url'
import type pg from 'pg'

const folder = fileURLToPath(new URL('../../../schema', import.meta.url))

/**
 * Makes the tables of an empty database from `server/schema/`, under an advisory lock so that two starts do not meet. Gives whether it
 * made them. Nothing is released yet, so tables of another schema are not changed: throws with what to do about them.
 */
export async function makeSchema(pool: pg.Pool): Promise<boolean> {
  const { files, texts, fingerprint } = await readSchema()
  const client = await pool.connect()
  try {
    await client.query('select pg_advisory_lock(72001)')
    const { rows } = await client.query<{ ours: boolean; any: boolean }>(
      `select to_regclass('public.schema_made') is not null ours, to_regclass('public.site') is not null "any"`,
    )
    if (rows[0]!.any) {
      const made = rows[0]!.ours
        ? await client.query<{ fingerprint: string }>('select fingerprint from schema_made')
        : null
      if (made?.rows[0]?.fingerprint === fingerprint) return false
      throw new Error(
        'The data was made by another version of Dew Trail, which this one cannot read. Start that version, or remove the data folder (.data) or name an empty database in DATABASE_URL to begin anew; nothing was changed.',
      )
    }
    await client.query('begin')
    try {
      for (const [i, text] of texts.entries())
        await client.query(text).catch(error => {
          throw new Error(`${files[i]} failed, and nothing was made: ${(error as Error).message}`, { cause: error })
        })
      await client.query(
        'create table schema_made (fingerprint text not null, made_at timestamptz not null default now())',
      )
      await client.query('insert into schema_made (fingerprint) values ($1)', [fingerprint])
      await client.query('commit')
    } catch (error) {
      await client.query('rollback')
      throw error
    }
    return true
  } finally {
    await client.query('select pg_advisory_unlock(72001)').catch(() => undefined)
    client.release()
  }
}

/**
 * Runs what makes tables and queues at a start, one process at a time: two that begin together on an empty database would else wait for
 * each other until PostgreSQL ends one of them.
 */
export async function oneStartAtATime<T>(pool: pg.Pool, work: () => Promise<T>): Promise<T> {
  const client = await pool.connect()
  try {
    await client.query('select pg_advisory_lock(72005)')
    return await work()
  } finally {
    await client.query('select pg_advisory_unlock(72005)').catch(() => undefined)
    client.release()
  }
}

/** The files of the schema, and what tells it from any other. */
export async function readSchema(): Promise<{ files: string[]; texts: string[]; fingerprint: string }> {
  const files = (await readdir(folder)).filter(name => name.endsWith('.sql')).sort()
  const texts = await Promise.all(files.map(file => readFile(`${folder}/${file}`, 'utf8')))
  return { files, texts, fingerprint: createHash('sha256').update(texts.map(withoutComments).join('\n')).digest('hex') }
}

/** Other words for the same tables are no other schema. */
const withoutComments = (sql: string): string =>
  sql
    .split('\n')
    .filter(line => line.trim() && !line.trimStart().startsWith('--'))
    .join('\n')
