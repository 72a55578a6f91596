/** `npm run restore -- FILE`: fills an empty data folder (or an empty database, with DATABASE_URL) from a backup. */
import { existsSync } from 'node:fs'
import { join, resolve } from 'node:path'
import { dumpedSchema, restoreDump } from '@dew-trail/server/db/dump'
import { readSchema } from '@dew-trail/server/db/make-schema'
import { openPool } from '@dew-trail/server/db/pool'
import { needPostgres } from './lib/postgres.mjs'
import { dataDir, withOwnDatabase } from './lib/own-database.ts'
import { say } from './lib/say.mjs'

const [file, ...more] = process.argv.slice(2)
if (!file || more.length) {
  console.error('Use: npm run restore -- FILE')
  process.exit(2)
}
const path = resolve(process.env.INIT_CWD ?? process.cwd(), file)
try {
  if (!existsSync(path)) throw new Error(`${path} is not there`)
  needPostgres()
  // Looked at before anything is made or touched.
  if ((await dumpedSchema(path)) !== (await readSchema()).fingerprint)
    throw new Error(
      `${path} was made by another version of Dew Trail. Restore it with that version; nothing was changed.`,
    )
  await withOwnDatabase(async databaseUrl => {
    const pool = openPool(databaseUrl, 1, {}, () => undefined)
    try {
      const { rows } = await pool.query<{ tables: number }>(
        `select count(*) tables from pg_class c join pg_namespace n on n.oid = c.relnamespace
         where n.nspname not in ('pg_catalog', 'information_schema', 'pg_toast')`,
      )
      if (rows[0]!.tables > 0)
        throw new Error(
          process.env.DATABASE_URL
            ? 'The database of DATABASE_URL is not empty. Name an empty one; nothing was changed.'
            : `${dataDir()} holds data. Name an empty folder with DATA_DIR, or move this one away; nothing was changed.`,
        )
    } finally {
      await pool.end()
    }
    await restoreDump(databaseUrl, path)
  })
  say(
    `Restored into ${process.env.DATABASE_URL ? 'the database of DATABASE_URL' : dataDir()}. Start it with npm start.`,
  )
  if (!existsSync(join(dataDir(), 'secret-key')))
    say(
      'Typed keys of sources and secrets of web hooks open only with the secret-key of the old data folder: put it beside, or type them again',
    )
} catch (error) {
  console.error(`  ${(error as Error).message}`)
  process.exit(1)
}
