import {
  listVetted,
  listFeeds,
  loadFeeds,
  rankLinks,
  readLinkState,
  readStandings,
  refuseSite,
  verifyLinks,
  vetSite,
} from '@dew-trail/contract/links'
import { listLinks, listSharedLinkers, readLinkProfile } from '@dew-trail/contract/link-profile'
import { siteKind } from '@dew-trail/core/links/site-kind'
import type { Router } from 'express'
import type { Context } from '../../context.ts'
import { countOf, doAct } from '../../domain/acts/do-act.ts'
import { mount } from '../../platform/http/mount.ts'
import { needSite } from '../../domain/sites/need-market.ts'
import { mountWebGraphs } from './imports/routes.ts'
import { readLinks, readProfile } from './read-profile.ts'
import { readSharedLinkers } from './shared-linkers.ts'
import { manySiteLooks, manyStandings, maybeSnapshot, oneGraphSize } from '../../domain/graph/queries.ts'
import { manyResultDomains } from '../../domain/results/queries.ts'
import { manyVetted, maybeVetted, upsertVetted, type VettedSite } from '../../domain/graph/vetted-queries.ts'

const graphId = 1
const mostResultDomains = 500

export function mountLinks(router: Router, context: Context): void {
  const { pool } = context
  mountWebGraphs(router, context)
  mount(router, loadFeeds, async ({ siteId, domains, feeds, readPages }) => {
    const site = await needSite(pool, siteId)
    const wanted = [
      ...new Set(
        domains ?? [
          site.domain,
          ...(await manyResultDomains(pool, siteId, mostResultDomains)).map(({ domain }) => domain),
        ],
      ),
    ]
    const job = await context.jobs.add(
      siteId,
      'feeds',
      wanted.length === 1 ? `Loading links to ${wanted[0]}` : `Loading links to ${wanted.length} sites`,
      { domains: wanted, ...(feeds ? { feeds } : {}), readPages },
    )
    return { jobId: job.id, domains: wanted.length }
  })
  mount(router, listFeeds, () => context.sources.feeds())
  mount(router, verifyLinks, async ({ siteId, pages }) => {
    const each = [...new Set(pages)]
    const job = await context.jobs.add(siteId, 'readLinks', `Reading ${countOf(each.length, 'linking page')}`, {
      pages: each,
    })
    return { jobId: job.id, requests: each.length }
  })
  mount(router, readLinkProfile, async input => {
    await needSite(pool, input.siteId)
    return readProfile(pool, input, new Date().toISOString().slice(0, 10))
  })
  mount(router, listLinks, async ({ follow = false, there = false, since = null, after = null, ...input }) => {
    await needSite(pool, input.siteId)
    return readLinks(pool, { ...input, follow, there, since, after })
  })
  mount(router, listSharedLinkers, async ({ siteId, domains }) => {
    const site = await needSite(pool, siteId)
    return readSharedLinkers(pool, site.domain, domains)
  })
  mount(router, rankLinks, async ({ siteId }) => {
    await needSite(pool, siteId)
    const job = await context.jobs.add(null, 'rank', 'Computing standing and trust', { graphId })
    return { jobId: job.id }
  })
  mount(router, readLinkState, async ({ siteId }) => {
    await needSite(pool, siteId)
    const [size, snapshot] = await Promise.all([oneGraphSize(pool, graphId), maybeSnapshot(pool, graphId)])
    return { ...size, snapshot: snapshot ?? null }
  })
  mount(router, listVetted, async ({ siteId }) => {
    await needSite(pool, siteId)
    return manyVetted(pool, graphId)
  })
  const vet = (siteId: number, site: VettedSite): Promise<{ domain: string; actId: number | null }> =>
    doAct(context, siteId, async db => {
      const before = await maybeVetted(db, graphId, site.domain)
      await upsertVetted(db, graphId, site)
      const title = site.refused ? `${site.domain} no longer vouched for` : `${site.domain} vouched for`
      return {
        answer: { domain: site.domain },
        act: { kind: 'vet', title, data: { domain: site.domain, before: before ?? null } },
        changed: ['vetted'],
      }
    })
  mount(router, vetSite, ({ siteId, domain, kind, why }) =>
    vet(siteId, { domain, kind, why: why || 'you vouch for it', refused: false }),
  )
  mount(router, refuseSite, ({ siteId, domain }) =>
    vet(siteId, { domain, kind: 'other', why: 'you decided against it', refused: true }),
  )
  mount(router, readStandings, async ({ siteId, domains }) => {
    await needSite(pool, siteId)
    const standings = await manyStandings(pool, graphId, domains ?? null)
    const looks = new Map(
      (
        await manySiteLooks(
          pool,
          graphId,
          standings.map(row => row.domain),
        )
      ).map(look => [look.domain, look]),
    )
    return standings.map(row => {
      const { kind, reasons } = siteKind(looks.get(row.domain)!)
      return { ...row, kind, kindReasons: reasons, madeAt: row.madeAt.toISOString() }
    })
  })
}
