import { rm, stat } from 'node:fs/promises'
import { Readable } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import { AppError } from '@dew-trail/contract/errors'
import { normalForm } from '@dew-trail/core/words/normal-form'
import { from as copyFrom } from 'pg-copy-streams'
import type { Context } from '../context.ts'
import { inTransaction } from '../db/pool.ts'
import { prepareRows } from '../gather/prepare-rows.ts'
import type { JobControl } from '../jobs/job-control.ts'
import { needMarket } from '../sites/need-market.ts'
import { lockSite } from '../sites/queries.ts'
import { addKeywords } from './add-keywords.ts'
import { copyField } from './copy-line.ts'
import {
  clearErrors,
  insertErrors,
  makeKeywordStage,
  maybeImport,
  saveStagedDemand,
  settleKeywordStage,
  touchStaged,
} from './queries.ts'
import { readNumber } from './read-cells.ts'
import { readRows } from './read-table.ts'

const mostErrors = 10_000
const longestPhrase = 200
/** Figures that the database reads as they stand, which is nearly all of a file that a program wrote. */
const plainFigures = { searches: /^\d{1,9}$/, cpc: /^\d{1,9}(\.\d{1,9})?$/, competition: /^0(\.\d{1,9})?$/ }
/** From how many rows on the table is made ready before it is opened. */
const manyRows = 2_000

/** Reads a file of keywords line by line into a staging table by COPY and merges it in one transaction: all of it or nothing. Wrong lines are listed. */
export async function importKeywordsJob(context: Context, control: JobControl): Promise<object> {
  const { siteId, payload } = control.job
  const row = await maybeImport(context.pool, siteId, Number(payload.importId))
  if (!row?.mapping) throw new AppError('notFound', 'The uploaded file is no longer there; upload it again')
  const market = await needMarket(context.pool, siteId, Number(payload.marketId))
  const { mapping } = row
  await clearErrors(context.pool, row.id)
  const bytes = await stat(row.filePath).then(
    info => info.size,
    () => {
      throw new AppError('notFound', 'The uploaded file is no longer there; upload it again')
    },
  )
  const errors: Array<{ line: number; what: string; value: string }> = []
  let lines = 0
  let wrong = 0
  let readBytes = 0

  const say = (line: number, what: string, value: string): void => {
    wrong++
    if (errors.length < mostErrors) errors.push({ line, what, value: value.slice(0, 200) })
  }
  const columns = (['searches', 'cpc', 'competition'] as const).map(field => ({
    field,
    label: field === 'cpc' ? 'CPC' : field,
    at: mapping[field],
    plain: plainFigures[field],
  }))

  async function* copyLines(): AsyncGenerator<string> {
    for await (const { firstLine, rows, bytes: partBytes } of readRows(row!.filePath, row!.encoding, row!.separator)) {
      let out = ''
      readBytes += partBytes
      for (let i = 0; i < rows.length; i++) {
        const cells = rows[i]!
        if (cells.length === 1 && cells[0]!.trim() === '') continue
        lines++
        const line = firstLine + i
        const text = cells[mapping.phrase!] ?? ''
        const phrase = normalForm(text)
        if (!phrase) say(line, 'The keyword is empty', text)
        else if (phrase.length > longestPhrase) say(line, `The keyword has over ${longestPhrase} characters`, phrase)
        else if (phrase.includes('\u0000')) say(line, 'The keyword has a character that cannot be stored', phrase)
        else out += toCopyLine(line, phrase, cells)
      }
      await control.step(Math.min(readBytes, bytes) / 2, bytes)
      if (out) yield out
    }
  }
  /** A row for the staging table, or nothing when a figure is wrong, which is then listed. */
  const toCopyLine = (line: number, phrase: string, cells: string[]): string => {
    let out = `${line}\t${copyField(phrase)}`
    for (const { field, label, at, plain } of columns) {
      const text = at === undefined ? '' : (cells[at] ?? '')
      if (plain.test(text)) {
        out += `\t${text}`
        continue
      }
      const cell = readNumber(text, field === 'searches')
      if ('wrong' in cell || (cell.value !== null && cell.value < 0)) {
        say(line, `${label} ${'wrong' in cell ? cell.wrong : 'is below 0'}`, text)
        return ''
      }
      const { value } = cell
      // Competition as a percentage.
      out += `\t${copyField(field === 'competition' && value !== null && value > 1 ? value / 100 : value)}`
    }
    return `${out}\n`
  }

  const startedMs = performance.now()
  let stagedMs = startedMs
  const merged = await inTransaction(context.pool, async client => {
    await makeKeywordStage(client)
    await pipeline(Readable.from(copyLines()), client.query(copyFrom('copy keyword_stage from stdin')))
    stagedMs = performance.now()
    await lockSite(client, siteId)
    await settleKeywordStage(client, siteId, market.language)
    const keep = payload.keep === true
    const changed = await touchStaged(client, siteId, keep)
    const added = await addKeywords(client, { siteId, language: market.language, keep }, written =>
      control.step(Math.min(bytes, bytes / 2 + written * 20), bytes),
    )
    const withDemand = await saveStagedDemand(client, siteId, market.place)
    return { added, total: changed + added, withDemand }
  })
  const mergedMs = performance.now()
  if (merged.total > manyRows) prepareRows(context, siteId, market.id)
  await insertErrors(context.pool, row.id, errors)
  context.events.publish(siteId, { type: 'keywords' })
  await control.step(bytes, bytes)
  // Kept until here, so that an import that fails can be tried again.
  await rm(row.filePath, { force: true })
  const seconds = { staging: (stagedMs - startedMs) / 1000, merging: (mergedMs - stagedMs) / 1000 }
  return { importId: row.id, lines, wrong, ...merged, seconds }
}
