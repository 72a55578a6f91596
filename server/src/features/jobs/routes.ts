import { AppError } from '@dew-trail/contract/errors'
import { actOnJob, eventsQuery, getJob, listJobs, listWork } from '@dew-trail/contract/jobs'
import type { Router } from 'express'
import type { Context } from '../../context.ts'
import { checkInput, mount } from '../../platform/http/mount.ts'
import { needRole } from '../../platform/http/who.ts'
import { needSite } from '../../domain/sites/need-market.ts'
import { manyJobs, manyWork, maybeJob, toJob } from '../../platform/jobs/queries.ts'

export function mountJobs(router: Router, context: Context): void {
  mount(router, listJobs, async ({ siteId }) => (await manyJobs(context.pool, siteId)).map(toJob))
  mount(router, listWork, async ({ siteId, ...query }) => {
    const { rows, kinds } = await manyWork(context.pool, siteId, query)
    return { jobs: rows.map(toJob), kinds }
  })
  mount(router, getJob, async ({ jobId }) => {
    const row = await maybeJob(context.pool, jobId)
    if (!row) throw new AppError('notFound', `There is no job ${jobId}`)
    needRole('reader', row.siteId)
    return toJob(row)
  })
  mount(router, actOnJob, async ({ jobId, action }) => {
    const row = await maybeJob(context.pool, jobId)
    // Work of the whole installation is an administrator's.
    if (row) needRole(row.siteId === null ? 'administrator' : 'editor', row.siteId)
    return context.jobs.act(jobId, action)
  })
  router.get('/api/events', async (request, response) => {
    const { siteIds } = checkInput(eventsQuery, request.query)
    for (const siteId of siteIds) {
      needRole('reader', siteId)
      await needSite(context.pool, siteId)
    }
    context.events.listen(siteIds, response)
  })
}
