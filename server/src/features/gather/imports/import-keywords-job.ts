import { Readable } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import { normalForm } from '@dew-trail/core/words/normal-form'
import type pg from 'pg'
import { from as copyFrom } from 'pg-copy-streams'
import type { Context } from '../../../context.ts'
import { inTransaction, openPool } from '../../../platform/db/pool.ts'
import { bufferOf } from '../../../platform/files/read-file.ts'
import { settleMatches } from '../../../domain/keywords/match-totals.ts'
import { prepareRows } from '../../../domain/keyword-rows/prepare-rows.ts'
import type { JobControl } from '../../../platform/jobs/job-control.ts'
import { needMarket } from '../../../domain/sites/need-market.ts'
import { lockSite, reserveKeywordIds } from '../../../domain/sites/queries.ts'
import { copyField } from './copy-line.ts'
import { type Merged, mergeKeywords } from './merge-keywords.ts'
import {
  importSettings,
  makeKeywordStage,
  type Settled,
  settledTable,
  settleKeywordStage,
} from '../../../domain/imports/queries.ts'
import { openImport } from '../../../domain/imports/open-import.ts'
import { copyPlainLines } from './plain-lines.ts'
import { mostCounted, readCompetition, readNumber } from '../../../domain/imports/read-cells.ts'

const longestPhrase = 200
/** Figures that the database reads as they stand, which is nearly all of a file that a program wrote. */
const plainFigures = { searches: /^\d{1,9}$/, cpc: /^\d{1,9}(\.\d{1,9})?$/, competition: /^0(\.\d{1,9})?$/ }
/** Competition may be a share or a percentage. */
const mostOf = { searches: mostCounted, cpc: 1_000_000, competition: 1 }
/** From how many rows on the table is made ready before it is opened. */
const manyRows = 2_000

/** Reads a file of keywords line by line into a staging table by COPY and merges it in one transaction: all of it or nothing. Wrong lines are listed. */
export async function importKeywordsJob(context: Context, control: JobControl): Promise<object> {
  const { siteId } = control
  const { payload } = control.job
  const file = await openImport(context, control)
  const { row, mapping, bytes: bytesInAll } = file
  const market = await needMarket(context.pool, siteId, Number(payload.marketId))
  let lines = 0
  const columns = (['searches', 'cpc', 'competition'] as const).map(field => ({
    field,
    label: field === 'cpc' ? 'CPC' : field,
    at: mapping[field],
    plain: plainFigures[field],
    most: mostOf[field],
  }))
  const plainColumns = {
    phrase: mapping.phrase!,
    figures: columns.map(({ field, at }) => ({ at, fraction: field !== 'searches', share: field === 'competition' })),
  }
  const decoder = new TextDecoder(row.encoding)
  async function* copyLines(): AsyncGenerator<Buffer | string> {
    for await (const part of file.parts(true)) {
      if (part.kind === 'rows') yield rowsOf(part.rows, part.lines)
      else {
        const { separator } = row
        const found = copyPlainLines(
          bufferOf(part.bytes),
          part.firstLine,
          separator.charCodeAt(0),
          plainColumns,
          longestPhrase,
        )
        lines += found.lines - found.blank - found.odd.length
        yield found.rows
        yield found.odd.map(({ text, line }) => rowsOf([decoder.decode(text).split(separator)], [line])).join('')
      }
      await control.step(Math.min(part.byte, bytesInAll) / 2, bytesInAll)
    }
  }
  /** Rows of cells as rows for COPY, without the wrong ones, which are listed. */
  const rowsOf = (rows: string[][], numbers: number[]): string => {
    let out = ''
    for (let i = 0; i < rows.length; i++) {
      const cells = rows[i]!
      if (cells.length === 1 && cells[0]!.trim() === '') continue
      lines++
      const line = numbers[i]!
      const text = cells[mapping.phrase!] ?? ''
      const phrase = normalForm(text)
      if (!phrase) file.say(line, 'The keyword is empty', text)
      else if (phrase.length > longestPhrase) file.say(line, `The keyword has over ${longestPhrase} characters`, phrase)
      else out += toCopyLine(line, phrase, cells)
    }
    return out
  }
  /** A row for the staging table, or nothing when a figure is wrong, which is then listed. */
  const toCopyLine = (line: number, phrase: string, cells: string[]): string => {
    let out = `${line}\t${copyField(phrase)}`
    for (const { field, label, at, plain, most } of columns) {
      const text = at === undefined ? '' : (cells[at] ?? '')
      if (plain.test(text)) {
        out += `\t${text}`
        continue
      }
      const cell = field === 'competition' ? readCompetition(text) : readNumber(text, field === 'searches', 0, most)
      if ('wrong' in cell) {
        file.say(line, `${label} ${cell.wrong}`, text)
        return ''
      }
      out += `\t${copyField(cell.value)}`
    }
    return `${out}\n`
  }

  const startedMs = performance.now()
  let stagedMs = startedMs
  // Connections of its own: it needs three at a time, and several imports must not wait for each other's.
  const pool = openPool(context.config.DATABASE_URL, 3, importSettings)
  const from = settledTable(row.siteId, row.id)
  const merge = (keeper: pg.PoolClient, settled: Settled): Promise<Merged> => {
    const { language, place } = market
    const { IMPORT_ANEW_FROM: anewFrom } = context.config
    const input = { siteId, language, place, keep: payload.keep === true, importId: row.id, anewFrom }
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
          const stage = await makeKeywordStage(client, row.siteId, row.id)
          const staging = client.query(copyFrom(`copy ${stage} from stdin`))
          await pipeline(Readable.from(copyLines()), staging)
          stagedMs = performance.now()
          await lockSite(keeper, siteId)
          // In a transaction of its own: what a sequence gave out stays so, and other imports need not wait for this one.
          const lastId = await inTransaction(context.pool, db => reserveKeywordIds(db, row.siteId, staging.rowCount))
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
  await settleMatches(context, siteId, market)
  if (merged.total > manyRows) prepareRows(context, siteId, market.id)
  context.events.publish(siteId, { type: 'keywords' })
  await control.step(bytesInAll, bytesInAll)
  await file.finish(lines)
  const seconds = { staging: (stagedMs - startedMs) / 1000, merging: (mergedMs - stagedMs) / 1000 }
  return { importId: row.id, lines, wrong: file.wrong, ...merged, seconds }
}
