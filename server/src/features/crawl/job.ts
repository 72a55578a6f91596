import { setTimeout as sleep } from 'node:timers/promises'
import PQueue from 'p-queue'
import type { Context } from '../../context.ts'
import type { JobControl } from '../../platform/jobs/job-control.ts'
import { AddressBook } from '../../domain/graph/address-book.ts'
import { domainOf, textKey } from '../../domain/pages/page-key.ts'
import { askForRank } from '../../domain/graph/ask-for-rank.ts'
import { sumAllLinks } from '../../domain/graph/rank-job.ts'
import type { PageOutcome } from '../../domain/pages/crawler.ts'
import {
  type CrawlRow,
  insertCrawlPages,
  manyWaitingPages,
  markCrawlPages,
  markSeeded,
  oneCrawl,
  oneCrawlCount,
  waitAgain,
} from './queries.ts'
import { manyValidators } from '../../domain/graph/content-queries.ts'
import { countWebUse, savePages, waysOn } from '../../domain/graph/save-pages.ts'
import type pg from 'pg'
import { insertNote } from '../../domain/notes/queries.ts'
import { needSite } from '../../domain/sites/need-market.ts'
import { changedPages, manyContents, mostNoted, noteChanges } from './note-changes.ts'
import { WebError } from '../../domain/pages/web-client.ts'

const atOnce = 8
const tries = 3
/** Pages taken from the queue at a time, so that pages near the home page go first. */
const batch = 48
const mostSitemaps = 200
const mostFromSitemaps = 200_000
const mostRedirects = 5
/** Files a crawl does not ask for, since no page can come of them. */
const noPage =
  /\.(jpe?g|png|gif|webp|svg|ico|css|js|mjs|json|woff2?|ttf|mp[34]|webm|zip|gz|tgz|rar|exe|dmg|apk|xlsx?|docx?|pptx?)$/i

/**
 * Crawls the pages of one registrable domain from its home page and sitemaps, nearest first. What was fetched is saved with the queue, so
 * after a pause or a kill it goes on with what is missing.
 */
export async function crawlJob(context: Context, control: JobControl): Promise<object> {
  const { pool } = context
  const crawl = await oneCrawl(pool, control.siteId, Number(control.job.payload.crawlId))
  const book = new AddressBook(crawl.graphId)
  const { domain: ownDomain } = await needSite(pool, crawl.siteId)
  control.clearWarnings()
  if (!crawl.seeded) await seed(context, control, crawl)
  else await waitAgain(pool, crawl.siteId, crawl.id)

  let { done, waiting } = await oneCrawlCount(pool, crawl.siteId, crawl.id)
  while (waiting && done < crawl.mostPages) {
    await control.step(done, Math.min(crawl.mostPages, done + waiting))
    const pages = await manyWaitingPages(pool, crawl.siteId, crawl.id, Math.min(batch, crawl.mostPages - done))
    if (!pages.length) {
      // Only pages are left that asked for a pause.
      await sleep(500, undefined, { signal: control.signal })
      continue
    }
    const validators = new Map(
      (
        await manyValidators(
          pool,
          crawl.graphId,
          pages.map(page => page.url),
        )
      ).map(known => [known.url, known]),
    )
    const queue = new PQueue({ concurrency: atOnce })
    const outcomes = await Promise.all(
      pages.map(page => queue.add(() => context.crawler.page(page.url, control.signal, validators.get(page.url)))),
    )
    const fetched = pages.map((page, i) => ({ ...page, outcome: outcomes[i]! }))
    const changes =
      crawl.domain === ownDomain
        ? changedPages(
            await manyContents(
              pool,
              crawl.graphId,
              pages.map(page => page.url),
            ),
            outcomes.flatMap(outcome => outcome ?? []),
          )
        : []
    const noted = Number(control.progress.noted ?? 0)
    try {
      await save(context, crawl, book, fetched, db =>
        noteChanges(db, crawl.siteId, new Date().toISOString().slice(0, 10), changes, noted),
      )
      control.progress.noted = noted + changes.length
    } catch (error) {
      // A value that the database refuses is one page's: the others are saved without it.
      if (!isBadValue(error)) throw error
      context.log.warn({ err: error, crawlId: crawl.id }, 'pages are saved one by one')
      for (const each of fetched)
        await save(context, crawl, book, [each]).catch(async refusal => {
          if (!isBadValue(refusal)) throw refusal
          control.warn(`A page could not be saved: ${each.outcome.url}`)
          const problem = 'The page holds something that cannot be saved'
          const failed = { ...each.outcome, state: 'failed' as const, problem, facts: null, redirectTo: null }
          await save(context, crawl, book, [
            { ...each, outcome: { ...failed, retryAfterMs: null, contentType: null, etag: null, lastModified: null } },
          ])
        })
    }
    outcomes.forEach((outcome, i) => {
      if (outcome!.state === 'failed' && !isTriedAgain(outcome!, pages[i]!.attempts))
        control.warn(outcome!.problem ?? 'No answer')
    })
    ;({ done, waiting } = await oneCrawlCount(pool, crawl.siteId, crawl.id))
    context.events.publish(crawl.siteId, { type: 'crawls' })
  }
  const noted = Number(control.progress.noted ?? 0)
  if (noted > mostNoted)
    await insertNote(pool, crawl.siteId, {
      day: new Date().toISOString().slice(0, 10),
      text: `${noted - mostNoted} more pages have another title or text than before`,
      touches: {},
    })
  if (noted) context.events.publish(crawl.siteId, { type: 'notes' })
  await sumAllLinks(context, crawl.graphId, control.signal)
  await control.step(done, done)
  if (done) await askForRank(context, crawl.graphId)
  context.events.publish(crawl.siteId, { type: 'crawls' })
  return { fetched: done, left: waiting }
}

