import {
  archiveQuery,
  archiveStarted,
  listCrawls,
  listCrawlErrors,
  readPage,
  startCrawl,
} from '@dew-trail/contract/crawl'
import { registrableDomain } from '@dew-trail/core/links/registrable-domain'
import type { Router } from 'express'
import type { Context } from '../../context.ts'
import { checkInput, mount } from '../../platform/http/mount.ts'
import { needRole } from '../../platform/http/who.ts'
import { needSite } from '../../domain/sites/need-market.ts'
import { insertImport, setMapping } from '../../domain/imports/queries.ts'
import { keepUpload } from '../../domain/imports/uploads.ts'
import { needArchive } from './import-pages-job.ts'
import { readPageFacts } from './read-page.ts'
import { insertCrawl, manyCrawls, manyCrawlErrors, removeCrawl, setCrawlJob } from './queries.ts'

export function mountCrawl(router: Router, context: Context): void {
  const { pool } = context
  router.post('/api/sites/:siteId/page-archives', async (request, response) => {
    const { siteId, fileName } = checkInput(archiveQuery, { ...request.query, ...request.params })
    needRole('editor', siteId)
    await needSite(pool, siteId)
    const jobId = await keepUpload(context, request, async filePath => {
      await needArchive(filePath)
      const file = { encoding: 'binary', separator: '', headerLine: 0, columns: 1 }
      const importId = await insertImport(pool, { siteId, kind: 'pages', fileName, filePath, ...file })
      await setMapping(pool, siteId, importId, {})
      const title = `Importing pages of ${fileName}`
      return (await context.jobs.add(siteId, 'importPages', title, { filePath, importId })).id
    })
    response.json(archiveStarted.parse({ jobId }))
  })
  mount(router, startCrawl, async ({ siteId, domains, mostPages, mostDepth }) => {
    await needSite(pool, siteId)
    // A crawl is of a whole site: www.clay.example and clay.example are one.
    const whole = [...new Set(domains.map(registrableDomain))]
    const crawls: Array<{ crawlId: number; jobId: number; domain: string }> = []
    for (const domain of whole) {
      const crawl = await insertCrawl(pool, { siteId, domain, mostPages, mostDepth })
      const job = await context.jobs.add(siteId, 'crawl', `Crawling ${domain}`, { crawlId: crawl.id }, domain)
      if (job.isNew) await setCrawlJob(pool, siteId, crawl.id, job.id)
      else await removeCrawl(pool, siteId, crawl.id)
      crawls.push({ crawlId: Number(job.payload.crawlId), jobId: job.id, domain })
    }
    context.events.publish(siteId, { type: 'crawls' })
    return { crawls }
  })
  mount(router, listCrawls, async ({ siteId }) => {
    const site = await needSite(pool, siteId)
    return (await manyCrawls(pool, siteId)).map(crawl => ({ ...crawl, own: crawl.domain === site.domain }))
  })
  mount(router, readPage, async ({ siteId, url }) => {
    await needSite(pool, siteId)
    return readPageFacts(pool, 1, url)
  })
  mount(router, listCrawlErrors, async ({ siteId, crawlId }) => {
    await needSite(pool, siteId)
    return manyCrawlErrors(pool, siteId, crawlId, 500)
  })
}
