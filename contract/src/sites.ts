import { z } from 'zod'
import { acted } from './acts.ts'
import { id } from './common.ts'
import { endpoint } from './endpoint.ts'

/** Those of the named keywords that were otherwise before. */
export const changedKeywords = acted.extend({ changed: z.array(z.number()) })
export const market = z.object({
  id: z.number(),
  engine: z.string(),
  place: z.string(),
  language: z.string(),
  device: z.enum(['desktop', 'mobile']),
})
export type Market = z.infer<typeof market>

/** How many keywords (or pages) have reached each station of the trail. */
export const trail = z.object({
  found: z.number(),
  kept: z.number(),
  weighed: z.number(),
  themes: z.number(),
  planned: z.number(),
  pages: z.number(),
  tracked: z.number(),
})
export type Trail = z.infer<typeof trail>

export const site = z.object({
  id: z.number(),
  domain: z.string(),
  name: z.string(),
  standing: z.number().nullable(),
  comfortable: z.number().nullable(),
  stretch: z.number().nullable(),
  /** Whether kept keywords are weighed again at night once their weighing is old. */
  refreshWeighings: z.boolean(),
  markets: z.array(market),
})
export type Site = z.infer<typeof site>

const domain = z
  .string()
  .trim()
  .toLowerCase()
  .regex(/^(?!-)[a-z0-9-]+(\.[a-z0-9-]+)+$/, 'A domain looks like name.example, without https:// and without a path')

export const listSites = endpoint({
  summary: 'Sites',
  role: 'reader',
  errors: ['badInput'],
  method: 'GET',
  path: '/api/sites',
  input: z.object({}),
  output: z.array(site),
  oldBy: ['learn'],
})
export const createSite = endpoint({
  summary: 'Add a site',
  role: 'administrator',
  errors: ['badInput', 'conflict', 'sourceFailed', 'quotaUsed'],
  method: 'POST',
  path: '/api/sites',
  input: z.object({
    domain,
    name: z.string().trim().min(1).max(120),
    /** A place that an engine offers, and one of its languages: the first offered where none is named. */
    place: z.string().min(1).max(60).optional(),
    language: z.string().length(2).optional(),
    timeZone: z.string().trim().min(1).max(60).optional(),
  }),
  output: site,
})
export const changeSite = endpoint({
  summary: 'Change the settings of a site',
  role: 'owner',
  errors: ['badInput', 'notFound'],
  method: 'PATCH',
  path: '/api/sites/:siteId',
  input: z.object({ siteId: id, refreshWeighings: z.boolean() }),
  output: z.object({}),
})
export const getTrail = endpoint({
  summary: 'How far keywords have come',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/trail',
  input: z.object({ siteId: id }),
  output: trail,
  oldBy: ['job', 'keywords', 'plan', 'positions'],
})
