import type { listNames } from '@dew-trail/contract/gather'
import { splitWords } from '@dew-trail/core/words/split-words'
import type { z } from 'zod'
import type { Context } from '../../context.ts'
import { lockSite, touchKeywords } from '../../domain/sites/queries.ts'
import { type Db, inTransaction } from '../../platform/db/pool.ts'
import { askInBatches } from '../../platform/jobs/ask-in-batches.ts'
import type { JobControl } from '../../platform/jobs/job-control.ts'

/** Names asked for side by side, and how many are saved at a time. */
const [atOnce, atATime] = [6, 60]
const freshDays = 30

/** The words of a phrase as the label of a domain name: letters of ASCII, digits; `null` where nothing is left or it is too long. */
export function nameLabel(phrase: string): string | null {
  const label = splitWords(phrase)
    .join('')
    .replace(/ä/g, 'ae')
    .replace(/ö/g, 'oe')
    .replace(/ü/g, 'ue')
    .replace(/ß/g, 'ss')
    .normalize('NFKD')
    .replace(/[^a-z0-9]/g, '')
  return label && label.length <= 63 ? label : null
}

type Named = { keywordId: number; name: string }
/** The exact-match names of keywords under each ending. */
async function manyNamed(
  db: Db,
  siteId: number,
  keywordIds: readonly number[],
  endings: readonly string[],
): Promise<Named[]> {
  const { rows } = await db.query<{ id: number; phrase: string }>(
    'select id, phrase from keyword where site_id = $1 and id = any($2) order by id',
    [siteId, keywordIds],
  )
  const all = [...new Set(endings.map(ending => ending.replace(/^\./, '')))]
  return rows.flatMap(({ id, phrase }) => {
    const label = nameLabel(phrase)
    return label ? all.map(ending => ({ keywordId: id, name: `${label}.${ending}` })) : []
  })
}

export async function readNames(
  db: Db,
  { siteId, keywordIds, endings }: z.output<(typeof listNames)['input']>,
): Promise<z.input<(typeof listNames)['output']>> {
  const { rows } = await db.query<{ keywordId: number; name: string; free: boolean }>(
    `select keyword_id "keywordId", name, free from keyword_name where site_id = $1 and keyword_id = any($2)`,
    [siteId, keywordIds],
  )
  const known = new Map(rows.map(({ keywordId, name, free }) => [`${keywordId} ${name}`, free]))
  return (await manyNamed(db, siteId, keywordIds, endings)).map(each => ({
    ...each,
    free: known.get(`${each.keywordId} ${each.name}`) ?? null,
  }))
}

/**
 * Asks the registry about names that it was not asked about within a month. One that it has no entry for is free; what it does not answer
 * stays unknown.
 */
export async function namesJob(context: Context, control: JobControl): Promise<object> {
  const { pool, sources } = context
  const { siteId } = control
  const { keywordIds, endings } = control.job.payload as { keywordIds: number[]; endings: string[] }
  const named = await manyNamed(pool, siteId, keywordIds, endings)
  const { rows } = await pool.query<Named>(
    `select keyword_id "keywordId", name from keyword_name where site_id = $1 and keyword_id = any($2)
       and asked_at > now() - make_interval(days => $3)`,
    [siteId, keywordIds, freshDays],
  )
  const fresh = new Set(rows.map(({ keywordId, name }) => `${keywordId} ${name}`))
  const waiting = named.filter(({ keywordId, name }) => !fresh.has(`${keywordId} ${name}`))
  control.clearWarnings()
  let free = 0
  await askInBatches(
    control,
    waiting,
    { done: named.length - waiting.length, total: named.length, atOnce, atATime },
    async each => ({ ...each, free: !(await sources.isRegistered(each.name, control.signal)) }),
    async answers => {
      await saveNames(context, siteId, answers)
      free += answers.filter(each => each.free).length
    },
  )
  return { requested: waiting.length, free }
}

async function saveNames(
  context: Context,
  siteId: number,
  names: ReadonlyArray<Named & { free: boolean }>,
): Promise<void> {
  await inTransaction(context.pool, async db => {
    await lockSite(db, siteId)
    await db.query(
      `insert into keyword_name (site_id, keyword_id, name, free)
       select $1, u.* from unnest($2::bigint[], $3::text[], $4::boolean[]) u
       on conflict (site_id, keyword_id, name) do update set free = excluded.free, asked_at = now()`,
      [siteId, names.map(each => each.keywordId), names.map(each => each.name), names.map(each => each.free)],
    )
    await touchKeywords(db, siteId, [...new Set(names.map(each => each.keywordId))])
  })
  context.events.publish(siteId, { type: 'keywords' })
}
