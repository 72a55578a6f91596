import { join } from 'node:path'
import { listLinks, readLinkProfile } from '@dew-trail/contract/link-profile'
import { listLinkingSites, listTargetAnchors, listTargetLinks, readLinkFigures } from '@dew-trail/contract/link-lists'
import { createSite } from '@dew-trail/contract/sites'
import { callServer } from '../lib/client.ts'
import { run } from '../lib/install.mjs'
import { type Entry, few, type Measure, median } from '../lib/measures.ts'
import { type Stack, startStack } from '../lib/stack.ts'

const linkingSites = 140_000
const others = 4_000
const toLarge = 2_000_000
const large = 1
/** What a screen asks for before all. */
const shownFirst = 200

/**
 * Fills the program's graph with `links` links: two million lead to 20,000 pages of one site, from 140,000 sites of which few link often,
 * the rest to home pages of other sites. All draws are hashes of the link's number. Page p of linking site s is 1,000,000 + s + p·140,000.
 */
export function fill(stack: Stack, links: number): void {
  const psql = (sql: string): string =>
    run(join(stack.postgres.binDir, 'psql'), ['-qAt', '-d', stack.databaseUrl, '-c', sql])
  const draw = (salt: number): string => `((hashint8(i * 8 + ${salt}) & 16777215) / 16777216.0)`
  const pages = 8
  psql(
    `insert into linked_site (graph_id, id, domain)
     select 1, i, case when i = ${large} then 'large.example' else 'site-' || i || '.example' end
     from generate_series(1, ${others + linkingSites}) i`,
  )
  const page = (id: string, site: string, identity: string, from: string): string =>
    `insert into linked_page (graph_id, id, site_id, url_key, url)
     select 1, id, site_id, md5(identity)::uuid, 'https://' || identity
     from (select ${id} id, ${site} site_id, ${identity} "identity" from ${from}) p;`
  psql(
    page('i', `${large}`, "'large.example/p/' || i", 'generate_series(1, 20000) i') +
      page('20000 + i', 'i', "'site-' || i || '.example/'", `generate_series(2, ${others}) i`) +
      page(
        `1000000 + s + p * ${linkingSites}`,
        `${others} + s`,
        `'site-' || ${others} + s || '.example/page/' || p`,
        `generate_series(1, ${linkingSites}) s cross join generate_series(0, ${pages - 1}) p order by s`,
      ),
  )
  psql(
    `insert into anchor_text (graph_id, id, text_key, text)
     select 1, i, md5('words of anchor ' || i)::uuid, 'words of anchor ' || i from generate_series(1, 30000) i`,
  )
  psql(
    `insert into link (graph_id, target_site_id, target_page_id, source_site_id, source_page_id, anchor_id, rel, kind,
       seen_by, first_seen, last_seen)
     select distinct on (site, page, source, anchor, rel) 1, site, page, ${others} + s, source, anchor, rel, 0, 8,
       first_seen, '2026-10-01'::date
     from (
       select site, case when site = ${large} then 1 + floor(${draw(3)} ^ 2 * 19999)::integer
         else 20000 + site end page,
         s, 1000000 + s + floor(${draw(2)} * ${pages})::integer * ${linkingSites} source,
         1 + floor(${draw(4)} ^ 2 * 29999)::integer anchor, (${draw(5)} < 0.2)::integer::smallint rel,
         '2025-01-01'::date + floor(${draw(6)} * 640)::integer first_seen
       from (
         select i, 1 + floor(${draw(1)} ^ 3 * ${linkingSites - 1})::integer s,
           case when i <= ${toLarge} then ${large} else 2 + (i % ${others - 1})::integer end site
         from generate_series(1::bigint, ${links}) i
       ) a
     ) b
     order by site, page, source, anchor, rel`,
  )
  psql(
    `insert into linking_site
     select 1, target_site_id, source_site_id, count(*), count(*), count(*) filter (where rel = 0),
       count(distinct source_page_id), min(first_seen), max(last_seen)
     from link where graph_id = 1 group by 2, 3;
     insert into link_total (graph_id, target_site_id, links, there, follow, linking_pages, linking_sites)
     select 1, target_site_id, sum(links), sum(there), sum(follow), sum(pages), count(*) from linking_site group by 2`,
  )
  psql('vacuum analyze')
}

