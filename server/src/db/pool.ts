import pg from 'pg'

export type Db = pg.Pool | pg.PoolClient

// int8 as numbers: ids and counts stay far below 2^53. Dates stay text, so that no time zone moves a day.
pg.types.setTypeParser(20, Number)
pg.types.setTypeParser(1082, text => text)

/**
 * Opens connections without PostgreSQL's just-in-time compiler: for our short statements it costs more than it gives. `settings` are
 * the database's, for these connections.
 */
export function openPool(url: string, most = 10, settings: Record<string, string> = {}): pg.Pool {
  const options = Object.entries({ jit: 'off', ...settings }).map(([name, value]) => `-c ${name}=${value}`)
  return new pg.Pool({ connectionString: url, max: most, application_name: 'dew-trail', options: options.join(' ') })
}

/** Runs `work` in one transaction; any error rolls back. */
export async function inTransaction<T>(pool: pg.Pool, work: (db: pg.PoolClient) => Promise<T>): Promise<T> {
  const client = await pool.connect()
  try {
    await client.query('begin')
    const result = await work(client)
    await client.query('commit')
    return result
  } catch (error) {
    await client.query('rollback').catch(() => undefined)
    throw error
  } finally {
    client.release()
  }
}
