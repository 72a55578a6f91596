import { rm, stat } from 'node:fs/promises'
import { Readable } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import { AppError } from '@dew-trail/contract/errors'
import { normalForm } from '@dew-trail/core/words/normal-form'
import type pg from 'pg'
import { from as copyFrom } from 'pg-copy-streams'
import type { Context } from '../context.ts'
import { inTransaction, openPool } from '../db/pool.ts'
import { prepareRows } from '../gather/prepare-rows.ts'
import type { JobControl } from '../jobs/job-control.ts'
import { needMarket } from '../sites/need-market.ts'
import { lockSite, reserveKeywordIds } from '../sites/queries.ts'
import { copyField } from './copy-line.ts'
import { type Merged, mergeKeywords } from './merge-keywords.ts'
import {
  clearErrors,
  importSettings,
  insertErrors,
  makeKeywordStage,
  maybeImport,
  type Settled,
  settledTable,
  settleKeywordStage,
} from './queries.ts'
import { copyPlainLines, type FilePlace, plainParts } from './plain-lines.ts'
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
  if (!row) throw new AppError('notFound', 'The uploaded file is no longer there; upload it again')
  const market = await needMarket(context.pool, siteId, Number(payload.marketId))
  const mapping = payload.mapping as Record<string, number>
  await clearErrors(context.pool, row.id)
  const bytesInAll = await stat(row.filePath).then(
    info => info.size,
    () => {
      throw new AppError('notFound', 'The uploaded file is no longer there; upload it again')
    },
  )
  const errors: Array<{ line: number; what: string; value: string }> = []
  let lines = 0
  let wrong = 0

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

  const decoder = new TextDecoder(row.encoding)
  /** Plain rows of the file for COPY. Returns where a reader of quotes has to go on, or null at the end. */
  async function* plainRows(): AsyncGenerator<Buffer | string, FilePlace | null> {
    const plain = {
      phrase: mapping.phrase!,
      figures: columns.map(({ field, at }) => ({ at, fraction: field !== 'searches', share: field === 'competition' })),
    }
    const parts = plainParts(row!.filePath)
    let line = 1
    for (;;) {
      const { value, done } = await parts.next()
      if (done) return value === null ? null : { byte: value, line }
      // The first line of the file names the columns.
      const bytes = line === 1 ? value.bytes.subarray(value.bytes.indexOf(10) + 1) : value.bytes
      if (line === 1) line = 2
      const part = copyPlainLines(bytes, line, row!.separator.charCodeAt(0), plain, longestPhrase)
      line += part.lines
      lines += part.lines - part.blank - part.odd.length
      let out = ''
      for (const odd of part.odd) out += rowsOf([decoder.decode(odd.text).split(row!.separator)], odd.line)
      await control.step(Math.min(value.byte, bytesInAll) / 2, bytesInAll)
      if (part.rows.length) yield part.rows
      if (out) yield out
    }
  }
  async function* copyLines(): AsyncGenerator<Buffer | string> {
    const from = /^(utf-8|windows-1252)$/.test(row!.encoding) ? yield* plainRows() : { byte: 0, line: 1 }
    if (!from) return
    let readBytes = from.byte
    for await (const { firstLine, rows, bytes } of readRows(row!.filePath, row!.encoding, row!.separator, from)) {
      readBytes += bytes
      const out = rowsOf(rows, firstLine)
      await control.step(Math.min(readBytes, bytesInAll) / 2, bytesInAll)
      if (out) yield out
    }
  }
  /** Rows of cells as rows for COPY, without the wrong ones, which are listed. */
  const rowsOf = (rows: string[][], firstLine: number): string => {
    let out = ''
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
    return out
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
  // Connections of its own: it needs three at a time, and several imports must not wait for each other's.
  const pool = openPool(context.config.DATABASE_URL, 3, importSettings)
  const from = settledTable(row.id)
  const merge = (keeper: pg.PoolClient, settled: Settled): Promise<Merged> => {
    const { language, place } = market
    const input = { siteId, language, place, keep: payload.keep === true, anewFrom: context.config.IMPORT_ANEW_FROM }
    return mergeKeywords(pool, keeper, { ...input, from, settled }, share =>
      control.step(Math.round((bytesInAll * (1 + share)) / 2), bytesInAll),
    )
  }
  const merged = await (async () => {
    try {
      // What a run that was killed has left.
      await pool.query(`drop table if exists ${from}`)
      return await inTransaction(pool, async keeper => {
        const settled = await inTransaction(pool, async client => {
          const stage = await makeKeywordStage(client, row.id)
          const staging = client.query(copyFrom(`copy ${stage} from stdin`))
          await pipeline(Readable.from(copyLines()), staging)
          stagedMs = performance.now()
          await lockSite(keeper, siteId)
          // In a transaction of its own: what a sequence gave out stays so, and other imports need not wait for this one.
          const lastId = await inTransaction(context.pool, db => reserveKeywordIds(db, staging.rowCount))
          const firstId = lastId - staging.rowCount + 1
          return settleKeywordStage(client, { stage, settled: from, firstId, siteId, language: market.language })
        })
        return merge(keeper, settled)
      })
    } finally {
      await pool.query(`drop table if exists ${from}`)
      await pool.end()
    }
  })()
  const mergedMs = performance.now()
  if (merged.total > manyRows) prepareRows(context, siteId, market.id)
  await insertErrors(context.pool, row.id, errors)
  context.events.publish(siteId, { type: 'keywords' })
  await control.step(bytesInAll, bytesInAll)
  // Kept until here, so that an import that fails can be tried again.
  await rm(row.filePath, { force: true })
  const seconds = { staging: (stagedMs - startedMs) / 1000, merging: (mergedMs - stagedMs) / 1000 }
  return { importId: row.id, lines, wrong, ...merged, seconds }
}
