import { rm, stat } from 'node:fs/promises'
import { Readable } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import { AppError } from '@dew-trail/contract/errors'
import { normalForm } from '@dew-trail/core/words/normal-form'
import { from as copyFrom } from 'pg-copy-streams'
import type { Context } from '../context.ts'
import { inTransaction } from '../db/pool.ts'
import { describeKeyword } from '../gather/save-ideas.ts'
import type { JobControl } from '../jobs/job-control.ts'
import { needMarket } from '../sites/need-market.ts'
import { analyzeKeywords, lockSite } from '../sites/queries.ts'
import { clearErrors, insertErrors, makeKeywordStage, maybeImport, mergeKeywordStage } from './queries.ts'
import { readNumber } from './read-cells.ts'
import { readRows } from './read-table.ts'

const mostErrors = 10_000
const longestPhrase = 200
/** From how many rows on the database is told at once that the tables have changed. */
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

  async function* copyLines(): AsyncGenerator<string> {
    for await (const { firstLine, rows } of readRows(row!.filePath, row!.encoding, row!.separator)) {
      let out = ''
      rows.forEach((cells, i) => {
        if (cells.length === 1 && cells[0]!.trim() === '') return
        lines++
        for (const cell of cells) readBytes += cell.length + 1
        const say = (what: string, value: string): void => {
          wrong++
          if (errors.length < mostErrors) errors.push({ line: firstLine + i, what, value: value.slice(0, 200) })
        }
        const text = cells[mapping.phrase!] ?? ''
        const phrase = normalForm(text)
        if (!phrase) {
          say('The keyword is empty', text)
          return
        }
        if (phrase.length > longestPhrase) {
          say(`The keyword has over ${longestPhrase} characters`, phrase)
          return
        }
        if (phrase.includes('\u0000')) {
          say('The keyword has a character that cannot be stored', phrase)
          return
        }
        const figures: Array<number | null> = []
        for (const field of ['searches', 'cpc', 'competition'] as const) {
          const column = mapping[field]
          const cell = column === undefined ? { value: null } : readNumber(cells[column] ?? '', field === 'searches')
          if ('wrong' in cell) {
            say(`${field === 'cpc' ? 'CPC' : field} ${cell.wrong}`, cells[column!] ?? '')
            return
          }
          if (cell.value !== null && cell.value < 0) {
            say(`${field === 'cpc' ? 'CPC' : field} is below 0`, cells[column!] ?? '')
            return
          }
          figures.push(field === 'competition' && cell.value !== null && cell.value > 1 ? cell.value / 100 : cell.value)
        }
        const word = describeKeyword(phrase, market.language, false)
        out += `${[firstLine + i, phrase, word.family, word.kind, word.intent, word.intentShare, word.words, ...figures].map(copyField).join('\t')}\n`
      })
      await control.step(Math.min(readBytes, bytes), bytes)
      if (out) yield out
    }
  }

  const merged = await inTransaction(context.pool, async client => {
    await makeKeywordStage(client)
    await pipeline(Readable.from(copyLines()), client.query(copyFrom('copy keyword_stage from stdin')))
    await lockSite(client, siteId)
    return mergeKeywordStage(client, siteId, market.language, market.place, payload.keep === true)
  })
  if (merged.total > manyRows) await analyzeKeywords(context.pool)
  await insertErrors(context.pool, row.id, errors)
  context.events.publish(siteId, { type: 'keywords' })
  await control.step(bytes, bytes)
  // Kept until here, so that an import that fails can be tried again.
  await rm(row.filePath, { force: true })
  return { importId: row.id, lines, wrong, added: merged.added, total: merged.total, withDemand: merged.withDemand }
}

/** A field of PostgreSQL's COPY text format. */
function copyField(value: string | number | null): string {
  if (value === null) return '\\N'
  if (typeof value === 'number') return String(value)
  return value.replace(/[\\\t\n\r]/g, char =>
    char === '\\' ? '\\\\' : char === '\t' ? '\\t' : char === '\n' ? '\\n' : '\\r',
  )
}
