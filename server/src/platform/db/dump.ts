import { spawn } from 'node:child_process'
import { existsSync, readdirSync } from 'node:fs'
import { rename, rm, stat } from 'node:fs/promises'
import { join } from 'node:path'

/** A program of PostgreSQL: of the newest Debian package, else whatever the PATH has. */
function toolPath(name: string): string {
  const base = '/usr/lib/postgresql'
  const versions = existsSync(base) ? readdirSync(base).map(Number).filter(Number.isFinite) : []
  const newest = versions
    .sort((a, b) => b - a)
    .map(version => join(base, String(version), 'bin', name))
    .find(existsSync)
  return newest ?? name
}

/** Runs one; throws its own words where it fails. Its output is given where `wanted`. */
function run(
  name: string,
  args: string[],
  databaseUrl: string | null,
  wanted = false,
  signal?: AbortSignal,
): Promise<string> {
  const url = databaseUrl === null ? null : new URL(databaseUrl)
  // The list of processes, which everybody sees, shows no password.
  const password = url?.password ? { PGPASSWORD: decodeURIComponent(url.password) } : {}
  if (url) url.password = ''
  return new Promise((done, fail) => {
    const child = spawn(toolPath(name), [...args, ...(url ? [`--dbname=${url.href}`] : [])], {
      env: { ...process.env, ...password },
      stdio: ['ignore', wanted ? 'pipe' : 'ignore', 'pipe'],
      ...(signal ? { signal } : {}),
    })
    let output = ''
    let errors = ''
    child.stdout?.on('data', chunk => (output += chunk))
    child.stderr?.on('data', chunk => (errors = (errors + chunk).slice(-2_000)))
    child.on('error', error =>
      fail(
        (error as NodeJS.ErrnoException).code === 'ENOENT'
          ? new Error(`${name} was not found: install Debian's postgresql-client-15 on the machine that runs Dew Trail`)
          : error,
      ),
    )
    child.on('close', code =>
      code === 0 ? done(output) : fail(new Error(`${name} ended with ${code}: ${errors.trim()}`)),
    )
  })
}

/**
 * Writes the whole database as it is at one moment into one file, in PostgreSQL's own packed format, while the program goes on; gives its
 * bytes. The file has its name only once it is whole.
 */
export async function dumpDatabase(databaseUrl: string, path: string, signal?: AbortSignal): Promise<number> {
  const half = `${path}.part`
  try {
    await run(
      'pg_dump',
      ['--format=custom', '--no-owner', '--no-privileges', `--file=${half}`],
      databaseUrl,
      false,
      signal,
    )
    await rename(half, path)
  } finally {
    await rm(half, { force: true })
  }
  return (await stat(path)).size
}

/** The fingerprint of the schema that a backup was made of; throws where it is no backup of ours. */
export async function dumpedSchema(path: string): Promise<string> {
  const sql = await run('pg_restore', ['--data-only', '--table=schema_made', '--file=-', path], null, true).catch(
    error => {
      throw new Error(`${path} cannot be read as a backup: ${(error as Error).message}`)
    },
  )
  const found = /^([0-9a-f]{64})\t/m.exec(sql)
  if (!found) throw new Error(`${path} is no backup of Dew Trail`)
  return found[1]!
}

/** Fills an empty database from a backup, all of it or nothing. */
export async function restoreDump(databaseUrl: string, path: string): Promise<void> {
  await run(
    'pg_restore',
    ['--single-transaction', '--exit-on-error', '--no-owner', '--no-privileges', path],
    databaseUrl,
  )
}
