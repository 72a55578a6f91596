import { AppError } from '@dew-trail/contract/errors'
import { actOnJob, getJob, listJobs } from '@dew-trail/contract/jobs'
import { id } from '@dew-trail/contract/sites'
import type { Router } from 'express'
import { z } from 'zod'
import type { Context } from '../context.ts'
import { checkInput, mount } from '../http/mount.ts'
import { manyJobs, maybeJob, toJob } from './queries.ts'

export function mountJobs(router: Router, context: Context): void {
  mount(router, listJobs, async ({ siteId }) => (await manyJobs(context.pool, siteId)).map(toJob))
  mount(router, getJob, async ({ jobId }) => {
    const row = await maybeJob(context.pool, jobId)
    if (!row) throw new AppError('notFound', `There is no job ${jobId}`)
    return toJob(row)
  })
  mount(router, actOnJob, ({ jobId, action }) => context.jobs.act(jobId, action))
  router.get('/api/sites/:siteId/events', (request, response) => {
    context.events.listen(checkInput(z.object({ siteId: id }), request.params).siteId, response)
  })
}
