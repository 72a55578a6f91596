import { type BackupPlan, backupPlan, type Retention, retention } from '@dew-trail/contract/keeping'
import { z } from 'zod'
import type { Config } from '../../platform/config.ts'
import type { Db } from '../../platform/db/pool.ts'

const keptForEver: Retention = {
  resultTexts: null,
  results30: null,
  results10: null,
  results: null,
  pageTexts: null,
  workLog: null,
  activity: null,
}
const firstPlan: BackupPlan = { every: 'never', hour: 3, weekday: 7, keep: 7 }

async function readSetting<T extends z.ZodType>(db: Db, name: string, schema: T): Promise<z.output<T> | null> {
  const { rows } = await db.query<{ value: unknown }>('select value from installation_setting where name = $1', [name])
  return rows[0] ? schema.parse(rows[0].value) : null
}
const saveSetting = (db: Db, name: string, value: object): Promise<unknown> =>
  db.query(
    `insert into installation_setting (name, value) values ($1, $2) on conflict (name) do update
      set value = excluded.value`,
    [name, JSON.stringify(value)],
  )

/** For how many days each kind of data is kept: as set on Sources, else as configured. */
export async function readRetention(db: Db, config: Pick<Config, 'RESULT_TEXT_DAYS'>): Promise<Retention> {
  const set = await readSetting(db, 'retention', retention)
  return set ?? { ...keptForEver, resultTexts: config.RESULT_TEXT_DAYS, workLog: 400, activity: 400 }
}
export const saveRetention = (db: Db, value: Retention): Promise<unknown> => saveSetting(db, 'retention', value)

/** The plan of backups, with when it was set; null: never. */
const keptPlan = backupPlan.extend({ setAt: z.iso.datetime().nullable() })
export const readBackupPlan = async (db: Db): Promise<z.output<typeof keptPlan>> =>
  (await readSetting(db, 'backups', keptPlan)) ?? { ...firstPlan, setAt: null }
export const saveBackupPlan = (db: Db, value: BackupPlan): Promise<unknown> =>
  saveSetting(db, 'backups', { ...value, setAt: new Date().toISOString() })
