import { AppError } from '@dew-trail/contract/errors'
import type { createPage, KeywordSpot, WorkKind } from '@dew-trail/contract/plan'
import type pg from 'pg'
import type { z } from 'zod'
import type { Context } from '../../context.ts'
import { countOf, doAct } from '../../domain/acts/do-act.ts'
import { keepExpectations } from './outcomes.ts'
import { keepPredictions } from '../../domain/chances/prediction-queries.ts'
import { insertNote } from '../../domain/notes/queries.ts'
import { changedByPlan, putKeywords, setPageRemoved } from '../../domain/plans/put-keywords.ts'
import { touchKeywords } from '../../domain/sites/queries.ts'
import {
  type Assignment,
  insertPage,
  manyKeywordIdsOfPage,
  maybePage,
  type KeywordOrder,
  manyKeywordOrders,
  type PageChange,
  type PageRow,
  setKeywordOrders,
  updatePage,
} from '../../domain/plans/queries.ts'

export async function onePage(db: pg.PoolClient, siteId: number, pageId: number): Promise<PageRow> {
  const page = await maybePage(db, siteId, pageId)
  if (!page) throw new AppError('notFound', `The plan has no page ${pageId}; it may have been removed meanwhile`)
  return page
}
/** Fields of a page as a user calls them; what follows from another one is not said. */
const fieldWords: Record<string, string[]> = {
  title: ['name'],
  address: ['address'],
  kind: ['kind of work'],
  mergeInto: ['page to merge into'],
  effort: ['days of work'],
  owner: ['owner'],
  notBefore: ['earliest day'],
  mustBeIn: ['must be in'],
  deadline: ['deadline'],
  state: ['state'],
  remarks: ['remarks'],
}

/** How many keywords stood on another page than the one they are put on. */
const takenOff = (before: readonly Assignment[], pageId: number | null): number =>
  before.filter(each => each.pageId !== null && each.pageId !== pageId).length

export function addPage(context: Context, input: z.output<(typeof createPage)['input']>) {
  return doAct(context, input.siteId, async db => {
    const pageId = await insertPage(db, input.siteId, input)
    const before = await putKeywords(db, input.siteId, pageId, input.keywordIds, input.spot)
    const title = `"${input.title}" planned`
    return {
      answer: { id: pageId, takenOff: takenOff(before, pageId) },
      act: { kind: 'addPage', title, data: { pageId, before } },
      changed: changedByPlan,
    }
  })
}

export function editPage(context: Context, siteId: number, pageId: number, change: PageChange) {
  return doAct(context, siteId, async db => {
    const page = await onePage(db, siteId, pageId)
    if (change.mergeInto === pageId)
      throw new AppError('badInput', 'A page cannot be put into itself. Nothing was saved.')
    const isDone = change.state === 'published' && page.state !== 'published'
    const whole: PageChange = {
      ...change,
      ...(isDone ? { doneOn: new Date().toISOString().slice(0, 10) } : {}),
      // A page of the site as it is has nothing to be done.
      ...(change.kind === 'keep' ? { state: 'published' } : {}),
      ...(page.kind === 'keep' && change.kind !== undefined && change.kind !== 'keep' && change.state === undefined
        ? { state: 'idea' }
        : {}),
    }
    const version = await changePageRow(db, siteId, pageId, whole)
    if (version === undefined)
      throw new AppError('conflict', 'Somebody changed this page meanwhile. Nothing was saved; look at it again first.')
    let noteId: number | null = null
    if (isDone) {
      await keepPredictions(db, siteId, pageId)
      await keepExpectations(db, context, siteId, pageId)
      noteId = await noteWorkDone(db, siteId, { ...page, ...whole })
    }
    const { version: _, ...fields } = whole
    const before = Object.fromEntries(Object.keys(fields).map(name => [name, page[name as keyof PageRow]]))
    const what = Object.keys(fields).flatMap(name => fieldWords[name] ?? [])
    const title = `${what.join(', ') || 'work'} of "${page.title}" changed`
    return {
      answer: { id: pageId, version },
      act: { kind: 'changePage', title, data: { pageId, version, before, noteId } },
      changed: noteId === null ? changedByPlan : [...changedByPlan, 'notes'],
    }
  })
}

