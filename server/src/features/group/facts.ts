import type { Grouping } from '@dew-trail/contract/group'
import type { Market } from '@dew-trail/contract/sites'
import { figureParts } from '@dew-trail/core/demand/shared-figures'
import { type KeywordPages, leadOrder, sharedTotals } from '@dew-trail/core/themes/keyword-pages'
import { type ThemePreview, previewThemes } from '@dew-trail/core/themes/preview-themes'
import { LRUCache } from 'lru-cache'
import type pg from 'pg'
import { figuresVersion } from '../../platform/db/figures-change.ts'
import type { Db } from '../../platform/db/pool.ts'
import { runInThread } from '../../platform/jobs/run-in-thread.ts'
import type { PreviewQuestion } from './preview-thread.ts'

/** Up to here a preview is worked out at once; more would keep other requests waiting. */
const mostAtOnce = 6_000

export type GroupKeyword = {
  id: number
  phrase: string
  family: string
  intent: string
  /** As the grouping counts them: known, of its file, or left out (null). */
  searches: number | null
  /** Whether these are the least that the query log shows. */
  hidden: boolean
  cpc: number | null
  difficulty: number | null
  chance3: number | null
  chance10: number | null
  chance20: number | null
  organicShare: number | null
  /** The day of its results; null = none are known. */
  day: string | null
}
/** The keywords of a grouping in the order in which they lead, with their figures and first results. */
export type GroupFacts = {
  keywords: GroupKeyword[]
  /** Place of each keyword, by its id. */
  positionOf: Map<number, number>
  packed: KeywordPages
  /** Numbers of the pages in `result_address`. */
  pageIds: Int32Array
  /** What part of a sum each keyword is. */
  parts: number[]
  /** How many of the first results are compared. */
  compared: number
  previews: Promise<ThemePreview[]> | null
}

const held = new WeakMap<pg.Pool, LRUCache<string, { version: string; facts: Promise<GroupFacts> }>>()

/** What a grouping is made from. It stays in memory until results or figures of the site, or the grouping, change. */
export async function readFacts(
  pool: pg.Pool,
  siteId: number,
  market: Market,
  grouping: Grouping,
): Promise<GroupFacts> {
  let cache = held.get(pool)
  if (!cache) held.set(pool, (cache = new LRUCache({ max: 8 })))
  const key = `${siteId}:${grouping.id}`
  const version = `${await figuresVersion(pool, siteId)}:${grouping.keywords}:${grouping.leftOut.join()}`
  const known = cache.get(key)
  if (known?.version === version) return known.facts
  const facts = queryFacts(pool, siteId, market, grouping)
  cache.set(key, { version, facts })
  facts.catch(() => cache.delete(key))
  return facts
}

/** What every threshold and method would make of all keywords of a grouping. */
export function readPreviews(facts: GroupFacts): Promise<ThemePreview[]> {
  if (!facts.previews) {
    const searches = facts.keywords.map(({ searches: own }, i) => (own === null ? null : own * facts.parts[i]!))
    const question: PreviewQuestion = { packed: facts.packed, searches, compared: facts.compared }
    facts.previews =
      facts.keywords.length <= mostAtOnce
        ? Promise.resolve(previewThemes(facts.packed, searches, facts.compared))
        : runInThread<ThemePreview[]>(
            new URL('./preview-thread.ts', import.meta.url),
            question,
            new AbortController().signal,
          )
    facts.previews.catch(() => {
      facts.previews = null
    })
  }
  return facts.previews
}

async function queryFacts(pool: pg.Pool, siteId: number, market: Market, grouping: Grouping): Promise<GroupFacts> {
  const rows = await manyKeywords(pool, siteId, market, grouping)
  const results = await manyFirstResults(pool, siteId, market.id, grouping)
  const numbers = new Map<number, number>()
  const packAll = (order: readonly number[]): KeywordPages => {
    const starts = new Int32Array(order.length + 1)
    const pages: number[] = []
    for (const [at, i] of order.entries()) {
      for (const page of results.get(rows[i]!.id) ?? []) {
        let number = numbers.get(page)
        if (number === undefined) numbers.set(page, (number = numbers.size))
        pages.push(number)
      }
      starts[at + 1] = pages.length
    }
    return { starts, pages: Int32Array.from(pages), pageCount: numbers.size }
  }
  const asRead = [...rows.keys()]
  const order = leadOrder(rows, grouping.searchesFrom === 'none' ? sharedTotals(packAll(asRead)) : undefined)
  numbers.clear()
  const packed = packAll(order)
  const keywords = order.map(i => rows[i]!)
  return {
    keywords,
    positionOf: new Map(keywords.map((each, i) => [each.id, i])),
    packed,
    pageIds: Int32Array.from(numbers.keys()),
    parts: figureParts(keywords),
    compared: grouping.compared,
    previews: null,
  }
}

async function manyKeywords(db: Db, siteId: number, market: Market, grouping: Grouping): Promise<GroupKeyword[]> {
  const searches = { known: 'd.searches', file: 'm.searches', none: 'null::real' }[grouping.searchesFrom]
  const { rows } = await db.query<GroupKeyword>(
    `select k.id, k.phrase, k.family, k.intent, ${searches} searches,
       ${grouping.searchesFrom === 'known' ? 'd.hidden_searches is not null' : 'false'} hidden, d.cpc, w.difficulty,
       w.chance3, w.chance10, w.chance20, w.organic_share "organicShare", h.day::text "day"
     from theme_keyword m join keyword k on k.site_id = $1 and k.id = m.keyword_id
     left join demand d on d.site_id = $1 and d.keyword_id = k.id and d.place = $4
     left join weighing w on w.site_id = $1 and w.keyword_id = k.id and w.market_id = $3 and w.state = 'known'
     left join result_head h on h.site_id = $1 and h.keyword_id = k.id and h.market_id = $3
     where m.site_id = $1 and m.grouping_id = $2`,
    [siteId, grouping.id, market.id, market.place],
  )
  return rows
}

/** The first results of keywords, in order, as numbers of pages; pages of sites that are left out are not among them. */
async function manyFirstResults(
  db: Db,
  siteId: number,
  marketId: number,
  grouping: Grouping,
): Promise<Map<number, number[]>> {
  const { rows } = await db.query<{ id: number; pages: string }>(
    `select m.keyword_id id, string_agg(r.page_id::text, ',' order by r.now, r.page_id) pages
     from theme_keyword m join result_row r on r.site_id = $1 and r.market_id = $3 and r.keyword_id = m.keyword_id
     where m.site_id = $1 and m.grouping_id = $2 and r.now <= $4
       and r.on_site not in (select id from result_site where site_id = $1 and domain = any($5))
     group by 1`,
    [siteId, grouping.id, marketId, grouping.compared, grouping.leftOut],
  )
  return new Map(rows.map(row => [row.id, row.pages.split(',').map(Number)]))
}

/** Shared pages as so many of ten. */
export const ofTen = (shared: number, { compared }: GroupFacts): number => (shared * 10) / compared

/** Addresses and sites of pages among results, by their numbers. */
export async function manyAddresses(
  db: Db,
  siteId: number,
  pageIds: readonly number[],
): Promise<Map<number, { url: string; domain: string }>> {
  const { rows } = await db.query<{ id: number; url: string; domain: string }>(
    `select a.id, a.url, s.domain from result_address a join result_site s on s.site_id = $1 and s.id = a.on_site
     where a.site_id = $1 and a.id = any($2)`,
    [siteId, pageIds],
  )
  return new Map(rows.map(({ id, ...row }) => [id, row]))
}
