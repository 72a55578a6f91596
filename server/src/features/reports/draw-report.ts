import { AppError } from '@dew-trail/contract/errors'
import { type Section, sectionNames, sectionsOfNow } from '@dew-trail/contract/reports'
import type { Market } from '@dew-trail/contract/sites'
import { readCondition, readSort } from '@dew-trail/core/tables/condition-text'
import { fileCell } from '@dew-trail/core/tables/file-cells'
import { markdownBlocks } from '@dew-trail/core/reports/markdown-blocks'
import { type ReportBlock, type ReportDocument, textBlock } from '@dew-trail/core/reports/report-document'
import { longDay } from '@dew-trail/core/days/day-words'
import { oneDigit } from '@dew-trail/core/reports/report-words'
import type { Context } from '../../context.ts'
import { maybeLastDay } from '../../domain/positions/day-queries.ts'
import { shiftDay } from '../../domain/positions/day-reader.ts'
import { needMarket, needSite } from '../../domain/sites/need-market.ts'
import type { ReportSection, SectionOf } from '../../platform/reports/report-section.ts'
import type { Db } from '../../platform/db/pool.ts'
import { tableCells } from '../../platform/tables/write-table.ts'
import { reportParts } from './report-parts.ts'
import { maybeLogo, maybeReport, type ReportRow } from './queries.ts'

const mostRows = 50

/** The report, which must be there. */
export async function needReport(db: Db, siteId: number, id: number): Promise<ReportRow> {
  const report = await maybeReport(db, siteId, id)
  if (!report) throw new AppError('notFound', `The site has no report ${id}`)
  return report
}

/**
 * A report drawn from the data as of a day: the last checked one where none is given, today where nothing was checked. A section that
 * cannot be drawn says so in its place and takes nothing from the others.
 */
export async function drawReport(
  context: Context,
  siteId: number,
  report: ReportRow,
  asOf: string | undefined,
  today: string,
): Promise<ReportDocument> {
  const { pool, log } = context
  const [site, market] = await Promise.all([needSite(pool, siteId), needMarket(pool, siteId, report.marketId)])
  const day = asOf ?? (await maybeLastDay(pool, siteId, market.id))?.day ?? today
  const since = shiftDay(day, -report.days)
  const blocks: ReportBlock[] = []
  for (const section of report.sections) {
    if (section.kind === 'break') {
      blocks.push({ kind: 'break' })
      continue
    }
    const title = section.title || (section.kind === 'words' ? '' : sectionNames[section.kind])
    if (title) blocks.push({ kind: 'heading', level: 2, text: title })
    const of: SectionOf = { siteId, domain: site.domain, market, asOf: day, since, section }
    try {
      blocks.push(...(await draw(context, of)))
      if (asOf !== undefined && sectionsOfNow.includes(section.kind))
        blocks.push(textBlock(`As known on ${longDay(today)}: no earlier state of this is kept.`, true))
    } catch (error) {
      if (!(error instanceof AppError))
        log.warn({ err: error, siteId, section: section.kind }, 'a section was not drawn')
      const why = error instanceof AppError ? error.message : 'See the log for why.'
      blocks.push(textBlock(`This section could not be drawn. ${why}`, true))
    }
  }
  return {
    title: report.name,
    site: site.name,
    domain: site.domain,
    market: marketWords(market),
    asOf: day,
    since,
    madeOn: today,
    colour: report.colour,
    logo: await maybeLogo(pool, siteId),
    language: report.language,
    blocks,
  }
}

const upper = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1)
const languages = new Intl.DisplayNames(['en'], { type: 'language', fallback: 'code' })
/** A market in words: "Lantern, Tarrow, English, desktop". */
const marketWords = ({ name, engine, place, language, device }: Market): string =>
  name ?? `${upper(engine)}, ${place.split('-').map(upper).join(' ')}, ${languages.of(language)}, ${device}`

async function draw(context: Context, of: SectionOf): Promise<ReportBlock[]> {
  const { kind, words = '' } = of.section
  if (kind === 'words') return markdownBlocks(words)
  if (kind === 'view') return viewBlocks(context, of)
  if (kind === 'kept') return keptBlocks(of.section)
  if (kind === 'figures') {
    const figures = []
    for (const part of reportParts().figures) figures.push(...(await part(context, of)))
    return figures.length ? [{ kind: 'figures', figures }] : [textBlock('No figures are known yet.', true)]
  }
  const section: ReportSection | undefined = reportParts().sections[kind]
  if (!section) throw new AppError('badInput', `Nothing here draws "${kind}".`)
  const blocks = await section(context, of)
  return blocks.length ? blocks : [textBlock('Nothing is known of this yet.', true)]
}

/** What a screen showed on a day, with its sentence and that day. */
function keptBlocks({ kept, title }: Section): ReportBlock[] {
  if (!kept) throw new AppError('badInput', 'What it shows is not there.')
  const { on, sentence, drawing, table } = kept
  return [
    ...(sentence ? [textBlock(sentence)] : []),
    ...(drawing ? [{ kind: 'drawing' as const, title: sentence || title, picture: drawing }] : []),
    ...(table ? [{ kind: 'table' as const, ...table }] : []),
    textBlock(`As it was shown on ${longDay(on)}.`, true),
  ]
}

/** Rows of a table of the program, with the conditions, order and columns of a view. */
async function viewBlocks(context: Context, { siteId, market, section }: SectionOf): Promise<ReportBlock[]> {
  const table = section.table && reportParts().tables[section.table.name]
  if (!section.table || !table) throw new AppError('badInput', 'The table it shows is not there.')
  const open = await table(context, siteId, market.id)
  const { where, sort, columns } = section.table.state
  const { head, rows, of } = await tableCells(
    open,
    {
      // What is only drawn has no words; a column that a later version does not have is left out.
      columns: columns.filter(key => open.columns.some(each => each.key === key && each.kind !== 'series')),
      where: where.flatMap(text => readCondition(text) ?? []),
      sort: readSort(sort),
    },
    section.most ?? mostRows,
  )
  if (!rows.length) return [textBlock('No row meets its conditions.', true)]
  return [{ kind: 'table', head, rows: rows.map(row => row.map(value => cellText(fileCell(value)))), of }]
}

const cellText = (value: string | number): string =>
  typeof value === 'number' ? (Number.isInteger(value) ? value.toLocaleString('en') : oneDigit(value)) : value
