import { assignKeywords, changePage, createPage, listPages, removePage, restorePage } from '@dew-trail/contract/plan'
import type { Router } from 'express'
import type { Context } from '../context.ts'
import { mount } from '../http/mount.ts'
import { addPage, assignToPage, editPage, removeOrRestorePage } from './change-plan.ts'
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
  mount(router, removePage, ({ siteId, pageId }) => removeOrRestorePage(context, siteId, pageId, true))
  mount(router, restorePage, ({ siteId, pageId }) => removeOrRestorePage(context, siteId, pageId, false))
  mount(router, assignKeywords, ({ siteId, pageId, keywordIds }) => assignToPage(context, siteId, pageId, keywordIds))
}
