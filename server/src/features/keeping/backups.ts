import { mkdir, readdir, rm, stat } from 'node:fs/promises'
import { join, resolve } from 'node:path'
import type { Backup, BackupPlan } from '@dew-trail/contract/keeping'
import { AppError } from '@dew-trail/contract/errors'
import type { Context } from '../../context.ts'
import { noteActivity } from '../../domain/people/activity.ts'
import { readBackupPlan } from '../../domain/keeping/settings.ts'
import { dumpDatabase } from '../../platform/db/dump.ts'
import type { JobWork } from '../../platform/jobs/jobs.ts'

export const backupFolder = ({ BACKUP_DIR, DATA_DIR }: Context['config']): string =>
  resolve(BACKUP_DIR || join(DATA_DIR, 'backups'))
/** Names of backups that the program made; what else stands in the folder is left alone. */
const ownName = /^dew-trail-\d{8}T\d{6}(-auto)?\.dump$/

/** Backups that the program made, the newest first. */
export async function manyBackups(config: Context['config']): Promise<Backup[]> {
  const folder = backupFolder(config)
  const names = (await readdir(folder).catch(() => [])).filter(name => ownName.test(name))
  const found = await Promise.all(
    names.map(async name => {
      const { size, mtime } = await stat(join(folder, name))
      return { name, bytes: size, madeAt: mtime.toISOString() }
    }),
  )
  return found.sort((a, b) => (a.name < b.name ? 1 : -1))
}
/** The path of a backup. Throws `notFound` for what is none of ours. */
export async function needBackup(config: Context['config'], name: string): Promise<string> {
  const found = ownName.test(name) && (await manyBackups(config)).some(each => each.name === name)
  if (!found) throw new AppError('notFound', `There is no backup "${name}"`)
  return join(backupFolder(config), name)
}

/** Makes a backup; one that was made by itself then takes the place of the oldest of its kind. */
export const backupJob: JobWork = async (context, { job, signal }) => {
  const { config, pool } = context
  const isAuto = job.payload.auto === true
  const folder = backupFolder(config)
  await mkdir(folder, { recursive: true, mode: 0o700 })
  const stamp = new Date().toISOString().replace(/[-:]/g, '').slice(0, 15)
  const name = `dew-trail-${stamp}${isAuto ? '-auto' : ''}.dump`
  const bytes = await dumpDatabase(config.DATABASE_URL, join(folder, name), signal)
  const removed: string[] = []
  if (isAuto) {
    const { keep } = await readBackupPlan(pool)
    const own = (await manyBackups(config)).filter(each => each.name.endsWith('-auto.dump'))
    for (const old of own.slice(keep)) {
      await rm(join(folder, old.name), { force: true })
      removed.push(old.name)
    }
  }
  await noteActivity(pool, { kind: 'keeping', what: `Backup ${name} made (${Math.ceil(bytes / 1e6)} MB)` })
  return { name, bytes, removed }
}

/** When the next backup is due after a moment; null: never. */
export function nextBackup({ every, hour, weekday }: BackupPlan, after: Date): Date | null {
  if (every === 'never') return null
  const next = new Date(after)
  next.setUTCHours(hour, 0, 0, 0)
  while (next <= after || (every === 'week' && (next.getUTCDay() || 7) !== weekday))
    next.setUTCDate(next.getUTCDate() + 1)
  return next
}

/** Begins a backup whose time has come since the last one that was made by itself: a missed one is caught up once. */
export async function startDueBackup(context: Context, now = new Date()): Promise<boolean> {
  const plan = await readBackupPlan(context.pool)
  const { rows } = await context.pool.query<{ last: Date | null }>(
    "select max(created_at) last from job where kind = 'backup' and payload->>'auto' = 'true'",
  )
  const setAt = plan.setAt === null ? null : new Date(plan.setAt)
  const { last } = rows[0]!
  const since = last && setAt && last > setAt ? last : setAt
  const due = since && nextBackup(plan, since)
  if (!due || due > now) return false
  await context.jobs.add(null, 'backup', 'Making a backup', { auto: true })
  return true
}
