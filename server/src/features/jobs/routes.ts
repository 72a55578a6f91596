import { AppError } from '@dew-trail/contract/errors'
import { actOnJob, eventsQuery, getJob, listJobs } from '@dew-trail/contract/jobs'
import type { Router } from 'express'
import type { Context } from '../../context.ts'
import { checkInput, mount } from '../../platform/http/mount.ts'
import { needSite } from '../../domain/sites/need-market.ts'
import { manyJobs, maybeJob, toJob } from '../../platform/jobs/queries.ts'

export function mountJobs(router: Router, context: Context): void {
  mount(router, listJobs, async ({ siteId }) => (await manyJobs(context.pool, siteId)).map(toJob))
  mount(router, getJob, async ({ jobId }) => {
    const row = await maybeJob(context.pool, jobId)
    if (!row) throw new AppError('notFound', `There is no job ${jobId}`)
    return toJob(row)
  })
  mount(router, actOnJob, ({ jobId, action }) => context.jobs.act(jobId, action))
  router.get('/api/events', async (request, response) => {
    const { siteIds } = checkInput(eventsQuery, request.query)
    for (const siteId of siteIds) await needSite(context.pool, siteId)
    context.events.listen(siteIds, response)
  })
}
