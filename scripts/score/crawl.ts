import { anchorClass } from '@dew-trail/core/links/anchor-class'
import { readPage, startCrawl, type PageFacts } from '@dew-trail/contract/crawl'
import { loadFeeds, rankLinks, readStandings } from '@dew-trail/contract/links'
import { createSite } from '@dew-trail/contract/sites'
import { callServer, finishJob } from '../lib/client.ts'
import type { Entry, Measure } from '../lib/measures.ts'
import { startStack } from '../lib/stack.ts'

const crawled = [
  'kilnandtide.example',
  'clayharbour.example',
  'thewheelhouse.example',
  'glazeworks.example',
  'handwerkblatt.example',
]
const mostCompared = 600
type Record_ = {
  title: string
  description: string | null
  robots: string | null
  canonical: string | null
  headings: string[]
  paragraphs: string[]
  links: Array<{ url: string; anchor: string; rel: string; kind: string }>
  language: string
}
const even = (text: string): string => text.replace(/\s+/g, ' ').trim()
/** A link as one text; beside "ugc" and "sponsored" a nofollow says nothing more. */
const linkText = (url: string, anchor: string, rel: string[], kind: string): string => {
  // Frames have no rel in HTML, whatever a feed says of them.
  if (kind === 'frame') return `${url} | ${even(anchor)} | frame`
  const said = rel.filter(each => each === 'nofollow' || each === 'ugc' || each === 'sponsored').sort()
  const kept = said.length > 1 ? said.filter(each => each !== 'nofollow') : said
  return `${url} | ${even(anchor)} | ${kept.join(' ')} | ${kind}`
}
/** What differs between a page as read and as it is, by name; empty when nothing does. */
function differences(read: PageFacts, record: Record_, pageUrl: string): string[] {
  const wrong: string[] = []
  if (read.title !== even(record.title)) wrong.push(`title "${read.title}" for "${record.title}"`)
  if (read.description !== (record.description === null ? null : even(record.description))) wrong.push('description')
  if (read.robots.filter(each => each !== 'noarchive').join(', ') !== (record.robots ?? '')) wrong.push('robots')
  if (read.canonical !== record.canonical) wrong.push('canonical')
  const headings = read.headings.map(each => each.text)
  for (const heading of record.headings) if (!headings.includes(even(heading))) wrong.push(`heading "${heading}"`)
  const text = even(read.text ?? '')
  for (const paragraph of record.paragraphs)
    if (!text.includes(even(paragraph))) wrong.push(`text "${paragraph.slice(0, 40)}"`)
  const expected = new Set(
    record.links
      .filter(link => link.url !== pageUrl)
      .map(link => linkText(new URL(link.url).href, link.anchor, link.rel.split(' ').filter(Boolean), link.kind)),
  )
  const found = new Set(
    read.links.filter(link => !link.goneOn).map(link => linkText(link.url, link.anchor, link.rel, link.kind)),
  )
  for (const link of expected) if (!found.has(link)) wrong.push(`no link ${link}`)
  for (const link of found) if (!expected.has(link)) wrong.push(`link too many ${link}`)
  return wrong
}

