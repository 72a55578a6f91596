import type { ExportColumn } from '../rows/row-source.ts'

/** Most rows that are printed at once: some 400 pages. */
export const mostPrinted = 20_000

const style = `
  body { font: 11px/1.35 'Hanken Grotesk Variable', sans-serif; color: #000; margin: 0; }
  h1 { font-size: 15px; margin: 0; } p { margin: 2px 0 8px; }
  table { border-collapse: collapse; width: 100%; }
  th { text-align: left; border-bottom: 1px solid #000; padding: 2px 6px 2px 0; }
  td { border-bottom: 1px solid #bbb; padding: 2px 6px 2px 0; vertical-align: top; overflow-wrap: anywhere; }
  .n { text-align: right; } tr { break-inside: avoid; } thead { display: table-header-group; }
`
/** A value as it is read on paper. */
export const cellText = (value: unknown): string =>
  value === null || value === undefined
    ? 'unknown'
    : typeof value === 'boolean'
      ? value
        ? 'yes'
        : 'no'
      : typeof value === 'number'
        ? value.toLocaleString('en', { maximumFractionDigits: 2 })
        : String(value)

/** Writes a table with a heading into a document, without reading any of it as markup. */
export function fillPrint(
  page: Document,
  heading: { title: string; about: string },
  columns: readonly ExportColumn[],
  rows: ReadonlyArray<Record<string, unknown>>,
): void {
  const add = <K extends keyof HTMLElementTagNameMap>(
    parent: Element,
    name: K,
    words = '',
  ): HTMLElementTagNameMap[K] => {
    const element = page.createElement(name)
    if (words) element.textContent = words
    parent.append(element)
    return element
  }
  page.title = heading.title
  add(page.head, 'style', style)
  add(page.body, 'h1', heading.title)
  add(page.body, 'p', heading.about)
  const table = add(page.body, 'table')
  const head = add(add(table, 'thead'), 'tr')
  const isNumber = columns.map(({ key }) => rows.some(row => typeof row[key] === 'number'))
  for (const [i, { label }] of columns.entries()) add(head, 'th', label).className = isNumber[i] ? 'n' : ''
  const body = add(table, 'tbody')
  for (const row of rows) {
    const line = add(body, 'tr')
    for (const [i, { key }] of columns.entries()) add(line, 'td', cellText(row[key])).className = isNumber[i] ? 'n' : ''
  }
}

/** Prints all rows of a table, not only those that are drawn on the screen. */
export async function printTable(
  heading: { title: string; about: string },
  columns: readonly ExportColumn[],
  file: Blob,
): Promise<number> {
  const rows = JSON.parse(await file.text()) as Array<Record<string, unknown>>
  if (rows.length > mostPrinted)
    throw new Error(
      `These are ${rows.length.toLocaleString('en')} rows; ${mostPrinted.toLocaleString('en')} can be printed at once. Give conditions, or export them.`,
    )
  const frame = document.createElement('iframe')
  frame.setAttribute('aria-hidden', 'true')
  frame.style.cssText = 'position:fixed;width:0;height:0;border:0'
  document.body.append(frame)
  const page = frame.contentWindow!
  fillPrint(page.document, heading, columns, rows)
  page.addEventListener('afterprint', () => frame.remove())
  page.print()
  return rows.length
}
