import { z } from 'zod'
import { id } from './common.ts'
import { endpoint } from './endpoint.ts'

/**
 * A check of positions as it ran. `requested` counts keywords × markets; `checked` of them with those that were asked again since
 * (`checkedLater`); `failed`: still without an answer; the rest was not asked, as the check was stopped.
 */
export const checkRun = z.object({
  id: z.number(),
  /** Null: in all markets. */
  marketId: z.number().nullable(),
  scheduled: z.boolean(),
  /** Whether it began more than a quarter of an hour after its time. */
  late: z.boolean(),
  beganAt: z.string(),
  /** Null: it is under way, or was stopped and goes on later. */
  endedAt: z.string().nullable(),
  requested: z.number(),
  checked: z.number(),
  failed: z.number(),
  checkedLater: z.number(),
})
export type CheckRun = z.infer<typeof checkRun>

export const listCheckRuns = endpoint({
  summary: 'Checks of positions as they ran',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/check-runs',
  input: z.object({ siteId: id }),
  output: z.array(checkRun),
  oldBy: ['positions', 'job'],
})
/** What a check could not ask, with how often it was tried and when it was checked after all. */
export const listCheckFailures = endpoint({
  summary: 'What a check of positions could not ask',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/check-runs/:checkRunId/failures',
  input: z.object({ siteId: id, checkRunId: id }),
  output: z.array(
    z.object({
      keywordId: z.number(),
      phrase: z.string(),
      marketId: z.number(),
      what: z.string(),
      tries: z.number(),
      checkedAt: z.string().nullable(),
    }),
  ),
  oldBy: ['positions', 'job'],
})
/** Asks again for what a check could not ask; the program does so by itself through the day, too. */
export const checkAgain = endpoint({
  summary: 'Ask again for what a check could not ask',
  role: 'editor',
  errors: ['badInput', 'notFound', 'conflict'],
  method: 'POST',
  path: '/api/sites/:siteId/check-runs/:checkRunId/again',
  input: z.object({ siteId: id, checkRunId: id }),
  output: z.object({ jobId: z.number() }),
})
