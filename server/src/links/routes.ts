import {
  listVetted,
  loadFeeds,
  rankLinks,
  readLinkState,
  readStandings,
  refuseSite,
  vetSite,
} from '@dew-trail/contract/links'
import { listLinks, listSharedLinkers, readLinkProfile } from '@dew-trail/contract/link-profile'
import { siteKind } from '@dew-trail/core/links/site-kind'
import type { Router } from 'express'
import type { Context } from '../context.ts'
import { mount } from '../http/mount.ts'
import { needSite } from '../sites/need-market.ts'
import { readLinks, readProfile } from './read-profile.ts'
import { readSharedLinkers } from './shared-linkers.ts'
import { manySiteLooks, manyStandings, maybeSnapshot, oneGraphSize } from './queries.ts'
import { manyResultDomains } from '../results/queries.ts'
import { manyVetted, upsertVetted } from './vetted-queries.ts'

const graphId = 1
const mostResultDomains = 500

export function mountLinks(router: Router, context: Context): void {
  const { pool } = context
  mount(router, loadFeeds, async ({ siteId, domains }) => {
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
      { domains: wanted },
    )
    return { jobId: job.id, domains: wanted.length }
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
    const job = await context.jobs.add(siteId, 'rank', 'Computing standing and trust', { graphId })
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
  mount(router, vetSite, async ({ siteId, domain, kind, why }) => {
    await needSite(pool, siteId)
    await upsertVetted(pool, graphId, { domain, kind, why: why || 'you vouch for it', refused: false })
    return { domain }
  })
  mount(router, refuseSite, async ({ siteId, domain }) => {
    await needSite(pool, siteId)
    await upsertVetted(pool, graphId, { domain, kind: 'other', why: 'you decided against it', refused: true })
    return { domain }
  })
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
