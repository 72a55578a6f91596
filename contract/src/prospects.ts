import { z } from 'zod'
import { acted } from './acts.ts'
import { day, id, text } from './common.ts'
import { endpoint } from './endpoint.ts'

export const prospectStates = ['toAsk', 'asked', 'promised', 'placed', 'refused'] as const
export type ProspectState = (typeof prospectStates)[number]
/** A site that somebody wants a link from. `verifiedOn`: when a link that was said to be placed was first seen in our graph; null = not yet. */
export const prospect = z.object({
  id: z.number(),
  domain: z.string(),
  /** The page that should have the link, where one is known. */
  page: z.string().nullable(),
  contact: z.string().nullable(),
  target: z.string().nullable(),
  anchor: z.string(),
  state: z.enum(prospectStates),
  remarks: z.string(),
  /** Who looks after it; empty: nobody. */
  owner: z.string(),
  nextDay: z.string().nullable(),
  addedOn: z.string(),
  standing: z.number().nullable(),
  linksToOwn: z.boolean(),
  verifiedOn: z.string().nullable(),
  version: z.number(),
})
export type Prospect = z.infer<typeof prospect>
const site = { siteId: id }

export const listProspects = endpoint({
  summary: 'Prospects for links',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/prospects',
  input: z.object(site),
  output: z.array(prospect),
  oldBy: ['prospects', 'crawls', 'job'],
})
/** Adds sites as prospects; `known` are those that were prospects already, by site. Contacts come from what the crawler read of them. */
export const addProspects = endpoint({
  summary: 'Add prospects',
  role: 'editor',
  errors: ['badInput', 'notFound'],
  method: 'POST',
  path: '/api/sites/:siteId/prospects',
  input: z.object({
    ...site,
    sites: z
      .array(z.object({ domain: text(300).min(3), page: text(2_000).nullable().default(null) }))
      .min(1)
      .max(2_000),
  }),
  output: acted.extend({ added: z.number(), known: z.array(z.string()) }),
})
export const changeProspect = endpoint({
  summary: 'Change a prospect',
  role: 'editor',
  errors: ['badInput', 'notFound', 'conflict'],
  method: 'PATCH',
  path: '/api/sites/:siteId/prospects/:prospectId',
  input: z.object({
    ...site,
    prospectId: id,
    version: z.int().min(1),
    state: z.enum(prospectStates).optional(),
    contact: text(300).nullable().optional(),
    page: text(2_000).nullable().optional(),
    target: text(2_000).nullable().optional(),
    anchor: text(300).optional(),
    remarks: text(5_000).optional(),
    owner: text(80).optional(),
    nextDay: day.nullable().optional(),
  }),
  output: acted.extend({ version: z.number() }),
})
export const removeProspects = endpoint({
  summary: 'Remove prospects',
  role: 'editor',
  errors: ['badInput', 'notFound'],
  method: 'POST',
  path: '/api/sites/:siteId/prospects/removed',
  input: z.object({ ...site, prospectIds: z.array(id).min(1).max(2_000) }),
  output: acted.extend({ changed: z.number() }),
})