/** Whether PostgreSQL refused a value (class 22): out of range, too long, no text of its encoding. */
const isBadValue = (error: unknown): boolean => /^22/.test(String((error as { code?: unknown }).code ?? ''))

const isTriedAgain = (outcome: PageOutcome, attempts: number): boolean =>
  outcome.retryAfterMs !== null && attempts + 1 < tries

async function save(
  context: Context,
  crawl: CrawlRow,
  book: AddressBook,
  fetched: ReadonlyArray<{ depth: number; attempts: number; outcome: PageOutcome }>,
  also: (db: pg.PoolClient) => Promise<void> = async () => undefined,
): Promise<void> {
  const next = new Map<string, number>()
  for (const { depth, outcome } of fetched)
    if (depth < crawl.mostDepth)
      for (const url of waysOn(outcome)) if (isOfCrawl(crawl, url) && !next.has(url)) next.set(url, depth + 1)
  await savePages(
    context.pool,
    crawl.graphId,
    book,
    fetched.map(each => each.outcome),
    new Date(),
    async db => {
      await also(db)
      await countWebUse(
        db,
        fetched.map(each => each.outcome),
      )
      await addPages(db, crawl, [...next])
      await markCrawlPages(
        db,
        crawl.siteId,
        crawl.id,
        fetched.map(({ outcome, attempts }) => {
          const again = isTriedAgain(outcome, attempts)
          return {
            key: textKey(outcome.url),
            state: again ? 'waiting' : outcome.state,
            problem: outcome.problem,
            waitMs: again ? outcome.retryAfterMs! * (attempts + 1) : null,
          }
        }),
      )
    },
  )
}

const isOfCrawl = (crawl: CrawlRow, url: string): boolean =>
  domainOf(url) === crawl.domain && !noPage.test(new URL(url).pathname)

const addPages = (
  db: Parameters<typeof insertCrawlPages>[0],
  crawl: CrawlRow,
  pages: Array<[url: string, depth: number]>,
): Promise<void> =>
  insertCrawlPages(
    db,
    crawl.siteId,
    crawl.id,
    pages.map(([url, depth]) => ({ url, key: textKey(url), host: new URL(url).host, depth })),
  )

/** Finds where the site lives (its home page may send on to another host or scheme), then puts home page and sitemaps into the queue. */
async function seed(context: Context, control: JobControl, crawl: CrawlRow): Promise<void> {
  const { crawler, pool } = context
  let home = `https://${crawl.domain}/`
  let outcome = await crawler.page(home, control.signal)
  if (outcome.state === 'failed' && outcome.status === null) {
    home = `http://${crawl.domain}/`
    outcome = await crawler.page(home, control.signal)
  }
  for (let step = 0; outcome.redirectTo && step < mostRedirects; step++) {
    if (!isOfCrawl(crawl, outcome.redirectTo)) break
    home = outcome.redirectTo
    outcome = await crawler.page(home, control.signal)
  }
  const found = new Map<string, number>([[home, 0]])
  const rules = await crawler.rules(home)
  const files = rules.sitemaps.length ? [...rules.sitemaps] : [new URL('/sitemap.xml', home).href]
  const fetched = new Set<string>()
  for (let url = files.shift(); url !== undefined && fetched.size < mostSitemaps; url = files.shift()) {
    if (fetched.has(url)) continue
    fetched.add(url)
    try {
      const sitemap = await crawler.sitemap(url, control.signal)
      if (!sitemap) continue
      const { pages, parts } = sitemap
      files.push(...parts)
      for (const page of pages)
        if (found.size < mostFromSitemaps && isOfCrawl(crawl, page) && !found.has(page)) found.set(page, 1)
    } catch (error) {
      control.signal.throwIfAborted()
      control.warn(`A sitemap could not be read: ${error instanceof WebError ? error.message : url}`)
    }
  }
  await addPages(pool, crawl, [...found])
  await markSeeded(pool, crawl.siteId, crawl.id)
}
