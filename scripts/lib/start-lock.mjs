import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { dirname } from 'node:path'
import { setTimeout as sleep } from 'node:timers/promises'
import { commandLine, isAlive } from './postgres.mjs'
import { ClearError, say } from './say.mjs'

/** @typedef {{ pid: number, url?: string, children: number[] }} LockContent */

/**
 * One start a data folder. A lock whose process is gone is stale: the programs it left running are stopped and it is taken over.
 * @param {string} path
 */
export async function takeLock(path) {
  try {
    mkdirSync(dirname(path), { recursive: true })
  } catch (error) {
    throw new ClearError(
      `${dirname(path)} cannot be made (${/** @type {NodeJS.ErrnoException} */ (error).code}): this account may not write there. Give it the right, or set DATA_DIR.`,
    )
  }
  /** @type {LockContent} */
  const content = { pid: process.pid, children: [] }
  const write = () => writeFileSync(path, JSON.stringify(content))
  for (let tries = 0; ; tries++) {
    try {
      writeFileSync(path, JSON.stringify(content), { flag: 'wx' })
      break
    } catch (error) {
      const { code } = /** @type {NodeJS.ErrnoException} */ (error)
      if (code !== 'EEXIST')
        throw new ClearError(
          `${path} cannot be written (${code}). Give this account the right to write in ${dirname(path)}, or set DATA_DIR.`,
        )
    }
    const held = readLock(path)
    if (held && isAlive(held.pid) && /start\.mjs/.test(commandLine(held.pid)))
      throw new ClearError(
        `Dew Trail already runs${held.url ? ` at ${held.url}` : ' and is starting'} (process ${held.pid}). Stop it there with Ctrl-C first.`,
      )
    if (tries > 5) throw new ClearError(`${path} cannot be taken over; remove it and start again.`)
    say('An earlier start was cut off; taking over from it')
    for (const pid of held?.children ?? []) await stopOrphan(pid)
    rmSync(path, { force: true })
  }
  return {
    /** @param {number} pid */
    addChild(pid) {
      content.children.push(pid)
      write()
    },
    /** @param {string} url */
    setUrl(url) {
      content.url = url
      write()
    },
    free() {
      rmSync(path, { force: true })
    },
  }
}

/** @param {string} path @returns {LockContent | undefined} */
function readLock(path) {
  try {
    return existsSync(path) ? JSON.parse(readFileSync(path, 'utf8')) : undefined
  } catch {
    return undefined
  }
}

/** Stops a program of ours that outlived its start; a process that has got the same number since is left alone. @param {number} pid */
async function stopOrphan(pid) {
  if (!isAlive(pid) || !/standin\/src\/main|server\/src\/main/.test(commandLine(pid))) return
  process.kill(pid, 'SIGTERM')
  for (let tries = 0; isAlive(pid) && tries < 60; tries++) await sleep(50)
  if (isAlive(pid)) process.kill(pid, 'SIGKILL')
}
