import { AppError } from '@dew-trail/contract/errors'
import { type createGrouping, type GroupBasis, type Grouping, mostGrouped } from '@dew-trail/contract/group'
import type pg from 'pg'
import type { z } from 'zod'
import type { Context } from '../../context.ts'
import { countOf } from '../../domain/acts/do-act.ts'
import { addPhrases } from '../../domain/keywords/add-phrases.ts'
import { needMarket } from '../../domain/sites/need-market.ts'
import { lockSite } from '../../domain/sites/queries.ts'
import { inTransaction } from '../../platform/db/pool.ts'
import { insertGrouping, insertMembers, manyToFetch, setGroupingJob, updateGrouping } from './queries.ts'
import { selectKeywords } from './select-keywords.ts'
import { insertThemes, setMemberships } from './theme-queries.ts'

export type GivenKeyword = { id: number; theme: string | null; searches: number | null }

/** Makes a grouping of the keywords a source names, and starts the work that fetches what is missing and makes its themes. */
export async function makeGrouping(
  context: Context,
  input: z.output<(typeof createGrouping)['input']>,
): Promise<{ groupingId: number; jobId: number }> {
  const { siteId, marketId, from } = input
  const market = await needMarket(context.pool, siteId, marketId)
  const { name, keywords, fresh } = await selectKeywords(context.pool, siteId, market, from)
  if (!keywords.length && !fresh.length)
    throw new AppError('badInput', `There is no keyword to group: ${name.toLowerCase()} has none in this language.`)
  if (keywords.length + fresh.length > mostGrouped)
    throw new AppError('badInput', `At most ${countOf(mostGrouped, 'keyword')} at a time; these are more.`)
  const added = await inTransaction(context.pool, async db => {
    await lockSite(db, siteId)
    return addPhrases(db, siteId, market.language, fresh)
  })
  if (added.size) context.events.publish(siteId, { type: 'keywords' })
  const given = [
    ...keywords.map(each => ({ ...each, searches: null })),
    ...[...added.values()].map(id => ({ id, theme: null, searches: null })),
  ]
  const isGiven = from.kind === 'plan' || from.kind === 'log'
  return saveGrouping(context, siteId, {
    marketId,
    name: input.name ?? (await freeName(context.pool, siteId, marketId, name)),
    source: { kind: from.kind, name },
    basis: isGiven ? 'given' : input.basis,
    compared: input.compared,
    searchesFrom: input.searches === 'none' ? 'none' : 'known',
    oldestDays: input.oldestDays,
    keywords: given,
    ask: input.searches === 'ask',
  })
}

type NewGrouping = {
  marketId: number
  name: string
  source: { kind: string; name: string }
  basis: GroupBasis
  compared: 10 | 20
  searchesFrom: Grouping['searchesFrom']
  oldestDays: number
  keywords: GivenKeyword[]
  /** Whether searches that are not known are asked for first. */
  ask: boolean
}
/** Saves a grouping with the themes its keywords come with, and starts its work. */
export async function saveGrouping(
  context: Context,
  siteId: number,
  { keywords, ask, ...row }: NewGrouping,
): Promise<{ groupingId: number; jobId: number }> {
  const groupingId = await inTransaction(context.pool, async db => {
    await lockSite(db, siteId)
    const id = await insertGrouping(db, siteId, row)
    await insertMembers(db, siteId, id, keywords)
    if (row.basis === 'given') await giveThemes(db, siteId, id, keywords)
    return id
  })
  const jobId = await startGroupJob(context, siteId, { groupingId, ...row, keywords: keywords.length, ask })
  context.events.publish(siteId, { type: 'themes' })
  return { groupingId, jobId }
}

/** Themes by the names that keywords come with; a name of one keyword is a theme of one. */
async function giveThemes(
  db: pg.PoolClient,
  siteId: number,
  groupingId: number,
  keywords: readonly GivenKeyword[],
): Promise<void> {
  const byName = new Map<string, GivenKeyword[]>()
  for (const keyword of keywords) {
    if (keyword.theme === null) continue
    const list = byName.get(keyword.theme)
    if (list) list.push(keyword)
    else byName.set(keyword.theme, [keyword])
  }
  const names = [...byName.keys()]
  const ids = await insertThemes(
    db,
    siteId,
    groupingId,
    names.map(name => ({ name, leadId: byName.get(name)![0]!.id })),
  )
  await setMemberships(
    db,
    siteId,
    groupingId,
    names.flatMap((name, i) => byName.get(name)!.map(({ id }) => ({ keywordId: id, themeId: ids[i]!, byHand: false }))),
  )
}

type GroupWork = { groupingId: number; marketId: number; oldestDays: number; keywords: number; ask: boolean }
/** Starts fetching what results of a grouping are missing or old, and making its themes. */
export async function startGroupJob(
  context: Context,
  siteId: number,
  { groupingId, marketId, oldestDays, keywords, ask }: GroupWork,
): Promise<number> {
  const title = `Grouping ${countOf(keywords, 'keyword')}`
  const job = await context.jobs.add(siteId, 'group', title, { groupingId, marketId, oldestDays, ask })
  await setGroupingJob(context.pool, siteId, groupingId, job.id)
  return job.id
}

/** Does the work of a grouping again, with results that are at most so many days old. */
export async function runAgain(context: Context, siteId: number, grouping: Grouping, oldestDays: number) {
  await updateGrouping(context.pool, siteId, grouping.id, { oldestDays })
  const jobId = await startGroupJob(context, siteId, {
    groupingId: grouping.id,
    marketId: grouping.marketId,
    oldestDays,
    keywords: grouping.keywords,
    ask: false,
  })
  context.events.publish(siteId, { type: 'themes' })
  return { jobId }
}

/** What grouping keywords would take. */
export async function groupingCost(
  pool: pg.Pool,
  siteId: number,
  marketId: number,
  keywordIds: readonly number[],
  fresh: number,
  oldestDays: number,
  compared: number,
): Promise<number> {
  return fresh + (await manyToFetch(pool, siteId, marketId, keywordIds, oldestDays, compared)).length
}

/** A name that no grouping of the market has yet: the wanted one, or it with a number. */
async function freeName(pool: pg.Pool, siteId: number, marketId: number, wanted: string): Promise<string> {
  const { rows } = await pool.query<{ name: string }>(
    'select name from keyword_grouping where site_id = $1 and market_id = $2 and removed_at is null',
    [siteId, marketId],
  )
  const taken = new Set(rows.map(row => row.name))
  for (let number = 1; ; number++) {
    const name = number === 1 ? wanted : `${wanted} ${number}`
    if (!taken.has(name)) return name
  }
}
