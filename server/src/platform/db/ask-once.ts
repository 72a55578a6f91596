import { setTimeout as sleep } from 'node:timers/promises'
import pg from 'pg'

/** Asks a database one thing on a connection of its own; throws where there is no answer within so many milliseconds. Gives the first row. */
export async function askOnce<Row extends pg.QueryResultRow>(
  url: string,
  name: string,
  ms: number,
  sql: string,
): Promise<Row> {
  const client = new pg.Client({
    connectionString: url,
    connectionTimeoutMillis: ms,
    query_timeout: ms,
    application_name: name,
  })
  client.on('error', () => undefined)
  try {
    await client.connect()
    return (await client.query<Row>(sql)).rows[0]!
  } finally {
    // One whose far side is frozen does not end; nobody waits for it longer than for the answer.
    const gaveUp = new AbortController()
    await Promise.race([
      client.end().catch(() => undefined),
      sleep(ms, undefined, { signal: gaveUp.signal, ref: false }).catch(() => undefined),
    ])
    gaveUp.abort()
  }
}
