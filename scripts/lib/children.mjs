import { spawn } from 'node:child_process'
import { createWriteStream } from 'node:fs'
import { join } from 'node:path'
import { setTimeout as sleep } from 'node:timers/promises'
import { ClearError } from './say.mjs'

/**
 * Starts one of our TypeScript programs in a process group of its own, its words into a log file.
 * @param {string} root @param {string} file @param {Record<string, string>} env @param {string} logFile
 */
export function startProgram(root, file, env, logFile) {
  const child = spawn(process.execPath, ['--import', 'tsx', join(root, file)], {
    cwd: root,
    detached: true,
    env: { ...process.env, ...env },
    stdio: ['ignore', 'pipe', 'pipe'],
  })
  const log = createWriteStream(logFile, { flags: 'a' })
  // A full disk must not take the program with its log.
  log.on('error', () => undefined)
  /** @type {string[]} */
  const lastLines = []
  for (const stream of [child.stdout, child.stderr]) {
    stream.pipe(log, { end: false })
    stream.on('data', chunk => {
      lastLines.push(...String(chunk).trim().split('\n'))
      lastLines.splice(0, lastLines.length - 8)
    })
  }
  let code = /** @type {number | null} */ (null)
  child.on('exit', exit => {
    code = exit ?? 1
  })
  return {
    pid: /** @type {number} */ (child.pid),
    child,
    ended: () => code !== null,
    lastLines: () => lastLines.filter(line => !line.startsWith('npm warn')).join('\n'),
    async stop() {
      if (code !== null) return
      process.kill(/** @type {number} */ (child.pid), 'SIGTERM')
      for (let tries = 0; code === null && tries < 240; tries++) await sleep(50)
      if (code === null) process.kill(/** @type {number} */ (child.pid), 'SIGKILL')
    },
  }
}

/** Waits until an address answers, or says why the program behind it ended. @param {string} url @param {{ ended: () => boolean, lastLines: () => string }} program @param {string} name */
export async function waitFor(url, program, name) {
  for (let tries = 0; tries < 1_200; tries++) {
    if (program.ended()) throw new ClearError(`${name} ended: ${program.lastLines()}`)
    try {
      if ((await fetch(url)).ok) return
    } catch {
      /* not up yet */
    }
    await sleep(50)
  }
  throw new ClearError(`${name} did not answer at ${url} within a minute. ${program.lastLines()}`)
}
