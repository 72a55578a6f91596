import { listViews, removeView, saveView } from '@dew-trail/contract/views'
import type { Router } from 'express'
import type { Context } from '../../context.ts'
import { mount } from '../../platform/http/mount.ts'
import { deleteView, manyViews, upsertView } from './queries.ts'

export function mountViews(router: Router, { pool }: Context): void {
  mount(router, listViews, ({ sheet }) => manyViews(pool, sheet))
  mount(router, saveView, view => upsertView(pool, view))
  mount(router, removeView, async ({ viewId }) => ({ removed: await deleteView(pool, viewId) }))
}
