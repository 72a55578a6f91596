import { setTimeout as sleep } from 'node:timers/promises'

const firstWaitMs = 1_000
const longestWaitMs = 60_000
/** A program that ran so long was sound: the next wait is a short one again. */
const soundMs = 300_000
/** How often a server is asked whether it still answers, and after how long without an answer it counts as hung. */
const askEveryMs = 5_000
const hungMs = 180_000

/** @typedef {{ child: import('node:child_process').ChildProcess, lastLines: () => string }} Program */

/**
 * Starts a program again whenever it ends, with growing waits, and says why. `start` begins it anew and comes back once it runs.
 * @param {{ name: string, program: Program, start: () => Promise<Program>, isStopping: () => boolean, tell: (text: string) => void, logFolder: string }} options
 */
export async function keepRunning({ name, program, start, isStopping, tell, logFolder }) {
  let waitMs = firstWaitMs
  for (let runs = program; ; ) {
    const startedMs = performance.now()
    const how = await endOf(runs)
    if (isStopping()) return
    if (performance.now() - startedMs > soundMs) waitMs = firstWaitMs
    const why = reasonIn(runs.lastLines())
    tell(`${name} ended (${how})${why ? `: ${why}` : ''}`)
    for (;;) {
      tell(`Starting it again in ${Math.round(waitMs / 1000)} s; see ${logFolder}`)
      await sleep(waitMs)
      waitMs = Math.min(longestWaitMs, waitMs * 2)
      if (isStopping()) return
      try {
        runs = await start()
        tell(`${name} runs again`)
        break
      } catch (error) {
        tell(`${name} did not start: ${/** @type {Error} */ (error).message}`)
      }
    }
  }
}

/** The last line of a log that says what went wrong, if one does. @param {string} text */
function reasonIn(text) {
  for (const line of text.split('\n').reverse()) {
    if (line.startsWith('{')) {
      try {
        const { level, msg, err } = JSON.parse(line)
        if (level >= 50) return `${msg}${err?.message ? `: ${err.message}` : ''}`.slice(0, 300)
      } catch {
        /* a line that was cut */
      }
    } else if (/\b(FATAL|PANIC|[A-Za-z]*Error)\b/.test(line)) return line.trim().slice(0, 300)
  }
  return ''
}

/** How a program ended, once it has. @param {Program} program @returns {Promise<string>} */
const endOf = ({ child }) =>
  new Promise(resolve => {
    const say = () => resolve(child.signalCode ? `by ${child.signalCode}` : `code ${child.exitCode}`)
    if (child.exitCode !== null || child.signalCode !== null) say()
    else child.once('exit', say)
  })

/**
 * Ends a server that has not answered for minutes, so that it is started again. It answers even while it waits for its database.
 * @param {{ url: string, pid: () => number, isStopping: () => boolean, tell: (text: string) => void }} options
 */
export async function endWhenHung({ url, pid, isStopping, tell }) {
  let [pidAsked, answeredMs] = [pid(), performance.now()]
  while (!isStopping()) {
    await sleep(askEveryMs)
    const answers = await fetch(url, { signal: AbortSignal.timeout(askEveryMs) }).then(
      () => true,
      () => false,
    )
    if (answers || pid() !== pidAsked) [pidAsked, answeredMs] = [pid(), performance.now()]
    if (isStopping() || performance.now() - answeredMs < hungMs) continue
    tell(`The server has not answered for ${hungMs / 60_000} minutes and is ended`)
    try {
      process.kill(pid(), 'SIGKILL')
    } catch {
      /* it ended by itself */
    }
    answeredMs = performance.now()
  }
}
