import { Readable } from 'node:stream'
import { finished, pipeline } from 'node:stream/promises'
import { setImmediate as othersAnswered } from 'node:timers/promises'
import type pg from 'pg'
import { from as copyFrom, to as copyTo } from 'pg-copy-streams'
import { type Described, describedColumns, lineDescriber } from './describe-lines.ts'

const newline = 10

/**
 * Writes the keywords that a settled table marks as new into a table, with their families, kinds and intents. They stream from one
 * connection through this process into the other, so both must see the settled table, and only a few are in memory at a time. `step`
 * hears how many bytes of ids and phrases have gone through. Gives how many keywords there were.
 */
export async function addKeywords(
  { reader, writer }: { reader: pg.PoolClient; writer: pg.PoolClient },
  {
    siteId,
    language,
    keep,
    from,
    into,
    importId,
  }: { siteId: number; language: string; keep: boolean; from: string; into: string; importId: number },
  step: (bytes: number) => Promise<void>,
): Promise<number> {
  const { rows } = await writer.query<{ now: string }>('select now()::text now')
  const described: Described = { siteId, language, keptAt: keep ? rows[0]!.now : null, importId }
  const fresh = reader.query(copyTo(`copy (select id, phrase from ${from} where is_new) to stdout`))
  const added = writer.query(copyFrom(`copy ${into} (${describedColumns}) from stdin`))
  try {
    await pipeline(Readable.from(describedParts(fresh, described, step), { objectMode: false }), added)
    return added.rowCount
  } finally {
    // A connection answers nothing else before all it was asked for is read.
    if (!fresh.readableEnded && !fresh.errored) await finished(fresh.resume())
  }
}

async function* describedParts(
  fresh: Readable,
  described: Described,
  step: (bytes: number) => Promise<void>,
): AsyncGenerator<Buffer> {
  const describe = lineDescriber(described)
  let rest: Buffer = Buffer.alloc(0)
  let bytes = 0
  for await (const chunk of fresh.iterator({ destroyOnReturn: false }) as AsyncIterable<Buffer>) {
    const part = rest.length ? Buffer.concat([rest, chunk]) : chunk
    const whole = part.lastIndexOf(newline) + 1
    rest = part.subarray(whole)
    bytes += whole
    if (!whole) continue
    await step(bytes)
    // Both streams are ready more often than not, so that without this one part follows the other and no request is answered.
    await othersAnswered()
    yield describe(part.subarray(0, whole))
  }
}
