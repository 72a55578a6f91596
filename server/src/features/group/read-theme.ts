import { AppError } from '@dew-trail/contract/errors'
import type { readTheme } from '@dew-trail/contract/group'
import { sharedPages } from '@dew-trail/core/themes/keyword-pages'
import type pg from 'pg'
import type { z } from 'zod'
import { pageKey } from '../../domain/pages/page-key.ts'
import { manyPageKeys } from '../../domain/plans/queries.ts'
import type { Db } from '../../platform/db/pool.ts'
import { manyAddresses, ofTen } from './facts.ts'
import { choiceOf, lookAt, standingsAt, themesAt } from './look-at.ts'
import { proposePage } from './proposals.ts'
import type { Choice } from './themes-of.ts'

const [mostMarked, mostQuestions] = [20, 12]

/** A theme, named by its lead, with its keywords, the lead's results, what engines mark and ask, and the page proposed for it. */
export async function describeTheme(
  pool: pg.Pool,
  siteId: number,
  groupingId: number,
  leadId: number,
  wanted: Partial<Choice>,
): Promise<z.input<(typeof readTheme)['output']>> {
  const looked = await lookAt(pool, siteId, groupingId)
  const { site, market, grouping, facts } = looked
  const { keywords, packed, pageIds } = facts
  const { themes, byHand } = await themesAt(pool, looked, choiceOf(grouping, wanted))
  const lead = facts.positionOf.get(leadId)
  const theme = themes.find(each => each.lead === lead)
  if (lead === undefined || !theme)
    throw new AppError('notFound', 'There is no such theme any more; the grouping was changed meanwhile')
  const standings = await standingsAt(pool, looked)
  const leadPages = [...packed.pages.subarray(packed.starts[lead], packed.starts[lead + 1])]
  const addresses = await manyAddresses(
    pool,
    siteId,
    leadPages.map(page => pageIds[page]!),
  )
  const rivals = new Set(await manyRivals(pool, siteId))
  const ids = theme.members.map(at => keywords[at]!.id)
  return {
    members: theme.members.map(at => {
      const keyword = keywords[at]!
      const pages = new Set(packed.pages.subarray(packed.starts[at], packed.starts[at + 1]))
      const best = standings.own.bestOf.get(at)
      const state = standings.stateOf(keyword.id)
      return {
        id: keyword.id,
        phrase: keyword.phrase,
        strip: leadPages.map(page => pages.has(page)),
        shared:
          keyword.day === null || keywords[lead]!.day === null ? null : ofTen(sharedPages(packed, at, lead), facts),
        searches: keyword.searches,
        hidden: keyword.hidden,
        own: best?.position ?? null,
        ownPage: best?.page ?? null,
        byHand: byHand[at] === 1,
        kept: state.kept,
        tracked: state.tracked,
        planned: state.planned,
      }
    }),
    results: leadPages.map(page => {
      const { url, domain } = addresses.get(pageIds[page]!)!
      return { url, domain, own: domain === site.domain, rival: rivals.has(domain) }
    }),
    resultsDay: keywords[lead]!.day,
    marked: await manyMarkedWords(pool, siteId, market.id, ids),
    questions: await manyQuestions(pool, siteId, market.id, ids),
    proposal: proposePage(theme, facts, standings, await manyPageKeys(pool, siteId), pageKey),
  }
}

async function manyRivals(db: Db, siteId: number): Promise<string[]> {
  const { rows } = await db.query<{ domain: string }>(
    `select domain from rival where site_id = $1 and state = 'accepted'
     union select owner from brand_word where site_id = $1 and not own`,
    [siteId],
  )
  return rows.map(row => row.domain)
}
const latestPages = `select distinct on (keyword_id) keyword_id, organic, features from result_page
  where site_id = $1 and market_id = $2 and keyword_id = any($3) order by keyword_id, fetched_on desc`

/** Words that engines mark in the results of keywords, with of how many of them. */
async function manyMarkedWords(
  db: Db,
  siteId: number,
  marketId: number,
  keywordIds: readonly number[],
): Promise<Array<{ word: string; keywords: number }>> {
  const { rows } = await db.query<{ word: string; keywords: number }>(
    `select w.word, count(distinct p.keyword_id) keywords from (${latestPages}) p
       cross join jsonb_array_elements(p.organic) o cross join jsonb_array_elements_text(o->'marked') w (word)
     group by 1 order by 2 desc, 1 limit $4`,
    [siteId, marketId, keywordIds, mostMarked],
  )
  return rows
}
/** Questions on the first pages of keywords, with of how many of them. */
async function manyQuestions(
  db: Db,
  siteId: number,
  marketId: number,
  keywordIds: readonly number[],
): Promise<Array<{ question: string; keywords: number }>> {
  const { rows } = await db.query<{ question: string; keywords: number }>(
    `select q.question, count(distinct p.keyword_id) keywords
     from (${latestPages}) p cross join jsonb_array_elements_text(p.features->'questions') q (question)
     group by 1 order by 2 desc, 1 limit $4`,
    [siteId, marketId, keywordIds, mostQuestions],
  )
  return rows
}
