import { z } from 'zod'
import { acted } from './acts.ts'
import { id, text } from './common.ts'
import { endpoint } from './endpoint.ts'

/** What lists of finds hold: sites by domain, pages by address, links by both addresses. Keywords have lists of their own (lists.ts). */
export const findKinds = ['sites', 'pages', 'links'] as const
export type FindKind = (typeof findKinds)[number]
/** Items of one list at most. */
export const mostFinds = 20_000
const name = text(80).min(1, 'Give it a name')
const site = { siteId: id }
const one = { ...site, findListId: id }

export const findList = z.object({
  id: z.number(),
  kind: z.enum(findKinds),
  name: z.string(),
  items: z.number(),
})
export type FindList = z.infer<typeof findList>
/** `what`: a domain, or an address; `target`: where a link leads, null for sites and pages. `standing`: of its site; null = not ranked. */
export const find = z.object({
  id: z.number(),
  what: z.string(),
  target: z.string().nullable(),
  domain: z.string(),
  standing: z.number().nullable(),
  linkingSites: z.number().nullable(),
  linksToOwn: z.boolean(),
  remark: z.string(),
  addedOn: z.string(),
})
export type Find = z.infer<typeof find>

export const listFindLists = endpoint({
  summary: 'Lists of sites, pages and links',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/find-lists',
  input: z.object(site),
  output: z.array(findList),
  oldBy: ['finds'],
})
export const readFinds = endpoint({
  summary: 'What a list of sites, pages or links holds',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/find-lists/:findListId',
  input: z.object(one),
  output: z.array(find),
  oldBy: ['finds', 'crawls', 'job'],
})
/** Puts finds on the list of a kind and name, which is made when it is not there; `added` are those that were not on it yet. */
export const putOnFindList = endpoint({
  summary: 'Put sites, pages or links on a list',
  role: 'editor',
  errors: ['badInput', 'notFound'],
  method: 'POST',
  path: '/api/sites/:siteId/find-lists',
  input: z.object({
    ...site,
    kind: z.enum(findKinds),
    name,
    items: z
      .array(z.object({ what: text(2_000).min(1), target: text(2_000).min(1).nullable().default(null) }))
      .min(1)
      .max(mostFinds, `At most ${mostFinds.toLocaleString('en')} at a time`),
  }),
  output: acted.extend({ findListId: z.number(), added: z.number() }),
})
export const changeFindList = endpoint({
  summary: 'Rename a list of sites, pages or links',
  role: 'editor',
  errors: ['badInput', 'notFound', 'conflict'],
  method: 'PATCH',
  path: '/api/sites/:siteId/find-lists/:findListId',
  input: z.object({ ...one, name }),
  output: acted,
})
export const removeFindList = endpoint({
  summary: 'Remove a list of sites, pages or links',
  role: 'editor',
  errors: ['badInput', 'notFound'],
  method: 'DELETE',
  path: '/api/sites/:siteId/find-lists/:findListId',
  input: z.object(one),
  output: acted,
})
export const remarkFind = endpoint({
  summary: 'Remark on a find',
  role: 'editor',
  errors: ['badInput', 'notFound'],
  method: 'PATCH',
  path: '/api/sites/:siteId/find-lists/:findListId/items/:itemId',
  input: z.object({ ...one, itemId: id, remark: text(1_000) }),
  output: acted,
})
export const takeOffFindList = endpoint({
  summary: 'Take finds off their list',
  role: 'editor',
  errors: ['badInput', 'notFound'],
  method: 'POST',
  path: '/api/sites/:siteId/find-lists/:findListId/removed',
  input: z.object({ ...one, itemIds: z.array(id).min(1).max(mostFinds) }),
  output: acted.extend({ removed: z.number() }),
})
