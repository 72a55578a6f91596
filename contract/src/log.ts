import { z } from 'zod'
import { endpoint } from './endpoint.ts'
import { id } from './common.ts'

/** The own query log: what can be read, what has been loaded. `problem`: why the source could not be asked. */
export const readLogState = endpoint({
  summary: 'State of the query log',
  role: 'reader',
  errors: ['badInput', 'notFound', 'sourceFailed', 'quotaUsed'],
  method: 'GET',
  path: '/api/sites/:siteId/log',
  input: z.object({ siteId: id }),
  output: z.object({
    available: z.array(z.object({ property: z.string(), name: z.string() })),
    problem: z.string().nullable(),
    loaded: z.array(
      z.object({
        property: z.string(),
        name: z.string(),
        lastDay: z.string().nullable(),
        loadedAt: z.string().nullable(),
        queries: z.number(),
        impressions: z.number(),
        clicks: z.number(),
        gatheringId: z.number().nullable(),
      }),
    ),
  }),
  oldBy: ['job', 'sites'],
})
/** Loads whole weeks (Monday to Sunday) of a property; weeks loaded before are replaced. */
export const loadLog = endpoint({
  summary: 'Load weeks of the query log',
  role: 'editor',
  errors: ['badInput', 'notFound'],
  method: 'POST',
  path: '/api/sites/:siteId/log',
  input: z.object({
    siteId: id,
    marketId: id,
    property: z.string().min(1, 'Choose a property').max(300),
    weeks: z.number().int().min(1).max(70).default(13),
  }),
  output: z.object({ jobId: z.number() }),
})

/**
 * Click shares by place: the default, what the own log says, and what visits are counted by, which is another one where the owner set the
 * share at the first place. `impressions` tell how much a place rests on.
 */
export const readClickCurves = endpoint({
  summary: 'Click shares by position',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/click-curves',
  input: z.object({ siteId: id }),
  output: z.array(
    z.object({
      device: z.enum(['desktop', 'mobile']),
      brand: z.boolean(),
      fittedAt: z.string().nullable(),
      positions: z.array(
        z.object({
          position: z.number(),
          standard: z.number(),
          fitted: z.number().nullable(),
          used: z.number(),
          impressions: z.number(),
        }),
      ),
    }),
  ),
  oldBy: ['job', 'sites'],
})
