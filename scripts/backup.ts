/** `npm run backup -- FILE`: the whole database as it is now in one file, while the program runs or not. */
import { existsSync, mkdirSync } from 'node:fs'
import { dirname, resolve } from 'node:path'
import { dumpDatabase } from '@dew-trail/server/db/dump'
import { withOwnDatabase } from './lib/own-database.ts'
import { say } from './lib/say.mjs'

const [file, ...more] = process.argv.slice(2)
if (!file || more.length) {
  console.error('Use: npm run backup -- FILE')
  process.exit(2)
}
const path = resolve(process.env.INIT_CWD ?? process.cwd(), file)
try {
  if (existsSync(path)) throw new Error(`${path} is there already. Name another file; nothing was written.`)
  mkdirSync(dirname(path), { recursive: true })
  const bytes = await withOwnDatabase(databaseUrl => dumpDatabase(databaseUrl, path))
  say(`${path}: ${(bytes / 1e6).toFixed(1)} MB`)
  say(
    'Typed keys of sources and secrets of web hooks are in it, sealed with DATA_DIR/secret-key, which is not: keep that apart',
  )
} catch (error) {
  console.error(`  ${(error as Error).message}`)
  process.exit(1)
}
