import { z } from 'zod'
import { acted } from './acts.ts'
import { id, text } from './common.ts'
import { endpoint } from './endpoint.ts'
import { changedKeywords } from './sites.ts'

/** A shortlist is made for a purpose and looked at as a whole; a label says something about each keyword and stands in its row. */
export const listKinds = ['shortlist', 'label'] as const
export type ListKind = (typeof listKinds)[number]
/** Names of labels stand in rows with a bar between them. */
const name = text(80)
  .min(1, 'Give it a name')
  .regex(/^[^|]*$/, 'A name has no "|"')

export const keywordList = z.object({
  id: z.number(),
  kind: z.enum(listKinds),
  name: z.string(),
  keywords: z.number(),
  /** Of a label: what a visit by its keywords is worth to the owner; null = like every visit. */
  visitWorth: z.number().nullable(),
})
export type KeywordList = z.infer<typeof keywordList>

export const listLists = endpoint({
  summary: 'Lists and labels',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/lists',
  input: z.object({ siteId: id }),
  output: z.array(keywordList),
  oldBy: ['lists'],
})
/** Makes a list; one of the same kind and name is given as it is. */
export const addList = endpoint({
  summary: 'Make a list',
  role: 'editor',
  errors: ['badInput', 'notFound'],
  method: 'POST',
  path: '/api/sites/:siteId/lists',
  input: z.object({ siteId: id, kind: z.enum(listKinds), name }),
  output: keywordList,
})
export const renameList = endpoint({
  summary: 'Rename a list',
  role: 'editor',
  errors: ['badInput', 'notFound', 'conflict'],
  method: 'PATCH',
  path: '/api/sites/:siteId/lists/:listId',
  input: z.object({ siteId: id, listId: id, name }),
  output: acted,
})
/** Says what a visit by keywords with a label is worth, in place of the site's worth of a visit and of CPC; null takes that away. */
export const valueLabel = endpoint({
  summary: 'Worth of a visit by a label',
  role: 'editor',
  errors: ['badInput', 'notFound'],
  method: 'PATCH',
  path: '/api/sites/:siteId/lists/:listId/worth',
  input: z.object({ siteId: id, listId: id, visitWorth: z.number().min(0.001).max(1_000_000).nullable() }),
  output: acted,
})
/** Removes a list; its keywords stay. */
export const removeList = endpoint({
  summary: 'Remove a list',
  role: 'editor',
  errors: ['badInput', 'notFound'],
  method: 'DELETE',
  path: '/api/sites/:siteId/lists/:listId',
  input: z.object({ siteId: id, listId: id }),
  output: acted,
})
/** Puts keywords on a list or takes them off. */
export const changeList = endpoint({
  summary: 'Put keywords on a list or take them off',
  role: 'editor',
  errors: ['badInput', 'notFound'],
  method: 'POST',
  path: '/api/sites/:siteId/lists/:listId/keywords',
  input: z.object({ siteId: id, listId: id, keywordIds: z.array(id).min(1).max(600_000), on: z.boolean() }),
  output: changedKeywords,
})