const doneWords: Record<WorkKind, string | null> = {
  new: 'Published',
  rework: 'Reworked',
  merge: 'Put into another page',
  remove: 'Taken away',
  keep: null,
}
/** Notes the day on which the work on a page was done, so that lines over time show it; gives the note's id, null where nothing was done. */
async function noteWorkDone(
  db: pg.PoolClient,
  siteId: number,
  { id, kind, title, doneOn }: Pick<PageRow, 'id' | 'kind' | 'title' | 'doneOn'>,
): Promise<number | null> {
  const words = doneWords[kind]
  if (words === null || doneOn === null) return null
  return (await insertNote(db, siteId, { day: doneOn, text: `${words}: ${title}`, touches: { pageId: id } })).id
}

/** The new version; undefined when the page is not of the version that `change` names. */
export async function changePageRow(
  db: pg.PoolClient,
  siteId: number,
  pageId: number,
  change: PageChange,
): Promise<number | undefined> {
  const version = await updatePage(db, siteId, pageId, change)
  // Rows show the page's name.
  if (change.title !== undefined) await touchKeywords(db, siteId, await manyKeywordIdsOfPage(db, siteId, pageId))
  return version
}

export function removePlannedPage(context: Context, siteId: number, pageId: number) {
  return doAct(context, siteId, async db => {
    const page = await onePage(db, siteId, pageId)
    await setPageRemoved(db, siteId, pageId, true)
    const title = `"${page.title}" taken off the plan`
    return { answer: {}, act: { kind: 'removePage', title, data: { pageId } }, changed: changedByPlan }
  })
}
export function assignToPage(
  context: Context,
  siteId: number,
  pageId: number | null,
  keywordIds: number[],
  spot?: KeywordSpot | null,
) {
  return doAct(context, siteId, async db => {
    const page = pageId === null ? null : await onePage(db, siteId, pageId)
    const before = (await putKeywords(db, siteId, pageId, keywordIds, spot)).filter(each => each.pageId !== pageId)
    const title = `${countOf(before.length, 'keyword')} ${page ? `put on "${page.title}"` : 'taken off the plan'}`
    return {
      answer: { takenOff: takenOff(before, pageId) },
      act: before.length ? { kind: 'assign', title, data: { pageId, before } } : null,
      changed: changedByPlan,
    }
  })
}

/** Gives a page's keywords an order; those that are not named follow behind. */
export function orderPageKeywords(context: Context, siteId: number, pageId: number, keywordIds: readonly number[]) {
  const index = new Map(keywordIds.map((id, i) => [id, i]))
  return changeOrders(context, siteId, pageId, 'Keywords ordered', each => ({
    ...each,
    at: index.get(each.keywordId) ?? null,
  }))
}
/** Says where in a page keywords should stand. */
export function setSpots(
  context: Context,
  siteId: number,
  pageId: number,
  keywordIds: readonly number[],
  spot: KeywordSpot | null,
) {
  const wanted = new Set(keywordIds)
  return changeOrders(
    context,
    siteId,
    pageId,
    `${countOf(wanted.size, 'keyword')} put in ${spot ?? 'no part'}`,
    each => (wanted.has(each.keywordId) ? { ...each, spot } : each),
  )
}
function changeOrders(
  context: Context,
  siteId: number,
  pageId: number,
  what: string,
  change: (order: KeywordOrder) => KeywordOrder,
) {
  return doAct(context, siteId, async db => {
    const page = await onePage(db, siteId, pageId)
    const before = await manyKeywordOrders(db, siteId, pageId)
    await setKeywordOrders(db, siteId, pageId, before.map(change))
    return {
      answer: {},
      act: { kind: 'orderKeywords', title: `${what} on "${page.title}"`, data: { pageId, before } },
      changed: ['plan'],
    }
  })
}
