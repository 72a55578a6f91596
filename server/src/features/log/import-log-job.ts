import { normalForm } from '@dew-trail/core/words/normal-form'
import type { Context } from '../../context.ts'
import type { JobControl } from '../../platform/jobs/job-control.ts'
import { mondayBefore, saveWeek } from './job.ts'
import { spread, weekParts } from './spread-period.ts'
import { saveLogPages } from './save-log-pages.ts'
import { setPropertyLoaded } from '../../domain/query-log/queries.ts'
import { beginLog } from './routes.ts'
import { keepBefore } from './take-back-log.ts'
import { withMovedFigures } from '../../domain/chances/market-figures.ts'
import { sumLog } from '../../domain/query-log/sum-log.ts'
import { needMarket } from '../../domain/sites/need-market.ts'
import { maybeSite } from '../../domain/sites/queries.ts'
import type { LogRow } from '../../sources/source-replies.ts'
import { openImport } from '../../domain/imports/open-import.ts'
import { mostCounted, readNumber } from '../../domain/imports/read-cells.ts'

/**
 * Reads a query log export: rows of a day, query, country and device, with or without pages, become weeks. The figures of a file without days
 * are sums of a period, which are spread evenly over its weeks. Wrong lines are listed.
 */
export async function importLogJob(context: Context, control: JobControl): Promise<object> {
  const { siteId } = control
  const { payload } = control.job
  const file = await openImport(context, control)
  const { row, mapping, bytes } = file
  const market = await needMarket(context.pool, siteId, Number(payload.marketId))
  const places = new Map((await maybeSite(context.pool, siteId))!.markets.map(each => [each.place, each.language]))
  const weeks = new Map<string, Sums>()
  /** The same by page, for files that name pages. */
  const pageWeeks = new Map<string, Sums>()
  const period = mapping.date === undefined ? (payload.period as { from: string; to: string } | undefined) : undefined
  const periodParts = period ? weekParts(period) : null
  let day = ''
  let ofDay = new Map<string, LogRow>()
  let [lines, elsewhere] = [0, 0]
  const addToWeeks = (to: Map<string, Sums>, key: string, fact: LogRow): void => {
    if (!periodParts) {
      addUp(weekOf(to, mondayBefore(day)), key, fact)
      return
    }
    for (const { week, ...counts } of spread(fact, periodParts)) addUp(weekOf(to, week), key, { ...fact, ...counts })
  }
  const closeDay = (): void => {
    if (!ofDay.size) return
    for (const [key, fact] of ofDay) addToWeeks(weeks, key, fact)
    ofDay = new Map()
  }
  const takeRow = (cells: string[], line: number): void => {
    if (cells.length === 1 && cells[0]!.trim() === '') return
    lines++
    const cellOf = (field: string): string => file.cell(cells, field)
    const say = (what: string, value: string): void => file.say(line, what, value)
    const date = period ? { value: period.to } : file.day(cellOf('date'))
    if ('wrong' in date) {
      say(`Day ${date.wrong}`, cellOf('date'))
      return
    }
    const query = normalForm(cellOf('phrase'))
    if (!query || query.length > 200) {
      say(query ? 'The query has over 200 characters' : 'The query is empty', cellOf('phrase'))
      return
    }
    const figures: Record<string, number> = {}
    for (const field of ['impressions', 'clicks', 'position'] as const) {
      const isPosition = field === 'position'
      const cell = readNumber(cellOf(field), !isPosition, isPosition ? 1 : 0, isPosition ? 1_000 : mostCounted)
      if ('wrong' in cell || cell.value === null) {
        say(`${field} ${'wrong' in cell ? cell.wrong : 'is missing'}`, cellOf(field))
        return
      }
      figures[field] = cell.value
    }
    const country = cellOf('country').toLowerCase() || market.place
    if (!places.has(country)) {
      elsewhere++
      return
    }
    const device = /mobile|phone|tablet/i.test(cellOf('device')) ? 'mobile' : 'desktop'
    if (date.value !== day) {
      closeDay()
      day = date.value
    }
    const page = pageUrl(cellOf('url'))
    const key = `${country}|${device}|${query}`
    const known = ofDay.get(key)
    const fact = {
      query,
      country,
      device,
      impressions: figures.impressions!,
      clicks: figures.clicks!,
      position: figures.position!,
      page,
    } satisfies LogRow
    if (page) addToWeeks(pageWeeks, `${key}|${page}`, fact)
    // Two pages shown for one search are one impression, at the higher place.
    if (known) {
      known.clicks += fact.clicks
      if (fact.impressions > known.impressions) known.impressions = fact.impressions
      known.position = Math.min(known.position, fact.position)
    } else ofDay.set(key, fact)
  }
  for await (const part of file.parts()) {
    if (part.kind === 'rows') for (const [i, cells] of part.rows.entries()) takeRow(cells, part.lines[i]!)
    await control.step(Math.min(part.byte, bytes) / 2, bytes)
  }
  closeDay()
  const { propertyId, gatheringId } = await beginLog(context, siteId, market.id, `file:${row.fileName}`, row.fileName)
  await keepBefore(context, siteId, row.id, { propertyId, gatheringId, weeks: [...weeks.keys()].sort(), lastDay: day })
  let saved = 0
  for (const [week, rows] of [...weeks].sort()) {
    const of = { siteId, propertyId, week, places }
    await saveWeek(context, { ...of, gatheringId }, meanPositions(rows))
    await saveLogPages(context, of, meanPositions(pageWeeks.get(week) ?? new Map()))
    saved++
    await control.step(bytes / 2 + (bytes / 2) * (saved / weeks.size), bytes)
  }
  if (day) await setPropertyLoaded(context.pool, siteId, propertyId, day)
  const summed = await withMovedFigures(context.pool, siteId, market.id, () => sumLog(context.pool, siteId))
  context.events.publish(siteId, { type: 'keywords' })
  context.events.publish(siteId, { type: 'gatherings' })
  await control.step(bytes, bytes)
  await file.finish(lines)
  return { importId: row.id, lines, wrong: file.wrong, elsewhere, ...summed }
}

type Sums = Map<string, LogRow & { weighted: number }>
function weekOf(weeks: Map<string, Sums>, week: string): Sums {
  let rows = weeks.get(week)
  if (!rows) weeks.set(week, (rows = new Map()))
  return rows
}
function addUp(rows: Sums, key: string, fact: LogRow): void {
  const known = rows.get(key)
  if (known) {
    known.impressions += fact.impressions
    known.clicks += fact.clicks
    known.weighted += fact.position * fact.impressions
  } else rows.set(key, { ...fact, weighted: fact.position * fact.impressions })
}
const meanPositions = (rows: Sums): LogRow[] =>
  [...rows.values()].map(each => ({ ...each, position: each.weighted / Math.max(1, each.impressions) }))
/** The address of a page in a cell; what is none says nothing. */
const pageUrl = (cell: string): string => (/^https?:\/\//i.test(cell) ? cell.slice(0, 2_000) : '')
