import { once } from 'node:events'
import { Readable } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import type pg from 'pg'
import { from as copyFrom } from 'pg-copy-streams'
import { openThread } from '../jobs/open-thread.ts'
import { type DescribeQuestion, describeLines } from './describe-lines.ts'

const atATime = 20_000
const fewKeywords = 5_000

/**
 * Writes the keywords that `keyword_last` marks as new into a table: families, kinds and intents are worked out in a thread of its own, one batch
 * ahead of the one that the database is taking in. `step` hears how many are written. Gives how many there were.
 */
export async function addKeywords(
  client: pg.PoolClient,
  { siteId, language, keep, into }: { siteId: number; language: string; keep: boolean; into: string },
  step: (written: number) => Promise<void>,
): Promise<number> {
  const { rows } = await client.query<{ now: string }>('select now()::text now')
  const keptAt = keep ? rows[0]!.now : null
  await client.query('declare fresh no scroll cursor for select id, phrase from keyword_last where is_new')
  const fetch = async (): Promise<Array<{ id: number; phrase: string }>> =>
    (await client.query<{ id: number; phrase: string }>(`fetch ${atATime} from fresh`)).rows
  let batch = await fetch()
  if (!batch.length) {
    await client.query('close fresh')
    return 0
  }
  // Opening a thread takes longer than describing a few.
  const worker = batch.length > fewKeywords ? openThread(new URL('./describe-worker.ts', import.meta.url)) : null
  const describe = async (part: typeof batch): Promise<Uint8Array> => {
    const question: DescribeQuestion = {
      siteId,
      language,
      keptAt,
      ids: part.map(row => row.id),
      phrases: part.map(row => row.phrase),
    }
    if (!worker) return describeLines(question)
    worker.postMessage(question)
    return ((await once(worker, 'message')) as [Uint8Array])[0]
  }
  let written = 0
  try {
    let coming = describe(batch)
    while (batch.length) {
      const next = await fetch()
      const lines = await coming
      if (next.length) {
        coming = describe(next)
        // An error is thrown when it is waited for, not before.
        coming.catch(() => undefined)
      }
      await pipeline(
        Readable.from([lines]),
        client.query(
          copyFrom(
            `copy ${into} (site_id, id, language, phrase, family, kind, intent, intent_share, words, kept_at) from stdin`,
          ),
        ),
      )
      written += batch.length
      batch = next
      await step(written)
    }
  } finally {
    await worker?.terminate()
  }
  await client.query('close fresh')
  return written
}
