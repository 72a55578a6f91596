import { AppError } from '@dew-trail/contract/errors'
import type { createPage, PlacesBefore } from '@dew-trail/contract/plan'
import type { z } from 'zod'
import type { Context } from '../context.ts'
import { inTransaction } from '../db/pool.ts'
import { lockSite, touchKeywords } from '../sites/queries.ts'
import { keepPredictions } from '../weigh/prediction-queries.ts'
import {
  assign,
  insertPage,
  manyAssignments,
  manyKeywordIdsOfPage,
  pageExists,
  setRemoved,
  updatePage,
} from './queries.ts'

type Changed = { id: number }
const missing = (pageId: number): AppError =>
  new AppError('notFound', `The plan has no page ${pageId}; it may have been removed meanwhile`)

export async function addPage(
  context: Context,
  input: z.output<(typeof createPage)['input']>,
): Promise<Changed & { before: PlacesBefore }> {
  const added = await inTransaction(context.pool, async db => {
    await lockSite(db, input.siteId)
    const pageId = await insertPage(db, input.siteId, input)
    const before = await manyAssignments(db, input.siteId, input.keywordIds)
    await assign(db, input.siteId, pageId, input.keywordIds)
    await touchKeywords(db, input.siteId, input.keywordIds)
    return { id: pageId, before }
  })
  tell(context, input.siteId)
  return added
}

export async function editPage(
  context: Context,
  siteId: number,
  pageId: number,
  change: Parameters<typeof updatePage>[3],
): Promise<Changed & { version: number }> {
  const version = await inTransaction(context.pool, async db => {
    await lockSite(db, siteId)
    if (!(await pageExists(db, siteId, pageId))) throw missing(pageId)
    const next = await updatePage(db, siteId, pageId, change)
    if (next === undefined)
      throw new AppError('conflict', 'Somebody changed this page meanwhile. Nothing was saved; look at it again first.')
    if (change.state === 'published') await keepPredictions(db, siteId, pageId)
    // Rows show the page's name.
    if (change.title !== undefined) await touchKeywords(db, siteId, await manyKeywordIdsOfPage(db, siteId, pageId))
    return next
  })
  tell(context, siteId)
  return { id: pageId, version }
}

export async function removeOrRestorePage(
  context: Context,
  siteId: number,
  pageId: number,
  removed: boolean,
): Promise<Changed> {
  await inTransaction(context.pool, async db => {
    await lockSite(db, siteId)
    if (!(await setRemoved(db, siteId, pageId, removed))) throw missing(pageId)
    await touchKeywords(db, siteId, await manyKeywordIdsOfPage(db, siteId, pageId))
  })
  tell(context, siteId)
  return { id: pageId }
}

export async function assignToPage(
  context: Context,
  siteId: number,
  pageId: number | null,
  keywordIds: number[],
): Promise<{ before: PlacesBefore }> {
  const before = await inTransaction(context.pool, async db => {
    await lockSite(db, siteId)
    if (pageId !== null && !(await pageExists(db, siteId, pageId))) throw missing(pageId)
    const previous = await manyAssignments(db, siteId, keywordIds)
    await assign(db, siteId, pageId, keywordIds)
    await touchKeywords(db, siteId, keywordIds)
    return previous
  })
  tell(context, siteId)
  return { before }
}

function tell(context: Context, siteId: number): void {
  context.events.publish(siteId, { type: 'plan' })
  context.events.publish(siteId, { type: 'keywords' })
}
