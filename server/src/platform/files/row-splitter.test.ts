import { describe, expect, test } from 'vitest'
import { testBounds } from './test-bounds.ts'
import { type NumberedRows, RowSplitter } from './row-splitter.ts'

/** Splits a text that arrives in pieces of this many characters. */
function split(
  text: string,
  piece = text.length,
  { separator = ',', columns = null as number | null } = {},
): NumberedRows {
  const splitter = new RowSplitter(separator, 2, columns, testBounds)
  const out: NumberedRows = { rows: [], lines: [], problems: [] }
  for (let at = 0; at < Math.max(1, text.length); at += Math.max(1, piece)) {
    const { rows, lines, problems } = splitter.split(text.slice(at, at + piece), at + piece >= text.length)
    out.rows.push(...rows)
    out.lines.push(...lines)
    out.problems.push(...problems)
  }
  return out
}
const phrases = ({ rows }: NumberedRows) => rows.map(row => row[0])

describe('rows of a delimited text', () => {
  test.each([1, 2, 3, 7, 1_000])('are the same however it is cut, %i characters at a time', piece => {
    const text = 'a,1\r\n"b, c",2\n"d ""e""",3\r"two\r\nlines",4\n6" pot,5\n\n"f",6'
    const { rows, lines, problems } = split(text, piece)
    expect(rows).toEqual([
      ['a', '1'],
      ['b, c', '2'],
      ['d "e"', '3'],
      ['two\nlines', '4'],
      ['6" pot', '5'],
      [''],
      ['f', '6'],
    ])
    expect(lines).toEqual([2, 3, 4, 5, 7, 8, 9])
    expect(problems).toEqual([])
  })

  test('a header that ends with CRLF over lines that end with LF loses none of them', () => {
    expect(phrases(split('a,1\r\nb,2\nc,3\n'))).toEqual(['a', 'b', 'c'])
    expect(phrases(split('"a",1\r\n"b",2\n"c",3\n'))).toEqual(['a', 'b', 'c'])
  })

  test('a bare quote, or three of them, is a character of its cell', () => {
    expect(phrases(split('6" pot,1\n8" pot and 9" pot and 3" lid,2\nmug,3\n'))).toEqual([
      '6" pot',
      '8" pot and 9" pot and 3" lid',
      'mug',
    ])
  })

  test('a quote that is never closed takes its own line and no other', () => {
    const many = Array.from({ length: 5_000 }, (_, i) => `word ${i},${i}\n`).join('')
    for (const columns of [2, null]) {
      const { rows, problems } = split(`a,1\n"open,2\n${many}`, 777, { columns })
      expect(problems).toEqual([{ line: 3, what: 'A quote is opened here and never closed', value: '"open,2' }])
      expect(rows).toHaveLength(5_001)
      expect(rows.at(-1)).toEqual(['word 4999', '4999'])
    }
  })

  test('one that meets the next quoted cell takes its own line too', () => {
    const { rows, problems } = split('"open,2\nb,3\n"c",4\nd,5\n', 1_000, { columns: 2 })
    expect(rows.map(row => row.join('|'))).toEqual(['b|3', 'c|4', 'd|5'])
    expect(problems.map(({ line }) => line)).toEqual([2])
  })

  test('text behind a closing quote is listed', () => {
    const { rows, problems } = split('"a" b,1\nc,2\n')
    expect(phrases({ rows } as NumberedRows)).toEqual(['c'])
    expect(problems).toEqual([{ line: 2, what: 'Text stands behind a closing quote', value: '"a" b,1' }])
  })

  test('a row over more lines than the header has cells for is not one', () => {
    const { rows, problems } = split('"a,1\nb,2\nc ",3\nd,4\n', 1_000, { columns: 3 })
    expect(problems.map(({ line }) => line)).toEqual([2])
    expect(phrases({ rows } as NumberedRows)).toEqual(['b', 'c "', 'd'])
  })

  test('a line, a cell or a row over its bound is listed with its number, and the rest goes on', () => {
    const { rows, problems } = split(`a,1\n${'x'.repeat(5_000)}\nb,${'y'.repeat(600)}\n${','.repeat(60)}\nc,3\n`, 100)
    expect(rows).toEqual([
      ['a', '1'],
      ['c', '3'],
    ])
    expect(problems.map(({ line, what }) => `${line} ${what}`)).toEqual([
      '3 The line is longer than 2,000 characters',
      '4 Cell 2 has more than 500 characters',
      '5 The row has more than 50 cells',
    ])
    expect(problems.every(({ value }) => value.length <= 200)).toBe(true)
  })

  test('3,000 made-up rows come back as they were written, by any separator', () => {
    let seed = 11
    const next = (below: number): number => {
      seed = (seed * 48_271) % 2_147_483_647
      return seed % below
    }
    const bits = ['a', 'b c', '6" x', '"', '\n', '\r\n', ';', ',', '\t', 'ä', '', "'"]
    const rows = Array.from({ length: 3_000 }, () =>
      Array.from({ length: 3 }, () => Array.from({ length: 1 + next(3) }, () => bits[next(bits.length)]).join('')),
    )
    for (const separator of [',', ';', '\t']) {
      const text = rows
        .map(row => `${row.map(cell => `"${cell.replaceAll('"', '""')}"`).join(separator)}${next(2) ? '\n' : '\r\n'}`)
        .join('')
      const found = split(text, 1_000, { separator, columns: 3 })
      expect(found.problems).toEqual([])
      expect(found.rows).toEqual(rows.map(row => row.map(cell => cell.replaceAll('\r\n', '\n'))))
    }
  })
})
