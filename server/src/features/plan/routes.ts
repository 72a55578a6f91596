import {
  chooseFirst,
  listOutcomes,
  readBrief,
  readCalendarLink,
  readForBrief,
  renewCalendarLink,
  saveBrief,
} from '@dew-trail/contract/brief'
import { id } from '@dew-trail/contract/common'
import {
  assignKeywords,
  changePage,
  createPage,
  listPages,
  orderKeywords,
  removePage,
  setKeywordSpot,
} from '@dew-trail/contract/plan'
import {
  acceptAssignments,
  listAssignments,
  listThemeKeywordsLeft,
  movePage,
  readSiteMap,
  readUnlinkedPages,
} from '@dew-trail/contract/site-map'
import type { Router } from 'express'
import { z } from 'zod'
import type { Context } from '../../context.ts'
import { checkIds } from '../../platform/http/check-ids.ts'
import { checkInput, mount } from '../../platform/http/mount.ts'
import { acceptThemes, proposedAssignments, themeKeywordsLeft } from './assignments.ts'
import { endSecretLink, readSecretLink, renewSecretLink, whatIsShared } from '../../domain/sites/secret-links.ts'
import { planCalendar } from './calendar.ts'
import { startReading, writeBrief } from './change-brief.ts'
import { addPage, assignToPage, editPage, orderPageKeywords, removePlannedPage, setSpots } from './change-plan.ts'
import { chooseWhatFirst } from './choose-first.ts'
import { listPlannedPages } from './list-pages.ts'
import { moveOnMap } from './move-page.ts'
import { readOutcomes } from './outcomes.ts'
import { readPageBrief } from './read-brief.ts'
import { readMap, unlinkedPages } from './site-map.ts'

export function mountPlan(router: Router, context: Context): void {
  const { pool } = context
  mount(router, listPages, ({ siteId, marketId, today }) => listPlannedPages(pool, siteId, marketId, today))
  mount(router, createPage, input => addPage(context, input))
  mount(router, changePage, ({ siteId, pageId, ...change }) =>
    editPage(
      context,
      siteId,
      pageId,
      Object.fromEntries(Object.entries(change).filter(([, value]) => value !== undefined)),
    ),
  )
  mount(router, removePage, ({ siteId, pageId }) => removePlannedPage(context, siteId, pageId))
  mount(router, assignKeywords, ({ siteId, pageId, keywordIds, spot }) =>
    assignToPage(context, siteId, pageId, keywordIds, spot),
  )
  mount(router, orderKeywords, ({ siteId, pageId, keywordIds }) =>
    orderPageKeywords(context, siteId, pageId, keywordIds),
  )
  mount(router, setKeywordSpot, ({ siteId, pageId, keywordIds, spot }) =>
    setSpots(context, siteId, pageId, keywordIds, spot),
  )
  mount(router, readSiteMap, ({ siteId, marketId }) => readMap(pool, siteId, marketId, today()))
  mount(router, readUnlinkedPages, ({ siteId }) => unlinkedPages(pool, siteId))
  mount(router, movePage, ({ siteId, node, under }) => moveOnMap(context, siteId, node, under))
  mount(router, listAssignments, ({ siteId, marketId }) => proposedAssignments(pool, siteId, marketId))
  mount(router, listThemeKeywordsLeft, ({ siteId, marketId }) => themeKeywordsLeft(pool, siteId, marketId))
  mount(router, acceptAssignments, ({ siteId, marketId, ids }) => acceptThemes(context, siteId, marketId, ids))
  mount(router, readBrief, ({ siteId, pageId, marketId }) => readPageBrief(pool, siteId, pageId, marketId))
  mount(router, saveBrief, ({ siteId, pageId, text, version }) => writeBrief(context, siteId, pageId, text, version))
  mount(router, readForBrief, ({ siteId, pageId, marketId }) => startReading(context, siteId, pageId, marketId))
  mount(router, chooseFirst, ask => chooseWhatFirst(pool, ask))
  mount(router, listOutcomes, ({ siteId, marketId, today: on }) => readOutcomes(pool, siteId, marketId, on))
  mount(router, readCalendarLink, ({ siteId }) => readSecretLink(pool, { siteId, kind: 'calendar' }))
  mount(router, renewCalendarLink, async ({ siteId, end }) => {
    const link = await (end ? endSecretLink : renewSecretLink)(pool, { siteId, kind: 'calendar' })
    context.events.publish(siteId, { type: 'plan' })
    return link
  })
  router.get('/api/sites/:siteId/plan.ics', async (request, response) => {
    const input = checkInput(z.object({ siteId: id }), request.params)
    await checkIds(pool, input)
    context.people.noteExport(input.siteId, 'Calendar of the plan')
    response.setHeader('content-disposition', 'attachment; filename="plan.ics"')
    response.type('text/calendar; charset=utf-8').send(await planCalendar(pool, input.siteId))
  })
  // Programs that show calendars come by this address, without signing in.
  router.get('/calendar/:token.ics', async (request, response) => {
    const { token } = checkInput(z.object({ token: z.string().max(100) }), request.params)
    const { siteId } = await whatIsShared(pool, 'calendar', token)
    response.setHeader('cache-control', 'no-store')
    response.type('text/calendar; charset=utf-8').send(await planCalendar(pool, siteId))
  })
}

const today = (): string => new Date().toISOString().slice(0, 10)
