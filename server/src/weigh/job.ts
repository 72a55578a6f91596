import PQueue from 'p-queue'
import type { Context } from '../context.ts'
import type { JobControl } from '../jobs/job-control.ts'
import { needMarket, needSite } from '../sites/need-market.ts'
import type { SourceError } from '../sources/source-error.ts'
import { fetchSiteFacts } from './fetch-facts.ts'
import { manyToWeigh } from './queries.ts'
import { type FactFetcher, weighKeyword } from './weigh-keyword.ts'

const atOnce = 8

/** Weighs keywords, most searched first. What was weighed since the job was made is done, so a job that was stopped goes on where it was. */
export async function weighJob(context: Context, control: JobControl): Promise<object> {
  const { siteId, payload, createdAt } = control.job
  const site = await needSite(context.pool, siteId)
  const market = await needMarket(context.pool, siteId, Number(payload.marketId))
  const keywords = await manyToWeigh(
    context.pool,
    siteId,
    market.id,
    market.place,
    payload.keywordIds as number[],
    createdAt,
  )
  const waiting = keywords.filter(keyword => !keyword.fresh)
  for (const what of Object.keys(control.trouble)) delete control.trouble[what]
  let done = keywords.length - waiting.length
  await control.step(done, keywords.length)

  // Many result pages share their sites: a domain is asked for once a job, whoever needs it first.
  const asked = new Map<string, Promise<SourceError[]>>()
  const siteFacts: FactFetcher = async domains => {
    const fresh = domains.filter(domain => !asked.has(domain))
    if (fresh.length) {
      const request = fetchSiteFacts(context, fresh, control.signal)
      for (const domain of fresh) asked.set(domain, request)
    }
    return (await Promise.all([...new Set(domains.map(domain => asked.get(domain)!))])).flat()
  }

  const queue = new PQueue({ concurrency: atOnce })
  let halted: unknown
  for (const keyword of waiting) {
    void queue.add(async () => {
      if (halted) return
      try {
        const failures = await weighKeyword(context, site, market, keyword, siteFacts, control.signal)
        for (const message of new Set(failures.map(failure => failure.message))) control.note(message)
        const quota = failures.find(failure => failure.trouble === 'quotaUsed')
        if (quota) throw quota
        await control.step(++done, keywords.length)
      } catch (error) {
        halted ??= error
        queue.clear()
      }
    })
  }
  await queue.onIdle()
  if (halted) throw halted
  return { weighed: waiting.length }
}
