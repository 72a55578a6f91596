import type { KeptPart } from '@dew-trail/contract/kept-section'
import { mostKeptRows } from '@dew-trail/contract/kept-section'

type KeptTable = NonNullable<KeptPart['table']>
const mostColumns = 40

/** What a cell says: its words, and of a picture in it the words that are read in its place. */
export function textOf(node: Node): string {
  if (node.nodeType === Node.TEXT_NODE) return node.textContent ?? ''
  if (!(node instanceof Element)) return ''
  if (node.getAttribute('aria-hidden') === 'true') return ''
  if (node.getAttribute('role') === 'img') return ` ${node.getAttribute('aria-label') ?? ''} `
  if (node instanceof HTMLInputElement) {
    const isMark = node.type === 'checkbox' || node.type === 'radio'
    return isMark ? (node.checked ? 'yes' : '') : node.value
  }
  if (node instanceof HTMLTextAreaElement) return node.value
  if (node instanceof HTMLSelectElement) return node.selectedOptions[0]?.textContent ?? ''
  const inner = [...node.childNodes].map(textOf).join('')
  return /^(DIV|P|LI|SMALL|BR|SVG)$/.test(node.tagName) ? ` ${inner} ` : inner
}
const clean = (text: string, most: number): string => text.replace(/\s+/g, ' ').trim().slice(0, most)

/** A table of the page as text, without columns in which nothing is said; null where it has no row. */
export function readTable(table: HTMLTableElement): KeptTable | null {
  const lines = [...table.rows].map(row =>
    [...row.cells].flatMap(cell => [cell, ...Array(cell.colSpan - 1).fill(null)]),
  )
  const hasHead = table.tHead !== null || lines[0]?.every(cell => cell?.tagName === 'TH') === true
  const cells = (line: Array<HTMLTableCellElement | null>, most: number): string[] =>
    line.map(cell => (cell ? clean(textOf(cell), most) : ''))
  const head = hasHead && lines[0] ? cells(lines[0], 200) : []
  const rows = lines.slice(hasHead ? 1 : 0).map(line => cells(line, 500))
  if (!rows.length) return null
  const columns = Math.max(head.length, ...rows.map(row => row.length))
  const filled = Array.from({ length: columns }, (_, i) => i)
    .filter(i => head[i] || rows.some(row => row[i]))
    .slice(0, mostColumns)
  if (!filled.length) return null
  return {
    head: filled.map(i => head[i] ?? ''),
    rows: rows.slice(0, mostKeptRows).map(row => filled.map(i => row[i] ?? '')),
    of: rows.length,
  }
}

/** Rows of an exported table as text, with what is not known said so. */
export function tableOf(
  columns: ReadonlyArray<{ key: string; label: string }>,
  rows: ReadonlyArray<Record<string, unknown>>,
  words: (value: unknown) => string,
): KeptTable {
  const shown = columns.slice(0, mostColumns)
  return {
    head: shown.map(each => each.label.slice(0, 200)),
    rows: rows.slice(0, mostKeptRows).map(row => shown.map(each => words(row[each.key]).slice(0, 500))),
    of: rows.length,
  }
}
