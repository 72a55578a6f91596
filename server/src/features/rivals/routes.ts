import {
  judgeRival,
  listLandingPages,
  listOverlap,
  listPaidKeywords,
  listRankedKeywords,
  listRivalMonths,
  listRivals,
  loadRankings,
  readMonthChanges,
  readOverlap,
  readRivalProfiles,
  takeOverKeywords,
} from '@dew-trail/contract/rivals'
import type { Express } from 'express'
import type { Context } from '../../context.ts'
import { countOf, doAct, type UndoWork } from '../../domain/acts/do-act.ts'
import { mount } from '../../platform/http/mount.ts'
import { readTarget } from '@dew-trail/core/rivals/target'
import { needMarket } from '../../domain/sites/need-market.ts'
import { manyMonths } from './known-queries.ts'
import { takeOver } from './take-over.ts'
import { setRivalState } from './queries.ts'
import { readChanges } from './read-changes.ts'
import { readOverlapKeywords, readRegions } from './read-overlap.ts'
import { openMarket } from './ranked.ts'
import { readRankedKeywords } from './read-keywords.ts'
import { readLandingPages } from './read-pages.ts'
import { readPaidKeywords } from './read-paid.ts'
import { readProfile } from './read-profiles.ts'
import { readRivals } from './read-rivals.ts'

const words = { proposed: 'neither rival nor set aside', accepted: 'a rival', aside: 'set aside' } as const

export function mountRivals(app: Express, context: Context): void {
  const { pool } = context
  mount(app, readRivalProfiles, async ({ siteId, marketId, targets }) => {
    const open = await openMarket(pool, siteId, marketId, targets)
    const profiles = []
    for (const target of targets) profiles.push(await readProfile(pool, open, target))
    return { profiles, coverage: open.coverage }
  })
  mount(app, listRankedKeywords, async ({ siteId, marketId, target, ...wanted }) =>
    readRankedKeywords(pool, await openMarket(pool, siteId, marketId, [target]), target, wanted),
  )
  mount(app, listPaidKeywords, async ({ siteId, marketId, target }) =>
    readPaidKeywords(pool, await openMarket(pool, siteId, marketId, [target]), target),
  )
  mount(app, listLandingPages, async ({ siteId, marketId, target, most }) =>
    readLandingPages(pool, await openMarket(pool, siteId, marketId, [target]), target, most),
  )
  mount(app, listRivals, async ({ siteId, marketId, of }) =>
    readRivals(pool, await openMarket(pool, siteId, marketId, of ? [of] : []), of),
  )
  mount(app, judgeRival, ({ siteId, domain, state }) =>
    doAct(context, siteId, async db => {
      const before = await setRivalState(db, siteId, domain, state)
      const act =
        before === state ? null : { kind: 'rival', title: `${domain} is ${words[state]}`, data: { domain, before } }
      return { answer: {}, act, changed: ['rivals'] }
    }),
  )
  mount(app, readOverlap, async ({ siteId, marketId, targets, within, of }) =>
    readRegions(pool, await openMarket(pool, siteId, marketId, targets), targets, within, of),
  )
  mount(app, listOverlap, async ({ siteId, marketId, targets, within, of, masks }) =>
    readOverlapKeywords(pool, await openMarket(pool, siteId, marketId, targets), targets, within, of, masks),
  )
  mount(app, loadRankings, async ({ siteId, marketId, targets, months }) => {
    await needMarket(pool, siteId, marketId)
    const domains = [...new Set(targets.map(text => readTarget(text)!.domain))]
    const parts = [...new Set(targets.filter(text => readTarget(text)!.kind !== 'site'))]
    const title = `Loading rankings of ${countOf(domains.length, 'site')}${months > 1 ? ` over ${months} months` : ''}`
    const job = await context.jobs.add(siteId, 'rankings', title, { marketId, domains, parts, months })
    return { jobId: job.id }
  })
  mount(app, takeOverKeywords, async ({ siteId, marketId, known }) => ({
    keywordIds: await takeOver(context, siteId, await needMarket(pool, siteId, marketId), known),
  }))
  mount(app, readMonthChanges, ({ siteId, marketId, target, before, month }) =>
    readChanges(context, siteId, marketId, readTarget(target)!.domain, before, month),
  )
  mount(app, listRivalMonths, async ({ siteId, marketId, targets }) => {
    const { place } = await needMarket(pool, siteId, marketId)
    const domains = [...new Set(targets.map(text => readTarget(text)!.domain))]
    return { domains, months: await manyMonths(pool, { siteId, marketId, place }, domains) }
  })
}

export const undoRival: UndoWork = async (
  db,
  siteId,
  { domain, before }: { domain: string; before: 'proposed' | 'accepted' | 'aside' },
) => {
  await setRivalState(db, siteId, domain, before)
  return ['rivals']
}
