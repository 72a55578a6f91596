import { assignKeywords, changePage, createPage, listPages, removePage } from '@dew-trail/contract/plan'
import type { Router } from 'express'
import type { Context } from '../../context.ts'
import { mount } from '../../platform/http/mount.ts'
import { addPage, assignToPage, editPage, removePlannedPage } from './change-plan.ts'
import { listPlannedPages } from './list-pages.ts'

export function mountPlan(router: Router, context: Context): void {
  mount(router, listPages, ({ siteId, marketId, today }) => listPlannedPages(context.pool, siteId, marketId, today))
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
  mount(router, assignKeywords, ({ siteId, pageId, keywordIds }) => assignToPage(context, siteId, pageId, keywordIds))
}
