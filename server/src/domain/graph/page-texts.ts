import type { PageText } from '@dew-trail/core/words/page-phrases'
import PQueue from 'p-queue'
import type { Context } from '../../context.ts'
import { AddressBook } from './address-book.ts'
import { domainOf, pageKey } from '../pages/page-key.ts'
import { countWebUse, savePages } from './save-pages.ts'
import type { PageOutcome } from '../pages/crawler.ts'
import { WebError } from '../pages/web-client.ts'
import { SourceError } from '../../platform/outside/source-error.ts'
import { manyPageTexts } from '../keywords/queries.ts'
import type { AddressSeed } from '../pages/address-seed.ts'

/** Pages of a site that are read for its words when it was not crawled. */
const pagesOfSite = 40
const pagesKnown = 400
const mostRedirects = 5
const graphId = 1

/** The texts of a page, or of a site's pages: those crawled before, else a sample fetched now and kept like any crawl. */
export async function pageTexts(context: Context, seed: AddressSeed, signal: AbortSignal): Promise<PageText[]> {
  const { pool } = context
  const known = await manyPageTexts(pool, graphId, seed.domain, seed.page ? pageKey(seed.page) : null, pagesKnown)
  if (known.length >= (seed.page ? 1 : 10)) return known
  const home = seed.page ?? `https://${seed.domain}/`
  const outcomes = await follow(context, home, signal)
  const last = outcomes.at(-1)!
  if (!seed.page && last.facts) {
    const rest = (await addressesOf(context, seed.domain, last, signal)).slice(0, pagesOfSite)
    const queue = new PQueue({ concurrency: 6 })
    outcomes.push(
      ...((await Promise.all(rest.map(url => queue.add(() => context.crawler.page(url, signal))))) as PageOutcome[]),
    )
  }
  await savePages(pool, graphId, new AddressBook(graphId), outcomes, new Date(), db => countWebUse(db, outcomes))
  const texts = outcomes.flatMap(({ facts }) =>
    facts
      ? [
          {
            title: facts.title,
            headings: facts.headings.map(heading => heading.text),
            description: facts.description,
            text: facts.text,
          },
        ]
      : [],
  )
  if (texts.length) return texts
  const why = last.problem ?? (last.status === 200 ? 'it is no HTML page' : `it answered with status ${last.status}`)
  throw new SourceError('The crawler', 'badReply', `${home} could not be read: ${why}`, false)
}

/** A page and the steps to it, redirects being steps. */
export async function follow(context: Context, url: string, signal: AbortSignal): Promise<PageOutcome[]> {
  const first = await context.crawler.page(url, signal)
  const steps = [first]
  // A site without https is asked without.
  if (first.status === null && first.state === 'failed' && url.startsWith('https:'))
    steps.push(await context.crawler.page(url.replace('https:', 'http:'), signal))
  for (let to = steps.at(-1)!.redirectTo; to && steps.length <= mostRedirects; to = steps.at(-1)!.redirectTo)
    steps.push(await context.crawler.page(to, signal))
  return steps
}

/** Addresses of a site, spread over its sitemap, else those its home page links to. */
async function addressesOf(
  context: Context,
  domain: string,
  home: PageOutcome,
  signal: AbortSignal,
): Promise<string[]> {
  const own = (urls: string[]): string[] => [
    ...new Set(urls.filter(url => url !== home.url && domainOf(url) === domain)),
  ]
  const { sitemaps } = await context.crawler.rules(home.url)
  const files = sitemaps.slice(0, 1)
  for (let i = 0; i < files.length && i < 4; i++) {
    try {
      const sitemap = await context.crawler.sitemap(files[i]!, signal)
      if (!sitemap) continue
      const { pages, parts } = sitemap
      files.push(...parts)
      const found = own(pages)
      if (found.length) {
        const every = Math.max(1, Math.floor(found.length / pagesOfSite))
        return found.filter((_, at) => at % every === 0)
      }
    } catch (error) {
      // The home page's links will do.
      if (!(error instanceof WebError)) throw error
    }
  }
  return own(home.facts!.links.filter(link => link.kind === 'text').map(link => link.url))
}
