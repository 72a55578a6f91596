import { AppError } from '@dew-trail/contract/errors'
import type { startGathering } from '@dew-trail/contract/gather'
import { addressWays, phraseWays } from '@dew-trail/contract/gather'
import { readSeed } from '@dew-trail/core/words/store-conditions'
import type { z } from 'zod'
import type { Context } from '../../context.ts'
import { needMarket } from '../../domain/sites/need-market.ts'
import { readAddressSeed } from '../../domain/pages/address-seed.ts'
import { insertGathering, removeGathering, setGatheringJob } from '../../domain/keywords/queries.ts'

const mostSeedLength = 200

/** Starts one gathering and job a seed. Seeds are put in normal form; what is left empty is refused by name. */
export async function beginGathering(
  context: Context,
  input: z.output<(typeof startGathering)['input']>,
): Promise<z.input<(typeof startGathering)['output']>> {
  const { siteId, marketId } = input
  await needMarket(context.pool, siteId, marketId)
  const seeds = new Map(input.seeds.map(text => [text, readWholeSeed(text)]))
  const empty = [...seeds].find(([, { seed }]) => !seed)
  if (empty) throw new AppError('badInput', `"${empty[0]}" has no word in it to gather from`)
  const long = [...seeds].find(([, { seed, isAddress }]) => !isAddress && seed.length > mostSeedLength)
  if (long) throw new AppError('badInput', `"${long[0].slice(0, 60)}…" has over ${mostSeedLength} characters`)
  const waysOf = (isAddress: boolean): typeof input.ways => {
    const passed: readonly string[] = isAddress ? phraseWays : addressWays
    return input.ways.filter(way => !passed.includes(way))
  }
  const stuck = [...seeds].find(([, { isAddress }]) => !waysOf(isAddress).length)
  if (stuck)
    throw new AppError(
      'badInput',
      stuck[1].isAddress
        ? `"${stuck[0]}" is a site or page: choose its words, what it is found for, or ideas from ads data`
        : `"${stuck[0]}" is a phrase: choose completions, related searches or ideas from ads data`,
    )
  const jobs = []
  const bySeed = new Map([...seeds.values()].map(each => [each.seed, each]))
  for (const { seed, isAddress, must, leaveOut } of bySeed.values()) {
    const conditions = {
      ...input.conditions,
      must: [...input.conditions.must, ...must],
      leaveOut: [...input.conditions.leaveOut, ...leaveOut],
    }
    const gathering = {
      siteId,
      marketId,
      parentId: input.parentId ?? null,
      seed,
      ways: waysOf(isAddress),
      mostIdeas: input.mostIdeas,
      conditions,
    }
    const gatheringId = await insertGathering(context.pool, gathering)
    const { completions } = input
    const key = JSON.stringify({ ...gathering, completions })
    const job = await context.jobs.add(siteId, 'gather', `Gathering "${seed}"`, { gatheringId, completions }, key)
    if (job.isNew) await setGatheringJob(context.pool, siteId, gatheringId, job.id)
    else await removeGathering(context.pool, siteId, gatheringId)
    jobs.push({ gatheringId: Number(job.payload.gatheringId), jobId: job.id })
  }
  context.events.publish(siteId, { type: 'gatherings' })
  return { jobs }
}

/** A phrase in normal form or an address as it is written, with the words a seed carries. */
function readWholeSeed(text: string): ReturnType<typeof readSeed> & { isAddress: boolean } {
  const [first = '', ...rest] = text.trim().split(/\s+(?=[+-])/)
  const address = readAddressSeed(first)
  if (!address) return { ...readSeed(text), isAddress: false }
  return { ...readSeed(`x ${rest.join(' ')}`), seed: address.seed, isAddress: true }
}
