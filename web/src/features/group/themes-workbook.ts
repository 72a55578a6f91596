import type { GroupedKeyword } from '@dew-trail/contract/group'
import { fileCell, freeSheetName, mostWorkbookRows } from '@dew-trail/core/tables/file-cells'

const head = ['Keyword', 'Lead', 'Shared with lead', 'Searches', 'Position', 'Page', 'Planned page']
/** As many sheets as a workbook is still of use with. */
const mostSheets = 250

/** A workbook with a sheet for each theme and one for keywords in none. Throws where there are more themes or rows than it can hold. */
export async function themesWorkbook(rows: readonly GroupedKeyword[]): Promise<Blob> {
  const byTheme = new Map<string, GroupedKeyword[]>()
  for (const row of rows) {
    const key = row.theme === null ? '' : `${row.themeId} ${row.theme}`
    const list = byTheme.get(key)
    if (list) list.push(row)
    else byTheme.set(key, [row])
  }
  if (byTheme.size > mostSheets || rows.length > mostWorkbookRows)
    throw new Error(
      `A workbook takes up to ${mostSheets} themes and ${mostWorkbookRows.toLocaleString('en')} keywords; these are ${byTheme.size} and ${rows.length.toLocaleString('en')}. Export the keywords as one table instead.`,
    )
  const { default: writeXlsxFile } = await import('write-excel-file/universal')
  const taken = new Set<string>()
  const sheets = [...byTheme]
    .sort(([a], [b]) => Number(a === '') - Number(b === ''))
    .map(([, list]) => ({
      sheet: freeSheetName(list[0]!.theme ?? 'In no theme', taken),
      stickyRowsCount: 1,
      data: [
        head.map(value => ({ value, fontWeight: 'bold' as const })),
        ...list.map(row =>
          [row.phrase, row.lead, row.shared, row.searches, row.own, row.ownPage, row.planned].map(value => {
            const plain = fileCell(value)
            return plain === '' ? null : { value: plain, type: typeof plain === 'number' ? Number : String }
          }),
        ),
      ],
    }))
  return writeXlsxFile(sheets).toBlob()
}
