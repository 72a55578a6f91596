import { spawn } from 'node:child_process'
import { chmodSync, mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { Entry } from '../lib/measures.ts'
import { freePort } from '../lib/postgres.mjs'
import { root } from '../lib/stack.ts'

/** Runs the start command until it says it is ready, and stops it; gives the seconds. */
function startOnce(dataDir: string, port: number): Promise<number> {
  return new Promise((resolve, reject) => {
    const startedMs = performance.now()
    const child = spawn(process.execPath, ['scripts/start.mjs'], {
      cwd: root,
      env: { ...process.env, DATA_DIR: dataDir, PORT: String(port), DATABASE_URL: '', SOURCE_URL: '' },
    })
    let output = ''
    let seconds = Number.NaN
    child.stdout.on('data', chunk => {
      output += chunk
      if (Number.isNaN(seconds) && output.includes('Ready after')) {
        seconds = (performance.now() - startedMs) / 1000
        child.kill('SIGINT')
      }
    })
    child.stderr.on('data', chunk => {
      output += chunk
    })
    child.on('exit', () =>
      Number.isNaN(seconds) ? reject(new Error(`the start failed:\n${output}`)) : resolve(seconds),
    )
  })
}

export const startBench: Entry = {
  name: 'start.warm',
  async run() {
    const folder = mkdtempSync(join(tmpdir(), 'dew-trail-start-'))
    chmodSync(folder, 0o755)
    try {
      const port = await freePort()
      const first = await startOnce(join(folder, 'data'), port)
      const warm = await startOnce(join(folder, 'data'), port)
      return [
        {
          name: 'start.warm',
          value: warm,
          unit: 's',
          better: 'lower',
          reference: { what: 'first start, demo loaded', value: first },
        },
      ]
    } finally {
      rmSync(folder, { recursive: true, force: true })
    }
  },
}
