import { mkdtempSync, chmodSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import 'vitest'
import type { TestProject } from 'vitest/node'
import { startProgram, waitFor } from './children.mjs'
import { freePort, startPostgres } from './postgres.mjs'
import { root } from './stack.ts'

declare module 'vitest' {
  export interface ProvidedContext {
    postgres: string
    source: string
    truth: string
    folder: string
  }
}

/** The day the tests' world stands at, so that nothing depends on the calendar. */
export const testDay = '2026-11-20'

/** Before the server's tests: one PostgreSQL, one small unthrottled stand-in with its truth port. Each test file makes a database of its own. */
export default async function setup(project: TestProject): Promise<() => Promise<void>> {
  const folder = mkdtempSync(join(tmpdir(), 'dew-trail-test-'))
  chmodSync(folder, 0o755)
  const postgres = await startPostgres({
    folder: join(folder, 'postgres'),
    logFile: join(folder, 'postgres.log'),
    fast: true,
  })
  const [port, truthPort] = [await freePort(), await freePort()]
  const standin = startProgram(
    root,
    'standin/src/main.ts',
    {
      STANDIN_PORT: String(port),
      STANDIN_TRUTH_PORT: String(truthPort),
      STANDIN_SIZE: '0.3',
      STANDIN_TODAY: testDay,
      STANDIN_UNTHROTTLED: '1',
    },
    join(folder, 'standin.log'),
  )
  await waitFor(`http://127.0.0.1:${port}/health`, standin, 'The stand-in')
  project.provide('postgres', postgres.url)
  project.provide('source', `http://127.0.0.1:${port}`)
  project.provide('truth', `http://127.0.0.1:${truthPort}`)
  project.provide('folder', folder)
  return async () => {
    await standin.stop()
    await postgres.stop()
    rmSync(folder, { recursive: true, force: true })
  }
}
