// @vitest-environment jsdom
import { expect, test } from 'vitest'
import { fillPrint, mostPrinted, printTable } from './print-table.ts'

const columns = [
  { key: 'phrase', label: 'Keyword' },
  { key: 'searches', label: 'Searches' },
  { key: 'kept', label: 'Kept' },
]
const file = (rows: object[]) => new Blob([JSON.stringify(rows)], { type: 'application/json' })

test('all rows stand under their labels; unknown is a word, and markup is only text', () => {
  const page = document.implementation.createHTMLDocument()
  fillPrint(page, { title: 'Keywords', about: 'Searches ≥ 100' }, columns, [
    { phrase: '<b>kiln</b>', searches: 12_400, kept: true },
    { phrase: 'glaze', searches: null, kept: false },
  ])
  const cells = [...page.querySelectorAll('tr')].map(row => [...row.children].map(cell => cell.textContent))
  expect(cells).toEqual([
    ['Keyword', 'Searches', 'Kept'],
    ['<b>kiln</b>', '12,400', 'yes'],
    ['glaze', 'unknown', 'no'],
  ])
  expect(page.querySelector('b')).toBeNull()
  expect(page.querySelector('p')!.textContent).toBe('Searches ≥ 100')
  expect(page.querySelector('th:nth-child(2)')!.className).toBe('n')
})
test('more than can be printed is refused with what to do', async () => {
  const rows = Array.from({ length: mostPrinted + 1 }, (_, i) => ({ phrase: `p${i}` }))
  await expect(printTable({ title: 'x', about: '' }, columns, file(rows))).rejects.toThrow(
    'These are 20,001 rows; 20,000 can be printed at once',
  )
  expect(document.querySelector('iframe')).toBeNull()
})
