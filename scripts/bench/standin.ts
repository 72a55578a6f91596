import { readFileSync } from 'node:fs'
import { Agent, request } from 'node:http'
import type { Entry, Measure } from '../lib/measures.ts'
import { type RunningStandin, startStandin } from '../lib/standin.ts'

/** Answers a second while `lanes` requests are always under way; a reply other than 200 counts as one all the same. */
async function perSecond(running: RunningStandin, paths: string[], lanes: number): Promise<number> {
  const agent = new Agent({ keepAlive: true, maxSockets: lanes })
  const { hostname, port } = new URL(running.url)
  const ask = (path: string): Promise<void> =>
    new Promise((resolve, reject) => {
      const headers = path.startsWith('/') ? { authorization: 'Bearer demo-key' } : { host: new URL(path).host }
      const sent = request({ agent, hostname, port, path, headers }, response => {
        response.resume()
        response.on('end', resolve)
        response.on('error', reject)
      })
      sent.on('error', reject)
      sent.end()
    })
  let next = 0
  const startedMs = performance.now()
  await Promise.all(
    Array.from({ length: lanes }, async () => {
      while (next < paths.length) await ask(paths[next++]!)
    }),
  )
  agent.destroy()
  return paths.length / ((performance.now() - startedMs) / 1000)
}

/** The most memory a process has held, in MB. */
const peakMb = (pid: number): number =>
  Number(/VmHWM:\s+(\d+) kB/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1] ?? Number.NaN) / 1024

const searches = async (running: RunningStandin, most: number): Promise<string[]> => {
  const phrases = (await (await fetch(`${running.truth}/keywords?language=en`)).json()) as string[]
  const every = Math.max(1, Math.floor(phrases.length / most))
  return phrases
    .filter((_, i) => i % every === 0)
    .map(phrase => `/engines/lantern/search?language=en&q=${encodeURIComponent(phrase)}`)
}
const pages = async (running: RunningStandin, most: number): Promise<string[]> => {
  const every = Math.max(1, Math.floor((most === 6_000 ? 6_000 : 300_000) / most))
  const list = (await (await fetch(`${running.truth}/pages?every=${every}`)).json()) as Array<{ url: string }>
  return list.map(page => page.url)
}

export const standinBench: Entry = {
  name: 'standin',
  gives: ['standin.ready', 'standin.results', 'standin.html', 'standin.memory'],
  async run() {
    const running = await startStandin({ size: 1 })
    try {
      const results = await perSecond(running, await searches(running, 7_000), 4)
      const html = await perSecond(running, await pages(running, 6_000), 4)
      return [
        { name: 'standin.ready', value: running.readyMs / 1000, unit: 's', better: 'lower' },
        { name: 'standin.results', value: results, unit: 'result pages/s', better: 'higher' },
        { name: 'standin.html', value: html, unit: 'HTML pages/s', better: 'higher' },
        { name: 'standin.memory', value: peakMb(running.pid), unit: 'MB at most', better: 'lower' },
      ] satisfies Measure[]
    } finally {
      await running.stop()
    }
  },
}

export const largeStandinBench: Entry = {
  name: 'standin.large',
  gives: ['standin.large_ready', 'standin.large_results', 'standin.large_memory'],
  async run() {
    const running = await startStandin({ size: 50 })
    try {
      const results = await perSecond(running, await searches(running, 1_500), 4)
      return [
        { name: 'standin.large_ready', value: running.readyMs / 1000, unit: 's for 50 × demo size', better: 'lower' },
        { name: 'standin.large_results', value: results, unit: 'result pages/s', better: 'higher' },
        { name: 'standin.large_memory', value: peakMb(running.pid), unit: 'MB at most', better: 'lower' },
      ] satisfies Measure[]
    } finally {
      await running.stop()
    }
  },
}
