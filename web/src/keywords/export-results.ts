import { type FirstPage, readFirstPages } from '@dew-trail/contract/weigh'
import type { CellValue } from '@dew-trail/core/tables/column-spec'
import { call } from '../api/call.ts'
import { exportTable } from '../rows/export-table.ts'
import type { ExportColumn, ExportFormat, Row } from '../rows/row-source.ts'

const atATime = 200

type Result = FirstPage['results'][number]
const resultColumns: Array<{ key: string; label: string; of(result: Result, page: FirstPage): CellValue }> = [
  { key: 'firstPageOn', label: 'First page of', of: (_, page) => page.fetchedOn },
  { key: 'position', label: 'Place', of: result => result.position },
  { key: 'url', label: 'Address', of: result => result.url },
  { key: 'title', label: 'Title', of: result => result.title },
  { key: 'site', label: 'Site', of: result => result.domain },
  { key: 'ownSite', label: 'Own site', of: result => result.own },
  { key: 'visits', label: 'Visits a month from this keyword', of: result => result.visits },
  { key: 'level', label: 'Level', of: result => result.level },
  { key: 'siteLevel', label: 'Site level', of: result => result.siteLevel },
  { key: 'siteLinkingSites', label: 'Sites linking to the site', of: result => result.siteLinkingSites },
  { key: 'siteLinks', label: 'Links to the site', of: result => result.siteLinks },
  { key: 'siteTrust', label: 'Site trust', of: result => result.siteTrust },
  { key: 'pageStanding', label: 'Page standing', of: result => result.pageStanding },
  { key: 'pageTrust', label: 'Page trust', of: result => result.pageTrust },
  { key: 'readOn', label: 'Page last read', of: result => result.readOn },
  { key: 'linkingSites', label: 'Sites linking to the page', of: result => result.linkingSites },
  { key: 'links', label: 'Links to the page', of: result => result.links },
  { key: 'followedLinks', label: 'Followed links to the page', of: result => result.followedLinks },
  { key: 'siteKind', label: 'Kind of site', of: result => result.siteKind },
  { key: 'ageYears', label: 'Age of the site in years', of: result => result.ageYears },
  { key: 'fit', label: 'Fit', of: result => result.fit },
  { key: 'titleFit', label: 'Fit of the title', of: result => result.matches.title ?? null },
  { key: 'headingsFit', label: 'Fit of the headings', of: result => result.matches.headings ?? null },
  { key: 'textFit', label: 'Fit of the text', of: result => result.matches.text ?? null },
  { key: 'addressFit', label: 'Fit of the address', of: result => result.matches.address ?? null },
  { key: 'descriptionFit', label: 'Fit of the description', of: result => result.matches.description ?? null },
  { key: 'opening', label: 'Opening', of: result => result.opening },
  { key: 'precedent', label: 'Precedent', of: result => result.precedent },
]

/**
 * A table with a line for every result of the keywords' first pages: the keyword's columns, then the result's. A keyword that was not
 * weighed has one line, without results.
 */
export function resultLines(
  columns: Array<{ key: string; label: string }>,
  rows: readonly Row[],
  pages: ReadonlyMap<number, FirstPage>,
): { title: string; columns: ExportColumn[]; rows: CellValue[][] } {
  const lines: CellValue[][] = []
  for (const row of rows) {
    const own = columns.map(column => (row[column.key] ?? null) as CellValue)
    const page = pages.get(row.id)
    for (const result of page?.results.length ? page.results : [null])
      lines.push([...own, ...resultColumns.map(column => (page && result ? column.of(result, page) : null))])
  }
  return {
    title: 'Results',
    columns: [...columns, ...resultColumns.map(({ key, label }) => ({ key: `result_${key}`, label }))],
    rows: lines,
  }
}

/** Fetches the first pages of rows and makes the file of `resultLines`. */
export async function exportResults(
  siteId: number,
  marketId: number,
  columns: Array<{ key: string; label: string }>,
  rows: readonly Row[],
  format: ExportFormat,
): Promise<Blob> {
  const pages = new Map<number, FirstPage>()
  const weighed = rows.filter(row => row.weighedOn !== null)
  for (let at = 0; at < weighed.length; at += atATime) {
    const keywordIds = weighed.slice(at, at + atATime).map(row => row.id)
    for (const page of await call(readFirstPages, { siteId, marketId, keywordIds })) pages.set(page.keywordId, page)
  }
  return exportTable(format, resultLines(columns, rows, pages))
}
