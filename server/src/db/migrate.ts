import { readdir, readFile } from 'node:fs/promises'
import { fileURLToPath } from 'node:url'
import type pg from 'pg'

const folder = fileURLToPath(new URL('../../migrations', import.meta.url))

/**
 * Brings the database up to this program: numbered files in order, each in a transaction, all under an advisory lock so that two
 * starts do not meet. Throws when the database is newer than the program. Gives the number of files applied.
 */
export async function migrate(pool: pg.Pool): Promise<number> {
  const files = (await readdir(folder)).filter(name => /^\d{4}-.*\.sql$/.test(name)).sort()
  const client = await pool.connect()
  try {
    await client.query('select pg_advisory_lock(72001)')
    await client.query(
      'create table if not exists migration (number integer primary key, name text not null, applied_at timestamptz not null default now())',
    )
    const { rows } = await client.query<{ number: number }>('select number from migration')
    const applied = new Set(rows.map(row => row.number))
    const newest = Math.max(0, ...files.map(file => Number(file.slice(0, 4))))
    const ahead = Math.max(0, ...applied)
    if (ahead > newest)
      throw new Error(
        `The database is at step ${ahead}, this program knows ${newest}. It was made by a newer Dew Trail: update the program; nothing was changed.`,
      )
    let count = 0
    for (const file of files) {
      const number = Number(file.slice(0, 4))
      if (applied.has(number)) continue
      await client.query('begin')
      try {
        await client.query(await readFile(`${folder}/${file}`, 'utf8'))
        await client.query('insert into migration (number, name) values ($1, $2)', [number, file])
        await client.query('commit')
      } catch (error) {
        await client.query('rollback')
        throw new Error(`Migration ${file} failed and was rolled back: ${(error as Error).message}`, { cause: error })
      }
      count++
    }
    return count
  } finally {
    await client.query('select pg_advisory_unlock(72001)').catch(() => undefined)
    client.release()
  }
}
