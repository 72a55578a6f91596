import { weighedDepth } from '@dew-trail/core/results/learn-strength'
import { proposedThreshold } from '@dew-trail/core/themes/preview-themes'
import type { Context } from '../../context.ts'
import { askDemand, figuresAtATime } from '../../domain/keywords/ask-demand.ts'
import { manyNeverAsked, manyPhrases } from '../../domain/keywords/queries.ts'
import { keepLatestPositions } from '../../domain/positions/keep-latest-positions.ts'
import { fetchResults } from '../../domain/results/fetch-results.ts'
import { needMarket, needSite } from '../../domain/sites/need-market.ts'
import { touchMembers } from '../../domain/themes/queries.ts'
import { lockSite } from '../../domain/sites/queries.ts'
import { inTransaction } from '../../platform/db/pool.ts'
import type { JobControl } from '../../platform/jobs/job-control.ts'
import { changedByThemes } from './change-themes.ts'
import { readPreviews } from './facts.ts'
import { lookAt } from './look-at.ts'
import { manyMemberIds, manyToFetch, oneGrouping, setCurrent, updateGrouping } from './queries.ts'
import { saveThemes } from './save-themes.ts'
import { chosenThemes, readKept } from './themes-of.ts'

/**
 * Asks for searches where that is wanted, fetches the results that are missing or old, and makes the themes: by the proposed threshold the
 * first time, by that of the grouping later. Themes that were given stay as they are. The first grouping of a market becomes its current one.
 */
export async function groupJob(context: Context, control: JobControl): Promise<object> {
  const { siteId } = control
  const { groupingId, marketId, oldestDays, ask } = control.job.payload as {
    groupingId: number
    marketId: number
    oldestDays: number
    ask: boolean
  }
  const site = await needSite(context.pool, siteId)
  const market = await needMarket(context.pool, siteId, marketId)
  const keywordIds = await manyMemberIds(context.pool, siteId, groupingId)
  control.clearWarnings()
  if (ask) await askForSearches(context, control, market, keywordIds)
  const { basis, compared } = await oneGrouping(context.pool, siteId, groupingId)
  // Settled once, so that after a stop the same list goes on where it was.
  control.progress.wanted ??=
    basis === 'words' ? [] : await manyToFetch(context.pool, siteId, marketId, keywordIds, oldestDays, compared)
  const wanted = control.progress.wanted as number[]
  const failed = await fetchResults(context, control, market, { keywordIds: wanted, depth: weighedDepth }, pages =>
    keepLatestPositions(
      context,
      site,
      market,
      pages.map(page => page.keywordId),
    ),
  )

  const looked = await lookAt(context.pool, siteId, groupingId)
  const { grouping, facts } = looked
  let { threshold, method } = grouping
  if (grouping.groupedAt === null) threshold = proposedThreshold(await readPreviews(facts), method) ?? threshold
  const themes = await inTransaction(context.pool, async db => {
    await lockSite(db, siteId)
    const now = await oneGrouping(db, siteId, groupingId)
    let made = now.themes
    if (now.basis !== 'given') {
      const choice = { threshold, method, basis: now.basis }
      const chosen = chosenThemes(facts, await readKept(db, siteId, groupingId), choice, market.language)
      await saveThemes(db, siteId, groupingId, facts, chosen)
      made = chosen.themes.length
    }
    await updateGrouping(db, siteId, groupingId, { threshold, method, grouped: true })
    const { rows } = await db.query(
      'select from keyword_grouping where site_id = $1 and market_id = $2 and is_current and removed_at is null',
      [siteId, marketId],
    )
    if (!rows.length) await setCurrent(db, siteId, marketId, groupingId)
    else await touchMembers(db, siteId, groupingId)
    return made
  })
  for (const type of changedByThemes) context.events.publish(siteId, { type })
  // A second try fetches what failed.
  Object.assign(control.progress, { wanted: undefined, done: 0, failed: [], requested: 0 })
  return { groupingId, themes, fetched: wanted.length - failed.length, failed: failed.length }
}

async function askForSearches(
  context: Context,
  control: JobControl,
  market: Awaited<ReturnType<typeof needMarket>>,
  keywordIds: number[],
): Promise<void> {
  const { siteId, signal } = control
  const ids = await manyNeverAsked(context.pool, siteId, market.place, market.language, keywordIds)
  const keywords = await manyPhrases(context.pool, siteId, market.language, ids)
  for (let from = 0; from < keywords.length; from += figuresAtATime) {
    await control.step(0, null)
    const failure = await askDemand(context, siteId, market, keywords.slice(from, from + figuresAtATime), signal)
    if (failure) control.warn(failure.message)
    if (failure?.kind === 'quotaUsed') throw failure
  }
}