/** Median milliseconds of a question over HTTP, asked eleven times; the first warms up. */
async function timed(ask: () => Promise<unknown>): Promise<number> {
  const times: number[] = []
  for (let i = 0; i < 11; i++) {
    const startedMs = performance.now()
    await ask()
    times.push(performance.now() - startedMs)
  }
  return median(times.slice(1))
}

/** Milliseconds in which the database plans and reads the sums of the large site, the median of nine times. */
function sumsMs(stack: Stack): number {
  const sql = `explain (analyze, summary) select links, there, follow, linking_pages, linking_sites
    from link_total where graph_id = 1 and target_site_id = ${large}`
  const text = run(join(stack.postgres.binDir, 'psql'), [
    '-qAt',
    '-d',
    stack.databaseUrl,
    ...Array.from({ length: 9 }, () => ['-c', sql]).flat(),
  ])
  const times = [...text.matchAll(/(?:Planning|Execution) Time: ([\d.]+) ms/g)].map(match => Number(match[1]))
  return median(Array.from({ length: 9 }, (_, i) => times[2 * i]! + times[2 * i + 1]!))
}

/** Conditions on the lists of a large site, by name; each is asked of the server as the sheet asks it. */
const siteFilters: Record<string, object> = {
  'followed links': { where: ['follow:from:5'] },
  'words in domain': { where: ['domain:has:site-99'] },
  'unknown standing': { where: ['standing:unknown'] },
  'many links, ordered': { where: ['links:from:20'], sort: '-links' },
  'words in page linked to': { where: ['lands:has:/p/77'] },
  'words in anchor': { where: ['anchor:has:anchor 12'] },
  'first seen since': { where: ['firstSeen:from:20260601'] },
  'last seen until': { where: ['lastSeen:to:20260901'] },
  'on every page': { where: ['siteWide:yes'] },
  'kind of site': { where: ['kind:is:blog'] },
  'two conditions': { where: ['follow:from:5', 'links:to:40'], sort: '-follow' },
  'by domain': { sort: 'domain' },
}
const linkFilters: Record<string, object> = {
  followed: { where: ['rel:is:follow'] },
  'words in anchor': { where: ['anchor:has:anchor 12'] },
  'words in domain': { where: ['domain:has:site-99'] },
  'words in page linked to': { where: ['lands:has:/p/77'] },
  'first seen since': { where: ['firstSeen:from:20260601'] },
  'last seen until': { where: ['lastSeen:to:20260901'] },
  'unknown language': { where: ['language:unknown'] },
  'unknown links out': { where: ['linksOut:unknown'] },
  'never verified': { where: ['verifiedOn:unknown'] },
  'region unknown, nofollow': { where: ['region:unknown', 'rel:is:nofollow'] },
  'one anchor of one site': { where: ['anchor:has:anchor 12', 'domain:has:site-99'] },
  'grouped by site': { bySite: true },
}
/** Text that the graph keeps beside the links, which the issue grants more time. */
const textFilters: Record<string, object> = {
  'words in title': { where: ['title:has:clay'] },
  'words around': { where: ['around:has:clay'] },
}
/** The slowest of some questions: its name and median milliseconds. */
async function slowest(
  questions: Record<string, object>,
  ask: (question: object) => Promise<unknown>,
): Promise<{ name: string; ms: number }> {
  let worst = { name: '', ms: 0 }
  for (const [name, question] of Object.entries(questions)) {
    const ms = await few(() => ask(question))
    if (ms > worst.ms) worst = { name, ms }
  }
  return worst
}

