import { mostGrouped } from '@dew-trail/contract/group'
import { normalForm } from '@dew-trail/core/words/normal-form'
import type { Context } from '../../context.ts'
import { openImport } from '../../domain/imports/open-import.ts'
import { noteBrought } from '../../domain/imports/queries.ts'
import { mostCounted, readNumber } from '../../domain/imports/read-cells.ts'
import { addPhrases } from '../../domain/keywords/add-phrases.ts'
import { needMarket } from '../../domain/sites/need-market.ts'
import { lockSite } from '../../domain/sites/queries.ts'
import { inTransaction } from '../../platform/db/pool.ts'
import type { JobControl } from '../../platform/jobs/job-control.ts'
import { saveGrouping } from './make-grouping.ts'

const [longestPhrase, longestTheme] = [200, 200]

/**
 * Reads a file of keywords, with searches and themes where it has them, into a grouping: keywords that are new become found ones. With themes
 * it is a grouping to be checked, without it is grouped by shared results. Of a keyword on several lines the last line counts; what cannot be
 * read is listed with its line.
 */
export async function importThemesJob(context: Context, control: JobControl): Promise<object> {
  const { siteId } = control
  const { payload } = control.job
  const file = await openImport(context, control)
  const market = await needMarket(context.pool, siteId, Number(payload.marketId))
  const byPhrase = new Map<string, { theme: string | null; searches: number | null }>()
  let lines = 0
  const takeRow = (cells: string[], line: number): void => {
    if (cells.length === 1 && cells[0]!.trim() === '') return
    lines++
    const phrase = normalForm(file.cell(cells, 'phrase'))
    if (!phrase || phrase.length > longestPhrase) {
      const what = phrase ? `The keyword has over ${longestPhrase} characters` : 'The keyword is empty'
      file.say(line, what, file.cell(cells, 'phrase'))
      return
    }
    if (!byPhrase.has(phrase) && byPhrase.size >= mostGrouped) {
      file.say(line, `A grouping has at most ${mostGrouped.toLocaleString('en')} keywords`, phrase)
      return
    }
    const searches = readNumber(file.cell(cells, 'searches'), true, 0, mostCounted)
    if ('wrong' in searches)
      file.say(line, `Searches ${searches.wrong}; the keyword is taken without`, file.cell(cells, 'searches'))
    const theme = file.cell(cells, 'theme').slice(0, longestTheme)
    byPhrase.set(phrase, { theme: theme || null, searches: 'wrong' in searches ? null : searches.value })
  }
  for await (const part of file.parts()) {
    if (part.kind === 'rows') for (const [i, cells] of part.rows.entries()) takeRow(cells, part.lines[i]!)
    await control.step(Math.min(part.byte, file.bytes), file.bytes)
  }
  if (!byPhrase.size) {
    await file.finish(lines)
    return { importId: file.row.id, lines, wrong: file.wrong, groupingId: null }
  }
  const ids = await inTransaction(context.pool, async db => {
    await lockSite(db, siteId)
    return addPhrases(db, siteId, market.language, [...byPhrase.keys()], file.row.id)
  })
  context.events.publish(siteId, { type: 'keywords' })
  const keywords = [...byPhrase].map(([phrase, given]) => ({ id: ids.get(phrase)!, ...given }))
  const { groupingId, jobId } = await saveGrouping(context, siteId, {
    marketId: market.id,
    name: file.row.fileName,
    source: { kind: 'file', name: file.row.fileName },
    basis: keywords.some(each => each.theme !== null) ? 'given' : 'results',
    searchesFrom: keywords.some(each => each.searches !== null) ? 'file' : 'known',
    compared: 20,
    oldestDays: 30,
    keywords,
    ask: false,
  })
  await noteBrought(context.pool, siteId, file.row.id, { groupingId })
  await file.finish(lines)
  return { importId: file.row.id, lines, wrong: file.wrong, groupingId, groupJobId: jobId }
}
