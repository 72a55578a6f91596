import { z } from 'zod'
import { endpoint } from './endpoint.ts'
import { id } from './common.ts'
import { changedKeywords } from './sites.ts'

export const shortlist = z.object({ id: z.number(), name: z.string(), keywords: z.number() })
export type Shortlist = z.infer<typeof shortlist>

export const listShortlists = endpoint({
  method: 'GET',
  path: '/api/sites/:siteId/shortlists',
  input: z.object({ siteId: id }),
  output: z.array(shortlist),
})
export const addShortlist = endpoint({
  method: 'POST',
  path: '/api/sites/:siteId/shortlists',
  input: z.object({ siteId: id, name: z.string().trim().min(1, 'Give the shortlist a name').max(80) }),
  output: shortlist,
})
export const removeShortlist = endpoint({
  method: 'DELETE',
  path: '/api/sites/:siteId/shortlists/:shortlistId',
  input: z.object({ siteId: id, shortlistId: id }),
  output: z.object({ removed: z.boolean() }),
})
/** Puts keywords on a shortlist or takes them off. */
export const changeShortlist = endpoint({
  method: 'POST',
  path: '/api/sites/:siteId/shortlists/:shortlistId/keywords',
  input: z.object({ siteId: id, shortlistId: id, keywordIds: z.array(id).min(1).max(600_000), on: z.boolean() }),
  output: changedKeywords,
})
