import { relCode } from '@dew-trail/core/links/link-codes'
import { pageAddress } from '@dew-trail/core/links/page-address'
import type { Context } from '../../context.ts'
import { inTransaction } from '../../platform/db/pool.ts'
import type { JobControl } from '../../platform/jobs/job-control.ts'
import { SourceError } from '../../platform/outside/source-error.ts'
import type { FeedLink } from '../../sources/source-replies.ts'
import { AddressBook } from '../../domain/graph/address-book.ts'
import { askForRank } from '../../domain/graph/ask-for-rank.ts'
import { lockGraph, oneFeedBit, updateShares, upsertAddresses } from '../../domain/graph/queries.ts'
import { sumAllLinks } from '../../domain/graph/rank-job.ts'
import type { FoundLink } from '../../domain/graph/link-lines.ts'
import { readPages } from '../../domain/graph/read-pages.ts'
import { manyPagesToRead } from './pages-to-read.ts'
import { saveLinks } from '../../domain/graph/save-links.ts'

const graphId = 1

/** A feed's link as it is kept, `null` when its ends are no addresses. */
function toFound(link: FeedLink): FoundLink | null {
  const source = pageAddress(link.source)
  const target = pageAddress(link.target)
  if (!source || !target) return null
  return {
    source,
    target,
    anchor: link.anchor.replace(/\s+/g, ' ').trim(),
    rel: relCode(link.rel.toLowerCase().split(/\s+/)),
    kind: link.kind,
    region: null,
    linkedAround: null,
    around: null,
    firstSeen: link.first_seen,
    lastSeen: link.last_seen,
    goneOn: link.lost ? link.last_seen : null,
  }
}

function addressesIn(links: readonly FeedLink[], book: AddressBook) {
  return links.flatMap(link => {
    const source = link.source_address && pageAddress(link.source)
    return source && link.last_seen
      ? [
          {
            siteId: book.site(source),
            address: link.source_address!,
            country: link.source_country,
            day: link.last_seen,
          },
        ]
      : []
  })
}
function sharesIn(links: readonly FeedLink[], book: AddressBook): Map<number, number> {
  const shares = new Map<number, number>()
  for (const link of links) {
    // A link whose ends are no addresses was left out of the book as a whole.
    const [source, target] = [pageAddress(link.source), pageAddress(link.target)]
    if (!source || !target) continue
    if (link.source_shares !== null) shares.set(book.page(source), Math.round(link.source_shares))
    if (link.target_shares !== null) shares.set(book.page(target), Math.round(link.target_shares))
  }
  return shares
}

/** Loads what all link feeds know of links to sites. Each site and feed is a step, so that what was loaded is not asked for again. */
export async function feedsJob(context: Context, control: JobControl): Promise<object> {
  const domains = control.job.payload.domains as string[]
  const finished = new Set((control.progress.finished as string[] | undefined) ?? [])
  const book = new AddressBook(graphId)
  control.clearWarnings()
  let links = Number(control.progress.links ?? 0)
  let done = 0
  const wanted = control.job.payload.feeds as string[] | undefined
  const feeds = (await context.sources.feeds(control.signal)).filter(feed => wanted?.includes(feed) ?? true)
  for (const domain of domains)
    for (const feed of feeds) {
      await control.step(done++, domains.length * feeds.length)
      const step = `${feed}:${domain}`
      if (finished.has(step)) continue
      try {
        let cursor: string | null = null
        do {
          const reply: Awaited<ReturnType<typeof context.sources.feedLinks>> = await context.sources.feedLinks(
            feed,
            domain,
            cursor,
            control.signal,
          )
          const found = reply.links.map(toFound).filter(link => link !== null)
          if (found.length < reply.links.length)
            control.warn(`A feed gave a link whose ends are no addresses (${domain})`)
          book.forgetIfFull()
          try {
            await inTransaction(context.pool, async db => {
              await lockGraph(db, graphId)
              await saveLinks(db, graphId, book, await oneFeedBit(db, feed), found)
              await upsertAddresses(db, graphId, addressesIn(reply.links, book))
              await updateShares(db, graphId, sharesIn(reply.links, book))
            })
          } catch (error) {
            book.forget()
            throw error
          }
          links += found.length
          cursor = reply.next_cursor
        } while (cursor)
        finished.add(step)
        Object.assign(control.progress, { finished: [...finished], links })
      } catch (error) {
        if (!(error instanceof SourceError)) throw error
        control.warn(error.message)
        if (error.kind === 'quotaUsed') throw error
      }
    }
  const most = Number(control.job.payload.readPages ?? 0)
  const read = most ? await readBest(context, control, domains, most, done) : null
  await sumAllLinks(context, graphId, control.signal)
  await control.step(control.done, control.done)
  await askForRank(context)
  context.events.publish(control.siteId, { type: 'crawls' })
  return { links, ...read }
}

/** Reads the best linking pages of the sites that were loaded; which ones is kept, so that a job that was stopped goes on with the same. */
async function readBest(context: Context, control: JobControl, domains: string[], most: number, before: number) {
  control.progress.pages ??= await manyPagesToRead(context.pool, domains, most)
  return readPages(context, control, control.progress.pages as string[], before)
}

/** Reads linking pages that somebody has chosen. */
export async function readLinksJob(context: Context, control: JobControl): Promise<object> {
  control.clearWarnings()
  const done = await readPages(context, control, control.job.payload.pages as string[])
  await sumAllLinks(context, graphId, control.signal)
  context.events.publish(control.siteId, { type: 'crawls' })
  return done
}
