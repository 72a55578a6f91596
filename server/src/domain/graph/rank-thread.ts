import { parentPort } from 'node:worker_threads'
import { CleanClient } from '../../platform/db/clean-client.ts'
import { answerInThread } from '../../platform/jobs/run-in-thread.ts'
import { rankGraph, type RankReport, type RankSettings } from './rank-graph.ts'

export type RankQuestion = { databaseUrl: string; settings: RankSettings }

answerInThread<RankQuestion, RankReport>(parentPort!, async ({ databaseUrl, settings }) => {
  const client = new CleanClient({
    connectionString: databaseUrl,
    application_name: 'dew-trail-rank',
    options: '-c jit=off',
  })
  // Its query hears of a lost connection; without this the thread would end before it can say so.
  client.on('error', () => undefined)
  try {
    await client.connect()
    return await rankGraph(client, settings)
  } finally {
    await client.end().catch(() => undefined)
  }
})
