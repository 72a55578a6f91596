import {
  limitSource,
  listEngines,
  listImports,
  listSources,
  setSourceKey,
  testSource,
  type Source,
  suggestCrawls,
} from '@dew-trail/contract/sources'
import type { Router } from 'express'
import type { Context } from '../../context.ts'
import { mount } from '../../platform/http/mount.ts'
import { SourceError } from '../../platform/outside/source-error.ts'
import { noteActivity } from '../../domain/people/activity.ts'
import { manyResultDomains } from '../../domain/results/queries.ts'
import { needSite } from '../../domain/sites/need-market.ts'
import { manyFetchedPages, manyImports, manyUses, oneNewest } from '../../sources/queries.ts'

const daysShown = 14
const mostSuggested = 11

type Use = Awaited<ReturnType<typeof manyUses>>[number]
/** Uses by source and day, today's with what the sources' clients have counted since they were last written down. */
function withUnsaved(uses: Use[], clients: Context['sources']['clients'], today: string): Use[] {
  const others = uses.filter(use => use.day !== today || !(use.source in clients))
  return [
    ...others,
    ...Object.entries(clients).flatMap(([source, { use }]) => {
      const saved = uses.find(each => each.source === source && each.day === today)
      if (!saved && !use.requests && !use.failures) return []
      return [
        {
          source,
          day: today,
          requests: (saved?.requests ?? 0) + use.requests,
          failures: (saved?.failures ?? 0) + use.failures,
          limited: (saved?.limited ?? 0) + use.limited,
          lastFailure: use.lastFailure ?? saved?.lastFailure ?? null,
        },
      ]
    }),
  ]
}

export function mountSources(router: Router, context: Context): void {
  const { pool, config, sources } = context
  mount(router, listEngines, () => sources.engines())
  mount(router, listSources, async ({ siteId }) => {
    await needSite(pool, siteId)
    const newest = await oneNewest(pool, siteId)
    const today = new Date().toISOString().slice(0, 10)
    // With what was not written down yet: reading writes nothing.
    const uses = await sources.readUse(async () => withUnsaved(await manyUses(pool, daysShown), sources.clients, today))
    const { typed, unreadable } = await sources.typedKeys()
    const describe = (
      key: Source['key'],
      more: Pick<Source, 'address' | 'keyFrom' | 'perSecond' | 'atOnce' | 'mostADay'>,
    ): Source => {
      const days = uses.filter(use => use.source === key)
      const now = days.find(use => use.day === today)
      const failed = days.findLast(use => use.lastFailure !== null)
      return {
        key,
        ...more,
        today: { requests: now?.requests ?? 0, failures: now?.failures ?? 0, limited: now?.limited ?? 0 },
        days: days.map(({ day, requests, failures }) => ({ day, requests, failures })),
        lastFailure: failed ? { day: failed.day, what: failed.lastFailure! } : null,
        newest: newest[key],
      }
    }
    return [
      ...Object.entries(sources.clients).map(([name, { settings, mostADay, key }]) =>
        describe(name as keyof typeof sources.clients, {
          address: settings.url,
          keyFrom: unreadable.has(name) ? 'unreadable' : typed.has(name) ? 'typed' : key ? 'configuration' : 'missing',
          perSecond: settings.perSecond,
          atOnce: settings.concurrency,
          mostADay,
        }),
      ),
      describe('web', {
        address: config.CRAWL_PROXY ? `through ${config.CRAWL_PROXY}` : 'directly',
        keyFrom: 'none',
        perSecond: config.CRAWL_DELAY_MS ? Math.round(10_000 / config.CRAWL_DELAY_MS) / 10 : null,
        atOnce: config.CRAWL_PER_HOST,
        mostADay: null,
      }),
    ]
  })
  mount(router, limitSource, async ({ key, mostADay }) => {
    await sources.limit(key, mostADay)
    await noteActivity(pool, {
      kind: 'sources',
      what: `Limit of ${key}: ${mostADay === null ? 'none' : `${mostADay} requests a day`}`,
    })
    return { mostADay }
  })
  mount(router, setSourceKey, async ({ key, secret }) => {
    await sources.setKey(key, secret)
    await noteActivity(pool, {
      kind: 'sources',
      what: secret === null ? `Took the key of ${key} away` : `Set the key of ${key}`,
    })
    context.events.publish(null, { type: 'keeping' })
    return {}
  })
  mount(router, testSource, async ({ siteId, key }) => {
    const site = await needSite(pool, siteId)
    const startedMs = performance.now()
    const after = (): number => Math.round(performance.now() - startedMs)
    try {
      await sources.test(key, site.domain, site.markets[0]!)
      return { works: true, ms: after(), what: null }
    } catch (error) {
      if (!(error instanceof SourceError)) throw error
      return { works: false, ms: after(), what: error.message }
    }
  })
  mount(router, listImports, async ({ siteId }) => {
    await needSite(pool, siteId)
    return manyImports(pool, siteId)
  })
  mount(router, suggestCrawls, async ({ siteId }) => {
    const site = await needSite(pool, siteId)
    const found = await manyResultDomains(pool, siteId, mostSuggested)
    const own = { domain: site.domain, pages: found.find(each => each.domain === site.domain)?.pages ?? 0 }
    const listed = [own, ...found.filter(each => each.domain !== site.domain)]
    const fetched = await manyFetchedPages(
      pool,
      1,
      listed.map(each => each.domain),
    )
    return listed.map(({ domain, pages }) => ({
      domain,
      own: domain === site.domain,
      resultPages: pages,
      pagesFetched: fetched.get(domain) ?? 0,
    }))
  })
}
