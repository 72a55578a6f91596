import { startCrawl } from '@dew-trail/contract/crawl'
import { listLinkingSites, readLinkFigures } from '@dew-trail/contract/link-lists'
import { loadFeeds, rankLinks, readStandings } from '@dew-trail/contract/links'
import { createSite } from '@dew-trail/contract/sites'
import { registrableDomain } from '@dew-trail/core/links/registrable-domain'
import { callServer, finishJob } from '../lib/client.ts'
import { rivals } from '../lib/demo.mjs'
import type { Entry } from '../lib/measures.ts'
import { startStack } from '../lib/stack.ts'
import { type TrueSite, truthOf } from './publishing.ts'

const day = 86_400_000
const [seeds, atOnce, pagesRead] = [3, 10, 12]
/** Campaigns with so many links that our graph knows are to be found, if they began within the weeks that are told. */
const [leastLinks, weeksTold] = [20, 104]
/** A burst belongs to a campaign if its week begins at most so long before the campaign and after. */
const [daysBefore, daysAfter] = [7, 35]
const leastPages = 5
/** Pages with so many links are looked at, of each world so many. */
const [leastOfPage, mostPages] = [40, 120]
const cause = { everyPage: 1, campaign: 3 }

type TrueLink = { source: string; target: string; born: string; died: string | null; cause: number }
type Found = { right: number; found: number; wanted: number }
const none = (): Found => ({ right: 0, found: 0, wanted: 0 })
const domainOf = (url: string): string => registrableDomain(new URL(url).hostname)

/** What lists of links say against what made them, pooled over three worlds: bursts, links on every page, contacts. */
export const linkListsScore = (seed: number): Entry => ({
  name: 'links.burst_precision',
  gives: ['links.burst_precision', 'links.burst_recall', 'links.sitewide_f1', 'links.contact_precision'],
  async run() {
    const [bursts, everyPage, contacts] = [none(), none(), none()]
    for (let i = 0; i < seeds; i++) await judgeWorld(seed + i, { bursts, everyPage, contacts })
    const precision = everyPage.right / everyPage.found
    const recall = everyPage.right / everyPage.wanted
    return [
      {
        name: 'links.burst_precision',
        value: bursts.right / bursts.found,
        unit: `of ${bursts.found} bursts of pages told`,
        better: 'higher',
      },
      {
        name: 'links.burst_recall',
        value: recallOf(bursts),
        unit: `of ${bursts.wanted} campaigns of ${leastLinks} known links or more`,
        better: 'higher',
      },
      {
        name: 'links.sitewide_f1',
        value: (2 * precision * recall) / (precision + recall),
        unit: `of ${everyPage.wanted} sites that link from ${leastPages} known pages or more by one link`,
        better: 'higher',
      },
      {
        name: 'links.contact_precision',
        value: contacts.right / contacts.found,
        unit: `of ${contacts.found} contacts told`,
        better: 'higher',
      },
    ]
  },
})
const recallOf = ({ wanted, ...rest }: Found & { recalled?: number }): number => (rest.recalled ?? rest.right) / wanted

async function judgeWorld(
  seed: number,
  { bursts, everyPage, contacts }: Record<'bursts' | 'everyPage' | 'contacts', Found & { recalled?: number }>,
): Promise<void> {
  const stack = await startStack({ seed })
  try {
    const { server } = stack
    const ask = truthOf(stack.truth)
    const { id: siteId } = await callServer(server, createSite, { domain: 'kilnandtide.example', name: 'Kiln & Tide' })
    const first = ['kilnandtide.example', ...rivals]
    let domains = first
    for (let round = 0; round < 3; round++) {
      await finishJob(server, (await callServer(server, loadFeeds, { siteId, domains })).jobId!)
      await finishJob(server, (await callServer(server, rankLinks, { siteId })).jobId)
      domains = (await callServer(server, readStandings, { siteId })).map(each => each.domain)
    }
    for (let at = 0; at < domains.length; at += 50) {
      const { crawls } = await callServer(server, startCrawl, {
        siteId,
        domains: domains.slice(at, at + 50),
        mostPages: pagesRead,
      })
      for (const { jobId } of crawls) await finishJob(server, jobId)
    }
    const sites = await ask<Array<TrueSite & { email: string }>>('/sites')
    const links = (await ask<TrueLink[]>('/links')).filter(link => Date.parse(link.born) <= Date.now())
    await judgeSites(server, siteId, domains, sites, links, { everyPage, contacts })
    await judgeBursts(server, siteId, links, bursts)
  } finally {
    await stack.close()
  }
}

async function judgeSites(
  server: string,
  siteId: number,
  domains: readonly string[],
  sites: ReadonlyArray<TrueSite & { email: string }>,
  links: readonly TrueLink[],
  { everyPage, contacts }: Record<'everyPage' | 'contacts', Found>,
): Promise<void> {
  const emailOf = new Map(sites.map(site => [site.domain, site.email]))
  const truly = new Map<string, Set<string>>()
  for (const link of links) {
    if (link.cause !== cause.everyPage || (link.died && Date.parse(link.died) <= Date.now())) continue
    const pair = `${domainOf(link.source)} ${domainOf(link.target)}`
    truly.set(pair, (truly.get(pair) ?? new Set()).add(link.source))
  }
  const told = new Map<string, string>()
  for (const target of domains) {
    const { rows } = await callServer(server, listLinkingSites, { siteId, target })
    for (const row of rows) {
      // Of pairs of which our graph knows enough pages to tell.
      const is = (truly.get(`${row.domain} ${target}`)?.size ?? 0) >= leastPages && row.pages >= leastPages
      if (is) everyPage.wanted++
      if (row.siteWide) everyPage.found++
      if (is && row.siteWide) everyPage.right++
      if (row.contact !== null) told.set(row.domain, row.contact)
    }
  }
  for (const [domain, contact] of told) {
    contacts.found++
    if (emailOf.get(domain) === contact) contacts.right++
  }
}

/** Bursts of pages against campaigns: a campaign is all its links to one page. */
async function judgeBursts(
  server: string,
  siteId: number,
  links: readonly TrueLink[],
  bursts: Found & { recalled?: number },
): Promise<void> {
  const known = new Map<string, number[]>()
  const all = new Map<string, number>()
  for (const link of links) {
    all.set(link.target, (all.get(link.target) ?? 0) + 1)
    if (link.cause === cause.campaign)
      known.set(link.target, [...(known.get(link.target) ?? []), Date.parse(link.born)])
  }
  const since = Date.now() - (weeksTold - 4) * 7 * day
  // In the order of their addresses, which says nothing of their links.
  const pages = [...all]
    .filter(([, count]) => count >= leastOfPage)
    .map(([url]) => url)
    .sort()
    .slice(0, mostPages)
  for (let at = 0; at < pages.length; at += atOnce) {
    const targets = pages.slice(at, at + atOnce)
    const { figures } = await callServer(server, readLinkFigures, { siteId, targets, age: 'ever' })
    for (const each of figures) {
      const days = (known.get(each.target) ?? []).toSorted((a, b) => a - b)
      const began = days.length >= leastLinks ? days[Math.floor(days.length * 0.1)]! : null
      const belongs = (week: string): boolean =>
        days.some(born => Date.parse(week) >= born - daysBefore * day && Date.parse(week) <= born + daysAfter * day)
      bursts.found += each.bursts.length
      const rightly = each.bursts.filter(burst => belongs(burst.week))
      bursts.right += rightly.length
      if (began === null || began < since) continue
      bursts.wanted++
      if (rightly.length) bursts.recalled = (bursts.recalled ?? 0) + 1
    }
  }
}
