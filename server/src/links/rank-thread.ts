import { parentPort } from 'node:worker_threads'
import pg from 'pg'
import { rankGraph, type RankSettings } from './rank-graph.ts'

parentPort!.on('message', async ({ databaseUrl, settings }: { databaseUrl: string; settings: RankSettings }) => {
  const client = new pg.Client({
    connectionString: databaseUrl,
    application_name: 'dew-trail-rank',
    options: '-c jit=off',
  })
  try {
    await client.connect()
    parentPort!.postMessage({ report: await rankGraph(client, settings) })
  } catch (error) {
    parentPort!.postMessage({ error: (error as Error).stack ?? String(error) })
  } finally {
    await client.end().catch(() => undefined)
  }
})
