import { z } from 'zod'
import { id } from './common.ts'
import { endpoint } from './endpoint.ts'

/** When work comes round, at an hour of the site's time zone. */
export const rhythm = z.discriminatedUnion('every', [
  z.object({ every: z.literal('day'), hour: z.int().min(0).max(23) }),
  z.object({ every: z.literal('week'), hour: z.int().min(0).max(23), weekday: z.int().min(1).max(7) }),
  z.object({ every: z.literal('month'), hour: z.int().min(0).max(23), dayOfMonth: z.int().min(1).max(31) }),
])
export type Rhythm = z.infer<typeof rhythm>

/** Checks of a market's positions that come round. */
export const checkSchedule = z.object({
  marketId: z.number(),
  rhythm,
  nextAt: z.string(),
  lastAt: z.string().nullable(),
  /** Whether the last run began more than a quarter of an hour after its time, as the program was not running then. */
  wasLate: z.boolean(),
  lastError: z.string().nullable(),
})
export type CheckSchedule = z.infer<typeof checkSchedule>

export const listCheckSchedules = endpoint({
  summary: 'When positions are checked',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/check-schedules',
  input: z.object({ siteId: id }),
  output: z.object({ timeZone: z.string(), schedules: z.array(checkSchedule) }),
  oldBy: ['schedules', 'positions'],
})
/** Sets when a market's tracked keywords are checked; `null` = not by itself. */
export const setCheckSchedule = endpoint({
  summary: "Set when a market's positions are checked",
  role: 'editor',
  errors: ['badInput', 'notFound'],
  method: 'PUT',
  path: '/api/sites/:siteId/check-schedules/:marketId',
  input: z.object({ siteId: id, marketId: id, rhythm: rhythm.nullable() }),
  output: z.object({}),
})
/** Sets the time zone that the hours of all schedules of a site are of. */
export const setTimeZone = endpoint({
  summary: 'Set the time zone of a site',
  role: 'owner',
  errors: ['badInput', 'notFound'],
  method: 'PUT',
  path: '/api/sites/:siteId/time-zone',
  input: z.object({ siteId: id, timeZone: z.string().trim().min(1).max(60) }),
  output: z.object({}),
})
