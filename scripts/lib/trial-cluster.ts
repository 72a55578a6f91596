import { createHash } from 'node:crypto'
import { setTimeout as sleep } from 'node:timers/promises'
import { startCrawl } from '@dew-trail/contract/crawl'
import { startGathering } from '@dew-trail/contract/gather'
import { runImport, type Uploaded, uploadPath } from '@dew-trail/contract/imports'
import { actOnJob, getJob, type Job } from '@dew-trail/contract/jobs'
import { createSite } from '@dew-trail/contract/sites'
import { checkNow, trackKeywords } from '@dew-trail/contract/track'
import { callServer, keywordRows } from './client.ts'
import { roundRobin } from './round-robin.ts'
import { type RunningProgram, type Stack, startStack } from './stack.ts'

export type ClusterTrial = {
  /** Processes that were killed. */
  kills: number
  /** What a program that lost or doubled anything would show. */
  wrong: string[]
  /** Answers that were no answers: the proxy's own while a process died are not counted. */
  falseMissing: number
  keywords: number
  crawledPages: number
  seconds: number
}

/**
 * Two processes that answer and two that work behind a proxy, of which one is killed every `everyMs` and started again, while gatherings, imports,
 * checks and a crawl run; `everyMs` null: nobody is killed. Says what was lost, doubled, or said not to be there though it was.
 */
export async function trialCluster({
  rounds,
  lines,
  pages,
  everyMs,
}: {
  /** Imports of keywords, one after the other, of so many lines each. */
  rounds: number
  lines: number
  pages: number
  everyMs: number | null
}): Promise<ClusterTrial> {
  const stack = await startStack({ size: 0.3, today: '2026-11-20', env: { ROLE: 'web', CRAWL_DELAY_MS: '100' } })
  const startedMs = performance.now()
  const killing = new AbortController()
  let [kills, falseMissing] = [0, 0]
  const running: Array<RunningProgram & { role: string }> = []
  const begun: Array<Promise<void>> = []
  const add = async (role: string): Promise<void> => {
    running.push({ ...(await stack.addServer({ ROLE: role })), role })
  }
  await Promise.all(['web', 'web', 'work', 'work'].map(add))
  const proxy = await roundRobin(() => running.filter(each => each.role === 'web').map(each => each.url))
  const killer = (async () => {
    while (everyMs !== null && !killing.signal.aborted) {
      await sleep(everyMs, undefined, { signal: killing.signal }).catch(() => undefined)
      if (killing.signal.aborted) return
      const role = kills % 2 ? 'web' : 'work'
      const alive = running.filter(each => each.role === role)
      // One that answers, or works, stays: with none there is nothing to try.
      if (alive.length < 2) continue
      const victim = alive[0]!
      running.splice(running.indexOf(victim), 1)
      process.kill(victim.program.pid, 'SIGKILL')
      kills++
      begun.push(add(role).catch(() => undefined))
    }
  })()
  /** Asks again what a process that died did not answer; "not found" is never the answer here. */
  const steadily = async <T>(ask: () => Promise<T>): Promise<T> => {
    for (let tries = 0; ; tries++)
      try {
        return await ask()
      } catch (error) {
        if (/There is no|not found/i.test((error as Error).message)) falseMissing++
        if (tries > 60) throw error
        await sleep(250)
      }
  }
  try {
    const trial = await work(stack, proxy.url, steadily, { rounds, lines, pages })
    return { ...trial, kills, falseMissing, seconds: (performance.now() - startedMs) / 1_000 }
  } finally {
    killing.abort()
    await killer.catch(() => undefined)
    await Promise.all(begun)
    await proxy.close()
    await stack.close()
  }
}

