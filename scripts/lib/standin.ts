import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { startProgram, waitFor } from './children.mjs'
import { freePort } from './postgres.mjs'
import { root } from './stack.ts'

export type RunningStandin = { url: string; truth: string; pid: number; readyMs: number; stop(): Promise<void> }

/** Starts a stand-in alone, with its truth port, and tells how long it took to answer. */
export async function startStandin({ size = 1, seed = 7 }): Promise<RunningStandin> {
  const folder = mkdtempSync(join(tmpdir(), 'dew-trail-standin-'))
  const [port, truthPort] = [await freePort(), await freePort()]
  const startedMs = performance.now()
  const program = startProgram(
    root,
    'standin/src/main.ts',
    {
      STANDIN_PORT: String(port),
      STANDIN_TRUTH_PORT: String(truthPort),
      STANDIN_SEED: String(seed),
      STANDIN_SIZE: String(size),
      STANDIN_UNTHROTTLED: '1',
      NODE_OPTIONS: '--max-old-space-size=8192',
    },
    join(folder, 'standin.log'),
  )
  const url = `http://127.0.0.1:${port}`
  for (let tries = 0; ; tries++)
    try {
      await waitFor(`${url}/health`, program, 'The stand-in')
      break
    } catch (error) {
      // A large world takes more than the minute that the start command allows.
      if (program.ended() || tries > 4) throw error
    }
  return {
    url,
    truth: `http://127.0.0.1:${truthPort}`,
    pid: program.pid,
    readyMs: performance.now() - startedMs,
    async stop() {
      await program.stop()
      rmSync(folder, { recursive: true, force: true })
    },
  }
}
