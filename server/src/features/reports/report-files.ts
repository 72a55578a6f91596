import type { ReportFormat } from '@dew-trail/contract/reports'
import { plainText, type ReportDocument } from '@dew-trail/core/reports/report-document'
import { reportHtml } from '@dew-trail/core/reports/report-html'
import { longDay } from '@dew-trail/core/days/day-words'
import { freeSheetName } from '@dew-trail/core/tables/file-cells'
import writeXlsxFile from 'write-excel-file/node'
import { runInThread } from '../../platform/jobs/run-in-thread.ts'

export const reportTypes: Record<ReportFormat, string> = {
  html: 'text/html; charset=utf-8',
  pdf: 'application/pdf',
  xlsx: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
}

/** A report in a format. A PDF is laid out in a thread of its own, so that others are answered meanwhile. */
export async function reportFile(report: ReportDocument, format: ReportFormat): Promise<string | Buffer> {
  if (format === 'html') return reportHtml(report)
  if (format === 'xlsx') return reportWorkbook(report)
  const bytes = await runInThread<Uint8Array>(
    new URL('pdf-thread.ts', import.meta.url),
    report,
    new AbortController().signal,
  )
  return Buffer.from(bytes)
}

/** A sheet with the words and figures, and one for each table, with numbers as numbers. */
async function reportWorkbook(report: ReportDocument): Promise<Buffer> {
  const bold = (text: string) => ({ value: text, fontWeight: 'bold' as const })
  const cell = (text: string) => (text === '' ? null : { value: numberOf(text) ?? text })
  const first: Array<Array<{ value: string | number } | null>> = [
    [bold(report.title)],
    [{ value: `${report.site}, ${report.domain}. ${report.market}.` }],
    [{ value: `${longDay(report.asOf)}, compared with ${longDay(report.since)}` }],
    [],
  ]
  const sheets: Array<{ name: string; data: typeof first }> = [{ name: 'Report', data: first }]
  const used = new Set(['report'])
  let heading = report.title
  for (const block of report.blocks)
    switch (block.kind) {
      case 'heading':
        heading = block.text
        first.push([], [bold(block.text)])
        break
      case 'text':
        first.push([{ value: plainText(block.runs) }])
        break
      case 'list':
        for (const item of block.items) first.push([{ value: plainText(item) }])
        break
      case 'figures':
        for (const { label, value, change } of block.figures)
          first.push([{ value: label }, cell(value), cell(change ?? '')])
        break
      case 'table': {
        const name = freeSheetName(heading, used)
        sheets.push({ name, data: [block.head.map(bold), ...block.rows.map(row => row.map(cell))] })
        first.push([{ value: `Sheet "${name}"` }])
        break
      }
      case 'lines':
      case 'stack': {
        const { labels } = block.picture
        const series = block.kind === 'lines' ? block.picture.lines : block.picture.parts
        const name = freeSheetName(block.picture.title, used)
        const data = [
          [bold(''), ...series.map(each => bold(each.name))],
          ...labels.map((label, i) => [
            { value: label },
            ...series.map(each => {
              const value = each.values[i] ?? null
              return value === null ? null : { value }
            }),
          ]),
        ]
        sheets.push({ name, data })
        first.push([{ value: `Sheet "${name}"` }])
        break
      }
      case 'drawing':
        first.push([{ value: 'A picture, which stands in the page and the PDF' }])
        break
      case 'break':
        break
    }
  return writeXlsxFile(
    sheets.map(({ name, data }) => ({ sheet: name, data })),
    {},
  ).toBuffer()
}

/** The number that a cell of a table writes, where it is no more than that: "1,234", "−3.5". */
function numberOf(text: string): number | null {
  if (!/^[+−-]?\d[\d,]*(\.\d+)?$/.test(text)) return null
  return Number(text.replace('−', '-').replaceAll(',', ''))
}
