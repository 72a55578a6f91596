import pg from 'pg'
import { CleanClient } from './clean-client.ts'

export type Db = pg.Pool | pg.PoolClient

// int8 as numbers: ids and counts stay far below 2^53. Dates stay text, so that no time zone moves a day.
pg.types.setTypeParser(20, Number)
pg.types.setTypeParser(1082, text => text)

/**
 * Opens connections without PostgreSQL's just-in-time compiler: for our short statements it costs more than it gives. `settings` are
 * the database's, for these connections. `onLost` hears of every connection that ends, in use or not: node-postgres throws such an
 * error into the process where nobody listens, and the pool itself listens only to connections that are not in use. Whoever uses the
 * connection gets the error from its query.
 */
export function openPool(
  url: string,
  most = 10,
  settings: Record<string, string> = {},
  onLost: (error: Error) => void = () => undefined,
): pg.Pool {
  const options = Object.entries({ jit: 'off', ...settings }).map(([name, value]) => `-c ${name}=${value}`)
  const pool = new pg.Pool({
    connectionString: url,
    max: most,
    application_name: 'dew-trail',
    options: options.join(' '),
    keepAlive: true,
    Client: CleanClient,
  })
  pool.on('connect', client => client.on('error', onLost))
  pool.on('error', () => undefined)
  return pool
}

/** Runs `work` in one transaction; any error rolls back. */
export async function inTransaction<T>(pool: pg.Pool, work: (db: pg.PoolClient) => Promise<T>): Promise<T> {
  const client = await pool.connect()
  let broken = false
  try {
    await client.query('begin')
    const result = await work(client)
    await client.query('commit')
    return result
  } catch (error) {
    await client.query('rollback').catch(() => {
      broken = true
    })
    throw error
  } finally {
    // One that could not even roll back is closed, not given to the next.
    client.release(broken)
  }
}
