import { AppError } from '@dew-trail/contract/errors'
import type { startGathering } from '@dew-trail/contract/gather'
import { readSeed } from '@dew-trail/core/words/store-conditions'
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
  const seeds = new Map(input.seeds.map(text => [text, readSeed(text)]))
  const empty = [...seeds].find(([, { seed }]) => !seed)
  if (empty) throw new AppError('badInput', `"${empty[0]}" has no word in it to gather from`)
  const jobs = []
  const bySeed = new Map([...seeds.values()].map(each => [each.seed, each]))
  for (const { seed, must, leaveOut } of bySeed.values()) {
    const conditions = {
      ...input.conditions,
      must: [...input.conditions.must, ...must],
      leaveOut: [...input.conditions.leaveOut, ...leaveOut],
    }
    const gatheringId = await insertGathering(context.pool, {
      siteId,
      marketId,
      parentId: input.parentId ?? null,
      seed,
      ways: input.ways,
      mostIdeas: input.mostIdeas,
      conditions,
    })
    const job = await context.jobs.add(siteId, 'gather', `Gathering "${seed}"`, {
      gatheringId,
      completions: input.completions,
    })
    await setGatheringJob(context.pool, gatheringId, job.id)
    jobs.push({ gatheringId, jobId: job.id })
  }
  context.events.publish(siteId, { type: 'gatherings' })
  return { jobs }
}
