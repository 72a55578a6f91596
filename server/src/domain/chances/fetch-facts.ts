import type { Context } from '../../context.ts'
import { SourceError } from '../../platform/outside/source-error.ts'
import { manyPageFacts, manySiteFacts, upsertPageLinks, upsertRegistration, upsertSiteLinks } from './queries.ts'

const targetsAtATime = 200
const chunks = <T>(items: T[]): T[][] =>
  Array.from({ length: Math.ceil(items.length / targetsAtATime) }, (_, i) =>
    items.slice(i * targetsAtATime, (i + 1) * targetsAtATime),
  )

/** Asks link feed and registry for what is not known or too old, for sites. Each source that fails is given back; the rest is saved. */
export async function fetchSiteFacts(
  context: Context,
  domains: string[],
  signal?: AbortSignal,
): Promise<SourceError[]> {
  const { pool, sources } = context
  const known = new Map((await manySiteFacts(pool, domains)).map(fact => [fact.domain, fact]))
  const failures: SourceError[] = []
  const trying = async (work: () => Promise<void>): Promise<void> => {
    try {
      await work()
    } catch (error) {
      if (!(error instanceof SourceError)) throw error
      failures.push(error)
    }
  }
  const unlinked = domains.filter(domain => !known.get(domain)?.linksKnown)
  await Promise.all([
    ...chunks(unlinked).map(part =>
      trying(async () => {
        const totals = await sources.linkTotals(part, signal)
        await upsertSiteLinks(
          pool,
          totals
            .map(total => ({ domain: total.target, linkingSites: total.linking_sites, links: total.links }))
            .sort((a, b) => (a.domain < b.domain ? -1 : 1)),
        )
      }),
    ),
    ...domains
      .filter(domain => !known.get(domain)?.registryKnown)
      .map(domain => trying(async () => upsertRegistration(pool, domain, await sources.registeredOn(domain, signal)))),
  ])
  return failures
}

/** The same for pages: link totals of addresses. */
export async function fetchPageFacts(context: Context, urls: string[], signal?: AbortSignal): Promise<SourceError[]> {
  const facts = await manyPageFacts(context.pool, urls)
  const known = new Set(facts.filter(fact => fact.linksKnown).map(fact => fact.url))
  const failures: SourceError[] = []
  await Promise.all(
    chunks(urls.filter(url => !known.has(url))).map(async part => {
      try {
        const totals = await context.sources.linkTotals(part, signal)
        await upsertPageLinks(
          context.pool,
          totals
            .map(total => ({ url: total.target, linkingSites: total.linking_sites, links: total.links }))
            .sort((a, b) => (a.url < b.url ? -1 : 1)),
        )
      } catch (error) {
        if (!(error instanceof SourceError)) throw error
        failures.push(error)
      }
    }),
  )
  return failures
}

export type FactFetcher = (domains: string[]) => Promise<SourceError[]>
/** Many result pages share their sites: a domain is asked for once a job, whoever needs it first. */
export function siteFactsOnce(context: Context, signal: AbortSignal): FactFetcher {
  const requests = new Map<string, Promise<SourceError[]>>()
  return async domains => {
    const fresh = domains.filter(domain => !requests.has(domain))
    if (fresh.length) {
      const request = fetchSiteFacts(context, fresh, signal)
      for (const domain of fresh) requests.set(domain, request)
    }
    return (await Promise.all([...new Set(domains.map(domain => requests.get(domain)!))])).flat()
  }
}