async function work(
  stack: Stack,
  url: string,
  steadily: <T>(ask: () => Promise<T>) => Promise<T>,
  { rounds, lines, pages }: { rounds: number; lines: number; pages: number },
): Promise<Pick<ClusterTrial, 'wrong' | 'keywords' | 'crawledPages'>> {
  const wrong: string[] = []
  const site = await callServer(stack.server, createSite, { domain: 'kilnandtide.example', name: 'Kiln & Tide' })
  const [siteId, marketId] = [site.id, site.markets[0]!.id]
  const finish = (jobId: number): Promise<Job> => finishSteadily(url, steadily, jobId)
  const phrases = Array.from({ length: rounds * lines }, (_, i) => `cluster word ${nameOf(i)}`)
  const upload = async (kind: 'keywords' | 'positions', text: string): Promise<Uploaded> =>
    steadily(async () => {
      const answer = await fetch(url + uploadPath(siteId, kind, `${kind}.csv`), {
        method: 'POST',
        body: text,
        headers: { 'content-type': 'text/csv' },
      })
      if (!answer.ok) throw new Error(`upload: status ${answer.status}`)
      return (await answer.json()) as Uploaded
    })
  const bring = async (kind: 'keywords' | 'positions', text: string): Promise<Job> => {
    const { importId, suggested } = await upload(kind, text)
    const run = { siteId, importId, marketId, mapping: suggested }
    return finish((await steadily(() => callServer(url, runImport, run))).jobId)
  }
  const gathering = steadily(() =>
    callServer(url, startGathering, {
      siteId,
      marketId,
      seeds: ['kiln', 'glaze'],
      mostIdeas: 200,
      ways: ['ads', 'completions'],
    }),
  ).then(({ jobs }) => Promise.all(jobs.map(each => finish(each.jobId))))
  const crawl = steadily(() =>
    callServer(url, startCrawl, { siteId, domains: ['clayharbour.example'], mostPages: pages }),
  ).then(({ crawls }) => finish(crawls[0]!.jobId))
  for (let round = 0; round < rounds; round++) {
    const from = round * lines
    const part = phrases.slice(from, from + lines).map((phrase, i) => `${phrase},${from + i + 1}`)
    await bring('keywords', `keyword,volume\n${part.join('\n')}\n`)
  }
  const days = ['2026-10-01', '2026-10-02', '2026-10-03']
  const tracked = phrases.slice(0, 40)
  const positions = days.flatMap(day => tracked.map((phrase, i) => `${day},${phrase},${(i % 30) + 1}`))
  await bring('positions', `date,keyword,rank\n${positions.join('\n')}\n`)
  await Promise.all([gathering, crawl])
  const rows = await steadily(() => keywordRows(url, siteId, marketId))
  const found = rows.filter(row => String(row.phrase).startsWith('cluster word '))
  if (found.length !== phrases.length) wrong.push(`${found.length} of ${phrases.length} imported keywords are there`)
  const searches = new Map(found.map(row => [row.phrase, row.searches]))
  const off = phrases.filter((phrase, i) => searches.get(phrase) !== i + 1).length
  if (off) wrong.push(`${off} imported keywords have other searches than the file gave`)
  const twice = rows.length - new Set(rows.map(row => row.phrase)).size
  if (twice) wrong.push(`${twice} keywords are there twice`)
  const keywordIds = found.slice(0, 10).map(row => row.id)
  await steadily(() => callServer(url, trackKeywords, { siteId, keywordIds, tracked: true }))
  const check = await finish((await steadily(() => callServer(url, checkNow, { siteId }))).jobId)
  if (check.state !== 'done') wrong.push(`the check ended as ${check.state}`)
  const { done } = await crawl
  return { wrong, keywords: rows.length, crawledPages: done }
}

/** Waits for a job to end. One that met too many deaths at one place is begun once more, as a user would. */
async function finishSteadily(
  url: string,
  steadily: <T>(ask: () => Promise<T>) => Promise<T>,
  jobId: number,
): Promise<Job> {
  let again = 0
  for (;;) {
    const job = await steadily(() => callServer(url, getJob, { jobId }))
    if (job.state === 'done') return job
    if (job.state === 'failed' || job.state === 'cancelled') {
      if (!/ended 2 times/.test(job.error ?? '') || again++ > 3)
        throw new Error(`${job.title}: ${job.error ?? job.state}`)
      await steadily(() => callServer(url, actOnJob, { jobId, action: 'retry' }))
    }
    await sleep(200)
  }
}

/** A word for each number, all different and none a form of another. */
const nameOf = (i: number): string =>
  createHash('md5').update(String(i)).digest('hex').replace(/\d/g, '').slice(0, 6) + i
