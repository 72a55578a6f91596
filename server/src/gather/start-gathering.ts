import { AppError } from '@dew-trail/contract/errors'
import type { startGathering } from '@dew-trail/contract/gather'
import { normalForm } from '@dew-trail/core/words/normal-form'
import type { z } from 'zod'
import type { Context } from '../context.ts'
import { needMarket } from '../sites/need-market.ts'
import { insertGathering, setGatheringJob } from './queries.ts'

/** Starts one gathering and job a seed. Seeds are put in normal form; what is left empty is refused by name. */
export async function beginGathering(
  context: Context,
  input: z.output<(typeof startGathering)['input']>,
): Promise<z.input<(typeof startGathering)['output']>> {
  const { siteId, marketId } = input
  await needMarket(context.pool, siteId, marketId)
  const empty = input.seeds.find(seed => !normalForm(seed))
  if (empty !== undefined) throw new AppError('badInput', `"${empty}" has no word in it to gather from`)
  const jobs = []
  for (const seed of new Set(input.seeds.map(normalForm))) {
    const gatheringId = await insertGathering(context.pool, {
      siteId,
      marketId,
      parentId: input.parentId ?? null,
      seed,
      ways: input.ways,
      mostIdeas: input.mostIdeas,
    })
    const job = await context.jobs.add(siteId, 'gather', `Gathering "${seed}"`, { gatheringId })
    await setGatheringJob(context.pool, gatheringId, job.id)
    jobs.push({ gatheringId, jobId: job.id })
  }
  context.events.publish(siteId, { type: 'gatherings' })
  return { jobs }
}
