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
    await client.end().catch(() => undefined)
  }
}
