import { z } from 'zod'
import { id } from './common.ts'
import { endpoint } from './endpoint.ts'
import { rhythm } from './schedules.ts'

/** "weekly": the kept and the most searched keywords, 20 deep. "full": all of the market's language, 100 deep. */
export const sweepParts = ['weekly', 'full'] as const
export type SweepPart = (typeof sweepParts)[number]

/**
 * A sweep: results fetched anew for many keywords of a market, whether they are tracked or not. `requests`: what one that begins now asks
 * of the engine, one for each of `keywords` whose results were not fetched as deep today.
 */
export const sweep = z.object({
  part: z.enum(sweepParts),
  depth: z.number(),
  keywords: z.number(),
  requests: z.number(),
  rhythm: rhythm.nullable(),
  nextAt: z.string().nullable(),
  lastAt: z.string().nullable(),
  /** Whether the last run began more than a quarter of an hour after its time, as the program was not running then. */
  wasLate: z.boolean(),
  lastError: z.string().nullable(),
})
export type Sweep = z.infer<typeof sweep>

export const listSweeps = endpoint({
  summary: "Sweeps of a market's results",
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/rivals/sweeps/:marketId',
  input: z.object({ siteId: id, marketId: id }),
  output: z.object({
    timeZone: z.string(),
    /** Of how many keywords the weekly part takes the most searched, besides the kept ones. */
    mostSearched: z.number(),
    /** The limit of requests a day that was set for the engines; `null` = none. */
    mostADay: z.number().nullable(),
    sweeps: z.array(sweep),
  }),
  oldBy: ['schedules', 'keywords', 'job'],
})
/** Sets when a sweep comes round; `null` = only when asked. */
export const setSweep = endpoint({
  summary: 'Set when a sweep comes round',
  role: 'editor',
  errors: ['badInput', 'notFound'],
  method: 'PUT',
  path: '/api/sites/:siteId/rivals/sweeps/:marketId/:part',
  input: z.object({ siteId: id, marketId: id, part: z.enum(sweepParts), rhythm: rhythm.nullable() }),
  output: z.object({}),
})
/** Begins a sweep now; refused where every result was fetched today. */
export const startSweep = endpoint({
  summary: 'Begin a sweep',
  role: 'editor',
  errors: ['badInput', 'notFound'],
  method: 'POST',
  path: '/api/sites/:siteId/rivals/sweeps/:marketId/:part',
  input: z.object({ siteId: id, marketId: id, part: z.enum(sweepParts) }),
  output: z.object({ jobId: z.number(), requests: z.number() }),
})
