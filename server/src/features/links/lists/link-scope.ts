import type { LinkAge } from '@dew-trail/contract/link-lists'
import { AppError } from '@dew-trail/contract/errors'
import { seenByBits } from '@dew-trail/core/links/link-codes'
import { readTarget, type Target } from '@dew-trail/core/rivals/target'
import { textKey } from '../../../domain/pages/page-key.ts'
import type { Db } from '../../../platform/db/pool.ts'

/** The program's own graph. */
export const graphId = 1

/** Links to a target that count: their site's number in the graph, the pages that are meant (null = all), and from which day on links may be gone. */
export type LinkScope = {
  siteNumber: number
  pages: number[] | null
  age: LinkAge
  goneSince: string | null
  /** Bits of the sources that count; null = all. */
  sources: number | null
}

/** For which site's research, and which links count; `today`: days are counted back from it. */
export type Wanted = { siteId: number; age: LinkAge; days: number; sources: readonly string[]; today: string }

/** The target that a text names. Throws `badInput` where it names none. */
export function needTarget(text: string): Target {
  const target = readTarget(text)
  if (!target) throw new AppError('badInput', `"${text}" is no site, host, folder or page`)
  return target
}

/** Where links to a target are found; undefined where the graph has not met it. `today`: days are counted back from it. */
export async function maybeScope(
  db: Db,
  target: Target,
  { age, days, sources: names, today }: Omit<Wanted, 'siteId'>,
): Promise<LinkScope | undefined> {
  const { rows } = await db.query<{ id: number }>('select id from linked_site where graph_id = $1 and domain = $2', [
    graphId,
    target.domain,
  ])
  const siteNumber = rows[0]?.id
  if (siteNumber === undefined) return undefined
  const sources = names.length ? await sourceBits(db, names) : null
  const goneSince =
    age === 'lost' ? new Date(Date.parse(`${today}T00:00:00Z`) - days * 86_400_000).toISOString().slice(0, 10) : null
  if (target.kind === 'site') return { siteNumber, pages: null, age, goneSince, sources }
  const start = target.match.replace(/[%_\\]/g, '\\$&')
  const found =
    target.kind === 'page'
      ? await db.query<{ id: number }>(
          'select id from linked_page where graph_id = $1 and site_id = $2 and url_key = any($3::uuid[])',
          [graphId, siteNumber, [textKey(target.match), textKey(`www.${target.match}`)]],
        )
      : await db.query<{ id: number }>(
          `select id from linked_page where graph_id = $1 and site_id = $2
             and regexp_replace(url, '^https?://', '', 'i') like $3`,
          [graphId, siteNumber, `${start}${target.kind === 'host' ? '/' : ''}%`],
        )
  return { siteNumber, pages: found.rows.map(row => row.id), age, goneSince, sources }
}

/** Bits of named sources together. Throws `badInput` for a name that none has. */
async function sourceBits(db: Db, names: readonly string[]): Promise<number> {
  const known = new Map((await manySources(db)).map(each => [each.name, each.bit]))
  return names.reduce((bits, name) => {
    const bit = known.get(name)
    if (bit === undefined) throw new AppError('badInput', `no source of links is called "${name}"`)
    return bits | bit
  }, 0)
}
/** All sources of links, our own first. */
export async function manySources(db: Db): Promise<Array<{ name: string; label: string; bit: number }>> {
  const { rows } = await db.query<{ name: string; bit: number }>('select name, bit from link_feed order by bit')
  return [
    { name: 'crawl', label: 'our crawl', bit: seenByBits.crawl },
    { name: 'file', label: 'files', bit: seenByBits.file },
    ...rows.map(row => ({ ...row, label: row.name })),
  ]
}

/** SQL for the number of the latest snapshot of figures; null where none was computed. */
export const latestSql = '(select max(id) from graph_snapshot where graph_id = $1)'
