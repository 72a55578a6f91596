import { createReadStream } from 'node:fs'
import { open, rm, stat } from 'node:fs/promises'
import { AppError } from '@dew-trail/contract/errors'
import { pageAddress } from '@dew-trail/core/links/page-address'
import { WARCParser, type WARCRecord } from 'warcio'
import type { Context } from '../context.ts'
import type { PageOutcome } from '../crawl/crawler.ts'
import { manyFetchTimes } from '../crawl/queries.ts'
import { savePages } from '../crawl/save-pages.ts'
import type { JobControl } from '../jobs/job-control.ts'
import { AddressBook } from '../links/address-book.ts'
import { askForRank } from '../links/ask-for-rank.ts'
import { sumAllLinks } from '../links/rank-job.ts'

const graphId = 1
const pagesAtATime = 50
const html = /^(text\/html|application\/xhtml\+xml)/i

/** Refuses a file that does not begin like an archive: "WARC/", or gzip. */
export async function needArchive(filePath: string): Promise<void> {
  const file = await open(filePath)
  try {
    const { buffer, bytesRead } = await file.read(Buffer.alloc(5), 0, 5, 0)
    const isGzip = buffer[0] === 0x1f && buffer[1] === 0x8b
    if (!isGzip && buffer.subarray(0, bytesRead).toString('latin1') !== 'WARC/')
      throw new AppError('badInput', 'This is no WARC archive: it begins neither with "WARC/" nor as a gzip file')
  } finally {
    await file.close()
  }
}

/** A record as a fetch of the moment it was made; `null` for what is no answer of a web server. */
async function toOutcome(context: Context, record: WARCRecord): Promise<{ at: Date; outcome: PageOutcome } | null> {
  if (record.warcType !== 'response' || !record.warcTargetURI) return null
  const url = pageAddress(record.warcTargetURI)
  const at = new Date(record.warcDate ?? '')
  const status = Number(record.httpHeaders?.statusCode)
  if (!url || Number.isNaN(at.getTime()) || !status) return null
  const header = (name: string): string | null => record.httpHeaders?.headers.get(name) ?? null
  const contentType = header('content-type')
  const location = status >= 300 && status < 400 ? header('location') : null
  const body = await record.readFully(true)
  const facts =
    status === 200 && html.test(contentType ?? '')
      ? await context.crawler.read(Buffer.from(body), contentType ?? '', url)
      : null
  return {
    at,
    outcome: {
      url,
      state: 'fetched',
      status,
      trouble: null,
      redirectTo: location === null ? null : pageAddress(location, url),
      contentType,
      etag: header('etag'),
      lastModified: header('last-modified'),
      unchanged: false,
      retryAfterMs: null,
      facts,
    },
  }
}

/**
 * Reads the pages of a WARC archive (ISO 28500) as if they had been fetched when the archive was made, record by record. A page that was
 * read since is left as it is.
 */
export async function importPagesJob(context: Context, control: JobControl): Promise<object> {
  const filePath = String(control.job.payload.filePath)
  const size = await stat(filePath).then(
    info => info.size,
    () => {
      throw new AppError('notFound', 'The uploaded file is no longer there; upload it again')
    },
  )
  const book = new AddressBook(graphId)
  const counts = { pages: 0, older: 0, other: 0 }
  let batch: Array<{ at: Date; outcome: PageOutcome }> = []
  const save = async (): Promise<void> => {
    const known = await manyFetchTimes(
      context.pool,
      graphId,
      batch.map(({ outcome }) => outcome.url),
    )
    // Pages of one archive were fetched at different moments; those of one second go together.
    const byMoment = new Map<number, PageOutcome[]>()
    for (const { at, outcome } of batch) {
      const newest = known.get(outcome.url)
      if (newest && newest >= at) counts.older++
      else {
        const list = byMoment.get(at.getTime()) ?? []
        byMoment.set(at.getTime(), [...list.filter(each => each.url !== outcome.url), outcome])
        counts.pages++
      }
    }
    for (const [at, outcomes] of [...byMoment].sort((a, b) => a[0] - b[0]))
      await savePages(context.pool, graphId, book, outcomes, new Date(at))
    batch = []
  }
  const stream = createReadStream(filePath)
  const records = new WARCParser(stream)[Symbol.asyncIterator]()
  for (;;) {
    let found: Awaited<ReturnType<typeof toOutcome>>
    try {
      const next = await records.next()
      if (next.done) break
      found = await toOutcome(context, next.value)
    } catch (error) {
      // What was read up to here is kept.
      control.note(`The archive breaks off or is spoilt: ${(error as Error).message}`)
      break
    }
    if (!found) {
      counts.other++
      continue
    }
    batch.push(found)
    if (batch.length >= pagesAtATime) await save()
    await control.step(Math.min(stream.bytesRead, size) * 0.95, size)
  }
  await save()
  if (!counts.pages && !counts.older) control.note('There is no page of the web in the archive')
  await sumAllLinks(context, graphId, control.signal)
  if (counts.pages) await askForRank(context, control.job.siteId)
  await rm(filePath, { force: true })
  await control.step(size, size)
  context.events.publish(control.job.siteId, { type: 'crawls' })
  return counts
}