const profileOf = (size: string, links: number): Entry => ({
  name: `links.profile.${size}`,
  gives: [
    `links.profile.${size}`,
    `links.sites.filter.${size}`,
    `links.list.filter.${size}`,
    `links.list.text.${size}`,
    'links.page.deep',
    `links.anchors.${size}`,
    `links.growth.10.${size}`,
    `links.profile.${size}.dialog`,
    `links.profile.${size}.sums`,
    `links.profile.${size}.filtered`,
  ],
  async run() {
    const stack = await startStack({ size: 0.1 })
    try {
      const site = await callServer(stack.server, createSite, { domain: 'large.example', name: 'Large' })
      fill(stack, links)
      // The server closed its idle connection meanwhile, which is noticed only now.
      await new Promise(resolve => setTimeout(resolve, 500))
      const wanted = { siteId: site.id, url: 'large.example', scope: 'site' as const, most: 100 }
      const { known, there } = await callServer(stack.server, readLinkProfile, wanted)
      if (!known || there < toLarge * 0.9) throw new Error(`only ${there} links are there`)
      const list = (more: object) => () => callServer(stack.server, listLinks, { ...wanted, ...more })
      const at = { siteId: site.id, target: 'large.example' }
      const others = Array.from({ length: 9 }, (_, i) => `site-${i + 2}.example`)
      const figures = await few(() =>
        callServer(stack.server, readLinkFigures, { siteId: site.id, targets: [at.target] }),
      )
      const growth = await few(() =>
        callServer(stack.server, readLinkFigures, { siteId: site.id, targets: [at.target, ...others] }),
      )
      const sites = await slowest(siteFilters, question =>
        callServer(stack.server, listLinkingSites, { ...at, most: shownFirst, ...question }),
      )
      const askLinks = (question: object) =>
        callServer(stack.server, listTargetLinks, { ...at, most: shownFirst, ...question })
      const rows = await slowest(linkFilters, askLinks)
      const texts = await slowest(textFilters, askLinks)
      const anchors = await few(() => callServer(stack.server, listTargetAnchors, { ...at, most: shownFirst }))
      const whole = await timed(() => callServer(stack.server, readLinkProfile, wanted))
      const filtered = await timed(list({ follow: 'true', since: '2026-06-01' }))
      // A place in the middle of two million links: the first key of the page halfway through the site.
      const middle = '5000,0,0,0'
      const first = await timed(list({ after: '0,0,0,0' }))
      const deep = await timed(list({ after: middle }))
      const sums = sumsMs(stack)
      const empty = await timed(() => fetch(`${stack.server}/api/health`).then(answer => answer.text()))
      const unit = (what: string): string => `ms over HTTP, ${what}`
      return [
        { name: `links.profile.${size}`, value: figures, unit: unit('the profile of the large site'), better: 'lower' },
        {
          name: `links.sites.filter.${size}`,
          value: sites.ms,
          unit: unit(`the slowest of twelve, "${sites.name}": its 140,000 linking sites by conditions, the first 200`),
          better: 'lower',
        },
        {
          name: `links.list.filter.${size}`,
          value: rows.ms,
          unit: unit(`the slowest of twelve, "${rows.name}": its two million links by conditions, the first 200`),
          better: 'lower',
        },
        {
          name: `links.list.text.${size}`,
          value: texts.ms,
          unit: unit(`"${texts.name}": the same by text of the linking pages`),
          better: 'lower',
        },
        { name: `links.anchors.${size}`, value: anchors, unit: unit('its first 200 anchors'), better: 'lower' },
        { name: `links.growth.10.${size}`, value: growth, unit: unit('the profiles of ten sites'), better: 'lower' },
        {
          name: `links.profile.${size}.dialog`,
          value: whole,
          unit: unit('sums, bands, anchors of 5,000 links, growth by week'),
          better: 'lower',
          reference: { what: 'an answer without any work', value: empty },
        },
        {
          name: `links.profile.${size}.sums`,
          value: sums,
          unit: 'ms in the database, planned and read',
          better: 'lower',
        },
        {
          name: `links.profile.${size}.filtered`,
          value: filtered,
          unit: unit('followed links since a day: counted, first hundred with details'),
          better: 'lower',
        },
        {
          name: 'links.page.deep',
          value: deep,
          unit: unit('a hundred links from row 1,000,000 on'),
          better: 'lower',
          reference: { what: 'the first hundred', value: first },
        },
      ] satisfies Measure[]
    } finally {
      await stack.close()
    }
  },
})

export const linkProfileBench = profileOf('2m', 2_000_000)
export const largeLinkProfileBench = profileOf('20m', 20_000_000)
