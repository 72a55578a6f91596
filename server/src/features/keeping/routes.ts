import { createReadStream } from 'node:fs'
import { rm } from 'node:fs/promises'
import { pipeline } from 'node:stream/promises'
import { AppError } from '@dew-trail/contract/errors'
import {
  bringBackSite,
  readKeeping,
  removeBackup,
  setBackupPlan,
  setRetention,
  startBackup,
} from '@dew-trail/contract/keeping'
import type { Router } from 'express'
import { z } from 'zod'
import type { Context } from '../../context.ts'
import { readBackupPlan, readRetention, saveBackupPlan, saveRetention } from '../../domain/keeping/settings.ts'
import { noteActivity } from '../../domain/people/activity.ts'
import { manyRemovedSites, unmarkRemoved } from '../../domain/sites/queries.ts'
import { checkInput, mount } from '../../platform/http/mount.ts'
import { needRole } from '../../platform/http/who.ts'
import { backupFolder, manyBackups, needBackup, nextBackup } from './backups.ts'
import { resultDepths } from '../../domain/results/shorten-months.ts'
import { manySpaces } from './queries.ts'

export function mountKeeping(router: Router, context: Context): void {
  const { pool, config, events } = context
  const changed = () => events.publish(null, { type: 'keeping' })
  const note = (what: string) => noteActivity(pool, { kind: 'keeping', what })

  mount(router, readKeeping, async () => {
    const { setAt: _, ...plan } = await readBackupPlan(pool)
    const removed = await manyRemovedSites(pool)
    return {
      backups: await manyBackups(config),
      folder: backupFolder(config),
      plan,
      nextAt: nextBackup(plan, new Date())?.toISOString() ?? null,
      retention: await readRetention(pool, config),
      space: await manySpaces(pool),
      resultDepths: await resultDepths(pool),
      freeBytes: await context.disk.look(),
      removed: removed.map(({ goesAt, ...each }) => ({ ...each, goesAt: goesAt.toISOString() })),
      unreadableSecrets: (await context.secrets.sealedElsewhere(pool)).length,
    }
  })
  mount(router, startBackup, () => context.jobs.add(null, 'backup', 'Making a backup', { auto: false }))
  mount(router, removeBackup, async ({ name }) => {
    await rm(await needBackup(config, name))
    await note(`Removed the backup ${name}`)
    changed()
    return {}
  })
  router.get('/api/backups/:name', async (request, response) => {
    needRole('administrator')
    const { name } = checkInput(z.object({ name: z.string().max(200) }), request.params)
    const path = await needBackup(config, name)
    context.people.noteExport(null, `Backup ${name}`)
    response.setHeader('content-disposition', `attachment; filename="${name}"`)
    response.type('application/octet-stream')
    await pipeline(createReadStream(path), response).catch(error => {
      context.log.debug({ err: error }, 'a backup was not read to its end')
    })
  })
  mount(router, setBackupPlan, async plan => {
    await saveBackupPlan(pool, plan)
    const { every, hour, keep } = plan
    await note(
      every === 'never' ? 'Backups: none by themselves' : `Backups: every ${every} at ${hour}:00 UTC, ${keep} kept`,
    )
    changed()
    return { nextAt: nextBackup(plan, new Date())?.toISOString() ?? null }
  })
  mount(router, setRetention, async value => {
    await saveRetention(pool, value)
    await note('Changed how long data is kept')
    changed()
    return {}
  })
  mount(router, bringBackSite, async ({ removedId }) => {
    const found = (await manyRemovedSites(pool)).find(each => each.siteId === removedId)
    if (!found || !(await unmarkRemoved(pool, removedId)))
      throw new AppError('notFound', 'This site is not there any more, or was not removed')
    await noteActivity(pool, { kind: 'site', what: `Brought ${found.domain} back` })
    events.publish(null, { type: 'sites' })
    changed()
    return {}
  })
}
