import type { Feature } from '../../feature.ts'
import { readRetention } from '../../domain/keeping/settings.ts'
import { deleteSite, lockSite, manyRemovedSites } from '../../domain/sites/queries.ts'
import { inTransaction } from '../../platform/db/pool.ts'
import { backupJob, startDueBackup } from './backups.ts'
import { prune } from './queries.ts'
import { mountKeeping } from './routes.ts'

export const keepingFeature: Feature = {
  mount: mountKeeping,
  jobs: { backup: backupJob },
  minutely: {
    'due-backups': async context => void (await startDueBackup(context)),
    // The data of a removed site goes once it can no longer be brought back.
    'removed-sites': async ({ pool }) => {
      for (const { siteId, goesAt } of await manyRemovedSites(pool))
        if (goesAt <= new Date())
          await inTransaction(pool, async db => {
            await lockSite(db, siteId)
            await deleteSite(db, siteId)
          })
    },
  },
  nightly: { 'nightly-retention': async ({ pool, config }) => prune(pool, await readRetention(pool, config)) },
}
