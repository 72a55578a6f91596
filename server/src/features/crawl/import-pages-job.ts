import { stat } from 'node:fs/promises'
import { firstDay } from '@dew-trail/contract/common'
import { AppError } from '@dew-trail/contract/errors'
import { pageAddress } from '@dew-trail/core/links/page-address'
import type { Context } from '../../context.ts'
import type { PageOutcome } from '../../domain/pages/crawler.ts'
import { manyFetchTimes } from '../../domain/graph/content-queries.ts'
import { savePages } from '../../domain/graph/save-pages.ts'
import { fileBounds } from '../../platform/files/file-bounds.ts'
import { bufferOf, readFileParts } from '../../platform/files/read-file.ts'
import type { ArchivePart, ArchiveRecord } from '../../platform/files/read-archive.ts'
import { headOf, isGzip } from '../../platform/files/unpacked.ts'
import type { JobControl } from '../../platform/jobs/job-control.ts'
import { AddressBook } from '../../domain/graph/address-book.ts'
import { askForRank } from '../../domain/graph/ask-for-rank.ts'
import { sumAllLinks } from '../../domain/graph/rank-job.ts'
import { clearErrors, insertErrors, maybeImport, noteBrought } from '../../domain/imports/queries.ts'
import { keepPagesBefore, noteWritten } from './take-back-pages.ts'
import { fetchUpload, removeUpload } from '../../domain/imports/uploads.ts'

const graphId = 1
const pagesAtATime = 50
/** How many records that cannot be read are named one by one. */
const mostNotes = 20
const mostErrors = 10_000
const html = /^(text\/html|application\/xhtml\+xml)/i

/** Refuses a file that does not begin like an archive: "WARC/", or gzip. */
export async function needArchive(filePath: string): Promise<void> {
  const head = await headOf(filePath, 5)
  if (!isGzip(head) && head.toString('latin1') !== 'WARC/')
    throw new AppError('badInput', 'This is no WARC archive: it begins neither with "WARC/" nor as a gzip file')
}

/** A record as a fetch of the moment it was made; `null` for what is no page of the web, or of no moment that can be. */
async function toOutcome(context: Context, record: ArchiveRecord): Promise<{ at: Date; outcome: PageOutcome } | null> {
  const url = pageAddress(record.url)
  const at = new Date(record.date)
  const { status, headers } = record
  if (!url || !isPast(at)) return null
  const contentType = headers['content-type'] ?? null
  const location = status >= 300 && status < 400 ? headers.location : undefined
  const facts =
    status === 200 && html.test(contentType ?? '')
      ? await context.crawler.read(bufferOf(record.body), contentType ?? '', url)
      : null
  return {
    at,
    outcome: {
      url,
      state: 'fetched',
      status,
      problem: null,
      redirectTo: location === undefined ? null : pageAddress(location, url),
      contentType,
      etag: headers.etag ?? null,
      lastModified: headers['last-modified'] ?? null,
      unchanged: false,
      retryAfterMs: null,
      facts,
    },
  }
}

/** Whether a page can have been fetched then: an archive that says otherwise would stand before all that is fetched later. */
const isPast = (at: Date): boolean => at >= new Date(firstDay) && at <= new Date(Date.now() + 86_400_000)

/** Parts of an archive; a bound that is passed ends them with a problem, so that what was read up to there is kept. */
async function* archiveParts(context: Context, control: JobControl, path: string): AsyncGenerator<ArchivePart> {
  let number = 0
  try {
    for await (const part of readFileParts('archive', { path }, fileBounds(context.config), control.signal)) {
      number = part.kind === 'answer' ? part.record.number : part.kind === 'problem' ? part.number : number + 1
      yield part
    }
  } catch (error) {
    if (!(error instanceof AppError) || error.code !== 'tooLarge') throw error
    yield { kind: 'problem', number: number + 1, what: error.message, ends: true, byte: 0 }
  }
}

/**
 * Reads the pages of a WARC archive (ISO 28500) as if they had been fetched when the archive was made, record by record. A page that was
 * read since is left as it is.
 */
export async function importPagesJob(context: Context, control: JobControl): Promise<object> {
  const filePath = await fetchUpload(context, String(control.job.payload.filePath))
  if (!filePath) throw new AppError('notFound', 'The uploaded file is no longer there; upload it again')
  const { size } = await stat(filePath)
  const of = { siteId: control.siteId, importId: Number(control.job.payload.importId) }
  const known = await maybeImport(context.pool, of.siteId, of.importId)
  if (known?.takenBack) throw new AppError('conflict', 'This import was taken back; upload the file again')
  await noteBrought(context.pool, of.siteId, of.importId, {})
  await clearErrors(context.pool, of.siteId, of.importId)
  const errors: Array<{ line: number; what: string; value: string }> = []
  const book = new AddressBook(graphId)
  const counts = { pages: 0, older: 0, other: 0, spoilt: 0 }
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
    const written = [...byMoment.values()].flat().map(outcome => outcome.url)
    if (written.length) await keepPagesBefore(context.pool, of, written)
    for (const [at, outcomes] of [...byMoment].sort((a, b) => a[0] - b[0])) {
      const urls = outcomes.map(outcome => outcome.url)
      await savePages(context.pool, graphId, book, outcomes, new Date(at), db =>
        noteWritten(db, of, urls, new Date(at)),
      )
    }
    batch = []
  }
  for await (const part of archiveParts(context, control, filePath)) {
    if (part.kind === 'problem') {
      // What was read up to here is kept.
      counts.spoilt++
      errors.push({ line: part.number, what: part.what, value: '' })
      if (counts.spoilt <= mostNotes) control.warn(`Record ${part.number}: ${part.what}`)
    } else if (part.kind === 'other') counts.other++
    else {
      const found = await toOutcome(context, part.record).catch((error: Error) => {
        control.signal.throwIfAborted()
        counts.spoilt++
        errors.push({ line: part.record.number, what: error.message, value: part.record.url.slice(0, 200) })
        if (counts.spoilt <= mostNotes) control.warn(`Record ${part.record.number}: ${error.message}`)
        return undefined
      })
      if (found) batch.push(found)
      else if (found === null) counts.other++
    }
    if (batch.length >= pagesAtATime) await save()
    await control.step(Math.min(part.byte, size) * 0.95, size)
  }
  await save()
  if (counts.spoilt > mostNotes) control.warn(`Records that cannot be read: ${counts.spoilt}`)
  if (!counts.pages && !counts.older) control.warn('There is no page of the web in the archive')
  await sumAllLinks(context, graphId, control.signal)
  if (counts.pages) await askForRank(context)
  await insertErrors(context.pool, of.siteId, of.importId, errors.slice(0, mostErrors))
  await removeUpload(context.pool, filePath)
  await control.step(size, size)
  context.events.publish(control.siteId, { type: 'crawls' })
  return counts
}
