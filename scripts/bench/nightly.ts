import { join } from 'node:path'
import { createSite } from '@dew-trail/contract/sites'
import { rankLinks } from '@dew-trail/contract/links'
import { callServer, finishJob } from '../lib/client.ts'
import { readFileSync } from 'node:fs'
import type { Entry } from '../lib/measures.ts'
import { run } from '../lib/install.mjs'
import { type Stack, startStack } from '../lib/stack.ts'

const pages = 1_000_000
const sites = 10_000
/** Other sites that a site links to, as a site of some size does. */
const neighbours = 30
const links = 10_000_000

/**
 * Fills the program's own graph. Seven links in ten lead to pages of the same site; the others to pages of thirty other sites, few of them
 * popular. Page i stands on site 1 + i mod sites.
 */
function fill(stack: Stack): void {
  const psql = (sql: string): string =>
    run(join(stack.postgres.binDir, 'psql'), ['-qAt', '-d', stack.databaseUrl, '-c', sql])
  psql(
    `insert into linked_site (graph_id, id, domain) select 1, i, 'site-' || i || '.example'
      from generate_series(1, ${sites}) i`,
  )
  psql(
    `insert into linked_page (graph_id, id, site_id, url_key, url) select 1, i, 1 + i % ${sites}, md5(i::text)::uuid,
      'https://site-' || 1 + i % ${sites} || '.example/' || i from generate_series(1, ${pages}) i
      order by 1 + i % ${sites}`,
  )
  psql(`insert into anchor_text (graph_id, id, text_key, text) values (1, 1, md5('x')::uuid, 'x')`)
  // A page links to another once. All draws are hashes of the link's number.
  psql(
    `insert into link (graph_id, target_site_id, target_page_id, source_site_id, source_page_id, anchor_id, rel, kind,
      seen_by, first_seen, last_seen)
     select distinct on (1 + t % ${sites}, t, s) 1, 1 + t % ${sites}, t, 1 + s % ${sites}, s, 1, 0, 0, 1,
       '2026-01-01'::date, '2026-11-01'::date from (
       select s, 1 + (site + ${sites} * (d % ${pages / sites})::integer - 1 + ${pages}) % ${pages} t from (
         select s, d, case when d % 10 < 7 then s % ${sites}
           else floor(((hashint8(s % ${sites} * 1000 + d % ${neighbours}) & 16777215) / 16777216.0) ^ 2 *
           ${sites})::integer end site from (
           select 1 + (i % ${pages})::integer s, (hashint8(i) & 16777215) / 7 d
             from generate_series(1::bigint, ${links}) i) a) b) c where s <> t order by 1 + t % ${sites}, t, s`,
  )
  psql('insert into link_unsummed select distinct 1, target_site_id from link on conflict do nothing')
  psql('analyze')
}

/** The nightly computation over a million pages and ten million links: sums, standing, trust, clusters, snapshot. */
export const nightlyBench: Entry = {
  name: 'graph.nightly.10m',
  gives: ['graph.nightly.10m', 'graph.nightly.memory'],
  async run() {
    const stack = await startStack({ size: 0.1 })
    let watch: NodeJS.Timeout | undefined
    try {
      const site = await callServer(stack.server, createSite, { domain: 'site-1.example', name: 'One' })
      fill(stack)
      // The server closed its idle connection meanwhile, which is noticed only now.
      await new Promise(resolve => setTimeout(resolve, 500))
      let peak = 0
      watch = setInterval(() => {
        const kilobytes = Number(
          /VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${stack.serverPid}/status`, 'utf8'))?.[1] ?? 0,
        )
        peak = Math.max(peak, kilobytes / 1_024 / 1_024)
      }, 200)
      const startedMs = performance.now()
      const { jobId } = await callServer(stack.server, rankLinks, { siteId: site.id })
      const job = await finishJob(stack.server, jobId)
      const seconds = (performance.now() - startedMs) / 1_000
      const part = (name: string): string => `${(Number(job.result?.[name]) / 1_000).toFixed(0)} s`
      return [
        {
          name: 'graph.nightly.10m',
          value: seconds,
          unit: `s; reading ${part('readMs')}, computing ${part('rankMs')}, writing ${part('writtenMs')}, the rest sums`,
          better: 'lower',
        },
        { name: 'graph.nightly.memory', value: peak, unit: 'GB of the server at most', better: 'lower' },
      ]
    } finally {
      clearInterval(watch)
      await stack.close()
    }
  },
}
