import { AppError } from '@dew-trail/contract/errors'
import type { GroupSource } from '@dew-trail/contract/group'
import type { Market } from '@dew-trail/contract/sites'
import { normalForm } from '@dew-trail/core/words/normal-form'
import type pg from 'pg'
import { manyIdsByPhrase } from '../../domain/keywords/queries.ts'
import { manyLoggedPages } from '../../domain/query-log/page-queries.ts'
import { mostGrouped } from '@dew-trail/contract/group'

/** `theme`: the name of the theme that a keyword comes with, null = none. */
export type Selected = { id: number; theme: string | null }
/** Keywords to group: `fresh` phrases that the site does not have yet; `name`: where they come from, in words. */
export type Selection = { name: string; keywords: Selected[]; fresh: string[] }

const longestPhrase = 200
const logDays = 91

/** The keywords that a source names, of the market's language. Nothing is written. */
export async function selectKeywords(
  pool: pg.Pool,
  siteId: number,
  market: Market,
  from: GroupSource,
): Promise<Selection> {
  switch (from.kind) {
    case 'kept':
      return of('Kept keywords', await ids('k.kept_at is not null'))
    case 'list': {
      const { rows } = await pool.query<{ name: string }>('select name from list where site_id = $1 and id = $2', [
        siteId,
        from.listId,
      ])
      if (!rows[0]) throw new AppError('notFound', `The site has no list ${from.listId}`)
      return of(
        rows[0].name,
        await ids(
          'exists (select from list_keyword l where l.site_id = $1 and l.list_id = $3 and l.keyword_id = k.id)',
          [from.listId],
        ),
      )
    }
    case 'gathering': {
      const { rows } = await pool.query<{ seed: string }>(
        `select seed from gathering
        where site_id = $1 and id = $2`,
        [siteId, from.gatheringId],
      )
      if (!rows[0]) throw new AppError('notFound', `The site has no gathering ${from.gatheringId}`)
      return of(
        `Gathered from ${rows[0].seed}`,
        await ids(
          'exists (select from finding f where f.site_id = $1 and f.gathering_id = $3 and f.keyword_id = k.id)',
          [from.gatheringId],
        ),
      )
    }
    case 'rows':
      return of('Selected keywords', await ids('k.id = any($3)', [from.keywordIds]))
    case 'pasted': {
      const phrases = pastedPhrases(from.text)
      const known = await manyIdsByPhrase(pool, siteId, market.language, phrases)
      return {
        name: 'Pasted keywords',
        keywords: [...known.values()].map(id => ({ id, theme: null })),
        fresh: phrases.filter(phrase => !known.has(phrase)),
      }
    }
    case 'plan': {
      const { rows } = await pool.query<Selected>(
        `select k.id, p.title theme from page_plan p
         join page_plan_keyword pk on pk.site_id = $1 and pk.page_id = p.id
         join keyword k on k.site_id = $1 and k.id = pk.keyword_id and k.language = $2
         where p.site_id = $1 and p.removed_at is null order by k.id`,
        [siteId, market.language],
      )
      return { name: 'Pages of the plan', keywords: rows, fresh: [] }
    }
    case 'log': {
      const best = new Map<number, { theme: string; impressions: number }>()
      for (const row of await manyLoggedPages(pool, siteId, market, logDays, 1)) {
        const known = best.get(row.keywordId)
        if (!known || row.impressions > known.impressions)
          best.set(row.keywordId, { theme: pathOf(row.page), impressions: row.impressions })
      }
      return {
        name: 'Own pages in the query log',
        keywords: [...best].map(([id, { theme }]) => ({ id, theme })).sort((a, b) => a.id - b.id),
        fresh: [],
      }
    }
  }

  async function ids(where: string, more: unknown[] = []): Promise<number[]> {
    const { rows } = await pool.query<{ id: number }>(
      `select k.id from keyword k where k.site_id = $1 and k.language = $2 and ${where} order by 1`,
      [siteId, market.language, ...more],
    )
    return rows.map(row => row.id)
  }
}
const of = (name: string, ids: readonly number[]): Selection => ({
  name,
  keywords: ids.map(id => ({ id, theme: null })),
  fresh: [],
})
const pathOf = (url: string): string => new URL(url).pathname

/** Phrases of pasted lines, each once, in normal form. Throws `badInput` naming the first line that is too long. */
function pastedPhrases(text: string): string[] {
  const phrases = new Set<string>()
  for (const [i, line] of text.split(/\r\n|\r|\n/).entries()) {
    const phrase = normalForm(line)
    if (phrase.length > longestPhrase)
      throw new AppError('badInput', `Line ${i + 1} has over ${longestPhrase} characters. Nothing was grouped.`)
    if (phrase) phrases.add(phrase)
  }
  if (phrases.size > mostGrouped)
    throw new AppError(
      'badInput',
      `At most ${mostGrouped.toLocaleString('en')} keywords at a time. Nothing was grouped.`,
    )
  return [...phrases]
}
