import type { Grouping } from '@dew-trail/contract/group'
import { AppError } from '@dew-trail/contract/errors'
import type { Market } from '@dew-trail/contract/sites'
import type pg from 'pg'
import { type OwnPages, ownPages } from '../../domain/chances/own-pages.ts'
import { type VisitReader, visitReader } from '../../domain/chances/visits-of.ts'
import { needMarket, needSite } from '../../domain/sites/need-market.ts'
import type { SiteRow } from '../../domain/sites/queries.ts'
import { type GroupFacts, readFacts } from './facts.ts'
import { type KeywordState, keywordStates } from './keyword-states.ts'
import { oneGrouping } from './queries.ts'
import { type Choice, chosenThemes, keptThemes, readKept, type ThemesOf } from './themes-of.ts'

/** A grouping with its market and facts: what everything about it begins with. */
export type Looked = { site: SiteRow; market: Market; grouping: Grouping; facts: GroupFacts }

/** Throws `notFound` for a grouping that was removed. */
export async function needGrouping(pool: pg.Pool, siteId: number, groupingId: number): Promise<Grouping> {
  const { rows } = await pool.query<{ gone: boolean }>(
    'select removed_at is not null gone from keyword_grouping where site_id = $1 and id = $2',
    [siteId, groupingId],
  )
  if (!rows[0] || rows[0].gone) throw new AppError('notFound', 'The grouping was removed')
  return oneGrouping(pool, siteId, groupingId)
}

export async function lookAt(pool: pg.Pool, siteId: number, groupingId: number): Promise<Looked> {
  const grouping = await needGrouping(pool, siteId, groupingId)
  const [site, market] = await Promise.all([needSite(pool, siteId), needMarket(pool, siteId, grouping.marketId)])
  return { site, market, grouping, facts: await readFacts(pool, siteId, market, grouping) }
}

/** The choice that is looked at, null where it is what is kept. */
export function choiceOf(
  grouping: Grouping,
  { threshold, method }: { threshold?: number | undefined; method?: Choice['method'] | undefined },
): Choice | null {
  if (threshold === undefined && method === undefined) return null
  const choice = { threshold: threshold ?? grouping.threshold, method: method ?? grouping.method }
  const kept =
    grouping.basis === 'results' && choice.threshold === grouping.threshold && choice.method === grouping.method
  return kept ? null : choice
}

/** Themes as they are kept, or as a choice would make them. */
export async function themesAt(
  pool: pg.Pool,
  { site, market, grouping, facts }: Looked,
  choice: Choice | null,
): Promise<ThemesOf> {
  if (!choice) return keptThemes(pool, site.id, grouping, facts)
  return chosenThemes(facts, await readKept(pool, site.id, grouping.id), choice, market.language)
}

export type Standings = { reader: VisitReader; own: OwnPages; stateOf(keywordId: number): KeywordState }
/** Where own pages stand for the keywords of a grouping, and how far these are along the trail. */
export async function standingsAt(pool: pg.Pool, { site, market, grouping, facts }: Looked): Promise<Standings> {
  const [reader, stateOf] = await Promise.all([
    visitReader(pool, site.id, market),
    keywordStates(pool, site.id, grouping.id),
  ])
  return { reader, stateOf, own: await ownPages(pool, site, market, grouping.id, facts, reader) }
}
