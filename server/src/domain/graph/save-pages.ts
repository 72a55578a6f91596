import type pg from 'pg'
import { identityOfAddress } from '@dew-trail/core/web/page-identity'
import { relBits, relCode, seenByBits } from '@dew-trail/core/links/link-codes'
import type { AddressBook } from './address-book.ts'
import { domainOf } from '../pages/page-key.ts'
import { type Db, inTransaction } from '../../platform/db/pool.ts'
import { lockGraph } from './queries.ts'
import type { FoundLink } from './link-lines.ts'
import { saveLinks } from './save-links.ts'
import { addSourceUse } from '../../sources/queries.ts'
import type { PageOutcome } from '../pages/crawler.ts'
import { markGoneLinks, noteError, touchUnchanged, upsertContents } from './content-queries.ts'

const forbidsFollowing = (robots: readonly string[]): boolean => robots.includes('nofollow') || robots.includes('none')

/** The links of a fetched page as they are kept: a page that forbids following gives each of them "nofollow". */
export function linksOf(outcome: PageOutcome, day: string): FoundLink[] {
  const seen = { firstSeen: day, lastSeen: day, goneOn: null }
  const page = identityOfAddress(outcome.url)
  if (outcome.redirectTo && identityOfAddress(outcome.redirectTo) === page) return []
  if (outcome.redirectTo)
    return [
      {
        source: outcome.url,
        target: outcome.redirectTo,
        anchor: '',
        rel: 0,
        kind: 'redirect',
        region: null,
        linkedAround: null,
        around: null,
        ...seen,
      },
    ]
  if (!outcome.facts) return []
  const nofollow = forbidsFollowing(outcome.facts.robots) ? relBits.nofollow : 0
  return outcome.facts.links
    .filter(link => identityOfAddress(link.url) !== page)
    .map(link => ({
      source: outcome.url,
      target: link.url,
      anchor: link.anchor,
      rel: relCode(link.rel) || nofollow,
      kind: link.kind,
      region: link.region,
      linkedAround: link.linkedAround,
      around: link.around,
      ...seen,
    }))
}

/** Addresses a crawl may go on to from a page. */
export function waysOn(outcome: PageOutcome): string[] {
  if (outcome.redirectTo) return [outcome.redirectTo]
  if (!outcome.facts || forbidsFollowing(outcome.facts.robots)) return []
  const found = new Set<string>()
  for (const link of outcome.facts.links) if (relCode(link.rel) === 0) found.add(link.url)
  if (outcome.facts.refresh) found.add(outcome.facts.refresh)
  for (const each of outcome.facts.alternates) found.add(each.url)
  if (outcome.facts.canonical) found.add(outcome.facts.canonical)
  return [...found]
}

type Outcomes = readonly PageOutcome[]
/**
 * What is to be noted of the pages that were asked, each once: of its addresses the one that gave the page, else the one that answered.
 * An address that only leads to another one of the same page (`http` to `https`) says nothing of it.
 */
export function onePerPage(outcomes: Outcomes): Record<'answered' | 'unchanged' | 'failed', PageOutcome[]> {
  const worth = ({ state, status, unchanged }: PageOutcome): number =>
    state !== 'fetched' ? 0 : status === 200 || unchanged ? 2 : 1
  const best = new Map<string, PageOutcome>()
  for (const outcome of outcomes) {
    const page = identityOfAddress(outcome.url)
    if (outcome.redirectTo && identityOfAddress(outcome.redirectTo) === page) continue
    const before = best.get(page)
    if (!before || worth(outcome) >= worth(before)) best.set(page, outcome)
  }
  const pages = [...best.values()]
  return {
    answered: pages.filter(({ state, unchanged }) => state === 'fetched' && !unchanged),
    unchanged: pages.filter(({ unchanged }) => unchanged),
    failed: pages.filter(({ state }) => state === 'failed'),
  }
}

/** Saves what fetches at a moment brought, and with it whatever else belongs to the same step, in one transaction. */
export async function savePages(
  pool: pg.Pool,
  graphId: number,
  book: AddressBook,
  outcomes: readonly PageOutcome[],
  at: Date,
  also: (db: pg.PoolClient) => Promise<void> = async () => undefined,
): Promise<void> {
  const day = at.toISOString().slice(0, 10)
  book.forgetIfFull()
  try {
    await inTransaction(pool, async db => {
      await lockGraph(db, graphId)
      const links = outcomes.flatMap(outcome => linksOf(outcome, day))
      await book.learn(
        db,
        outcomes.flatMap(outcome => (outcome.redirectTo ? [outcome.url, outcome.redirectTo] : [outcome.url])),
      )
      await saveLinks(db, graphId, book, seenByBits.crawl, links)
      const { answered, unchanged, failed } = onePerPage(outcomes)
      if (answered.length) {
        await upsertContents(
          db,
          graphId,
          answered.map(outcome => ({
            pageId: book.page(outcome.url),
            status: outcome.status,
            problem: outcome.problem,
            addressId: book.addressId(book.pageAt(outcome.url)) || null,
            redirectTo: outcome.redirectTo === null ? null : book.page(outcome.redirectTo),
            redirectAddressId:
              outcome.redirectTo === null ? null : book.addressId(book.pageAt(outcome.redirectTo)) || null,
            contentType: outcome.contentType,
            etag: outcome.etag,
            lastModified: outcome.lastModified,
            facts: outcome.facts,
            linksInside:
              outcome.facts?.links.filter(link => domainOf(link.url) === domainOf(outcome.url)).length ?? null,
          })),
          at,
        )
        await markGoneLinks(
          db,
          graphId,
          answered.map(outcome => book.page(outcome.url)),
          day,
          links.length > 0,
        )
      }
      if (unchanged.length)
        await touchUnchanged(
          db,
          graphId,
          unchanged.map(outcome => book.page(outcome.url)),
          day,
        )
      if (failed.length)
        await noteError(
          db,
          graphId,
          failed.map(outcome => ({
            pageId: book.page(outcome.url),
            status: outcome.status,
            problem: outcome.problem ?? 'No answer',
          })),
        )
      await also(db)
    })
  } catch (error) {
    book.forget()
    throw error
  }
}

/** Counts what the web was asked for. */
export async function countWebUse(db: Db, outcomes: readonly PageOutcome[]): Promise<void> {
  const failed = outcomes.filter(outcome => outcome.state === 'failed')
  await addSourceUse(db, {
    source: 'web',
    requests: outcomes.filter(outcome => outcome.state !== 'refused').length,
    failures: failed.length,
    limited: outcomes.filter(outcome => outcome.status === 429).length,
    lastFailure: failed.at(-1)?.problem ?? null,
  })
}