/** What the crawler reads against what the stand-in says its pages contain; then anchors, languages and kinds of sites. */
export const crawlScore = (seed: number): Entry => ({
  name: 'crawl.exact',
  gives: ['crawl.exact', 'links.language_accuracy', 'links.anchor_accuracy', 'links.site_kind_accuracy'],
  async run() {
    const stack = await startStack({ seed })
    try {
      const { server, truth } = stack
      const ask = async <T>(path: string): Promise<T> => (await (await fetch(truth + path)).json()) as T
      const site = await callServer(server, createSite, { domain: crawled[0]!, name: 'Kiln & Tide' })
      const { crawls } = await callServer(server, startCrawl, { siteId: site.id, domains: crawled, mostPages: 400 })
      for (const { jobId } of crawls) await finishJob(server, jobId)
      const pages =
        await ask<Array<{ url: string; language: string; gone: string | null; broken: string | null }>>(
          '/pages?every=1',
        )
      const ours = pages.filter(
        page => !page.gone && crawled.some(domain => new URL(page.url).hostname.endsWith(domain)),
      )
      const every = Math.max(1, Math.floor(ours.length / mostCompared))
      let [compared, exact, told, right] = [0, 0, 0, 0]
      const spoilt: string[] = []
      const facts = new Map<string, PageFacts>()
      for (const page of ours.filter((_, i) => i % every === 0)) {
        const read = await callServer(server, readPage, { siteId: site.id, url: page.url })
        if (read?.status !== 200) continue
        facts.set(page.url, read)
        told++
        if (read.language === page.language) right++
        if (page.broken) {
          spoilt.push(page.url)
          continue
        }
        compared++
        const wrong = differences(read, await ask<Record_>(`/page?url=${encodeURIComponent(page.url)}`), page.url)
        if (!wrong.length) exact++
        else if (compared - exact <= 5) console.error(`  ${page.url}: ${wrong.slice(0, 3).join('; ')}`)
      }
      console.error(['  Left out, as they are spoilt on purpose:', ...spoilt].join('\n    '))
      const anchors = await anchorShare(facts, await ask<TrueLink[]>('/links?every=1'))
      return [
        {
          name: 'crawl.exact',
          value: exact / compared,
          unit: `of ${compared} pages read exactly; ${spoilt.length} spoilt on purpose left out, listed`,
          better: 'higher',
        },
        { name: 'links.language_accuracy', value: right / told, unit: `of ${told} pages`, better: 'higher' },
        anchors,
        await kindShare(server, site.id, ask),
      ] satisfies Measure[]
    } finally {
      await stack.close()
    }
  },
})

type TrueLink = { target: string; wording: number; anchor: string; kind: number }
/** Wordings of the truth by number, with the classes that stand for each. */
const classesOf = [['brand'], ['exact'], ['partial'], ['address'], ['generic'], ['exact', 'partial']]
async function anchorShare(facts: Map<string, PageFacts>, links: TrueLink[]): Promise<Measure> {
  let [told, right] = [0, 0]
  for (const link of links) {
    const page = facts.get(link.target)
    if (!page || link.kind !== 0) continue
    const domain = new URL(link.target).hostname.replace(/^(www|blog|archive|sellers)\./, '')
    const home = [...facts.values()].find(
      each => new URL(each.url).hostname.endsWith(domain) && new URL(each.url).pathname === '/',
    )
    const brand = home?.title?.split(/ [–|:-] /).slice(0, 1) ?? []
    const found = anchorClass(link.anchor, 'text', {
      domain,
      brand,
      phrases: [...(page.title?.split(/ [–|:-] |: /) ?? []), ...(page.headings[0] ? [page.headings[0].text] : [])],
      language: page.language ?? 'en',
    })
    told++
    if (classesOf[link.wording]!.includes(found)) right++
  }
  return { name: 'links.anchor_accuracy', value: right / told, unit: `of ${told} links`, better: 'higher' }
}

async function kindShare(server: string, siteId: number, ask: <T>(path: string) => Promise<T>): Promise<Measure> {
  const sites = await ask<Array<{ domain: string; kind: string }>>('/sites')
  const domains = sites.filter(each => !crawled.includes(each.domain)).map(each => each.domain)
  for (let at = 0; at < domains.length; at += 50) {
    const { crawls } = await callServer(server, startCrawl, {
      siteId,
      domains: domains.slice(at, at + 50),
      mostPages: 6,
    })
    for (const { jobId } of crawls) await finishJob(server, jobId)
  }
  const feeds = await callServer(server, loadFeeds, { siteId, domains: crawled })
  await finishJob(server, feeds.jobId!)
  await finishJob(server, (await callServer(server, rankLinks, { siteId })).jobId)
  const kinds = new Map((await callServer(server, readStandings, { siteId })).map(each => [each.domain, each.kind]))
  // Own site, rivals and studios sell; a network's site looks like a directory or shop, which is its trade.
  const same: Record<string, string[]> = {
    own: ['shop'],
    rival: ['shop'],
    studio: ['shop', 'other'],
    network: ['directory', 'shop', 'other', 'blog'],
  }
  const known = sites.filter(each => kinds.has(each.domain))
  const right = known.filter(each => (same[each.kind] ?? [each.kind]).includes(kinds.get(each.domain)!))
  return {
    name: 'links.site_kind_accuracy',
    value: right.length / known.length,
    unit: `of ${known.length} sites`,
    better: 'higher',
  }
}
