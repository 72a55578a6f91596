import { describe, expect, test } from 'vitest'
import { copyPlainLines } from './plain-lines.ts'

const columns = {
  phrase: 1,
  figures: [
    { at: 2, fraction: false, share: false },
    { at: 0, fraction: true, share: false },
    { at: undefined, fraction: true, share: false },
    { at: 3, fraction: true, share: true },
  ],
}
/** The same by splitting and expressions, a line at a time. */
function slowly(text: string, firstLine: number): { rows: string; odd: string[]; blank: number } {
  let rows = ''
  let blank = 0
  const odd: string[] = []
  for (const [i, line] of text.split('\n').slice(0, -1).entries()) {
    const cells = line.replace(/\r$/, '').split(';')
    const plain =
      cells.length > 1 &&
      /^[a-z0-9]+( [a-z0-9]+)*$/.test(cells[1]!) &&
      cells[1]!.length <= 20 &&
      /^(\d{1,9})?$/.test(cells[2] ?? '') &&
      /^(\d{1,9}(\.\d{1,9})?)?$/.test(cells[0]!) &&
      /^(0(\.\d{1,9})?)?$/.test(cells[3] ?? '')
    if (line.replace(/\r$/, '') === '') blank++
    else if (plain)
      rows += `${firstLine + i}\t${cells[1]}\t${cells[2] || '\\N'}\t${cells[0] || '\\N'}\t\\N\t${cells[3] || '\\N'}\n`
    else odd.push(`${firstLine + i} ${line.replace(/\r$/, '')}`)
  }
  return { rows, odd, blank }
}
const quickly = (text: string, firstLine: number): ReturnType<typeof slowly> => {
  const part = copyPlainLines(Buffer.from(text), firstLine, ';'.charCodeAt(0), columns, 20)
  expect(part.lines).toBe(text.split('\n').length - 1)
  return { rows: String(part.rows), blank: part.blank, odd: part.odd.map(({ line, text }) => `${line} ${text}`) }
}

describe('plain lines of a file', () => {
  test('are what splitting and expressions make of them, on 3,000 made-up lines', () => {
    const pieces = ['', '0', '12', '1.5', '0.25', '.', '1.', '7.1234567890', '1234567890', 'a b', 'kiln', ' a', 'a  b']
    const more = ['Ä', 'A', 'a-b', 'mug 7', '-3', '1,5', 'twenty one letters longer', '0.', '1', '\t', '\\']
    const all = [...pieces, ...more]
    let seed = 5
    const next = (below: number): number => {
      seed = (seed * 48_271) % 2_147_483_647
      return seed % below
    }
    let text = ''
    for (let i = 0; i < 3_000; i++) {
      const cells = Array.from({ length: next(6) }, (_, at) =>
        next(3) ? (at === 1 ? 'wheel 9' : '0.5') : all[next(all.length)]!,
      )
      text += `${cells.join(';')}${next(4) ? '\n' : '\r\n'}`
    }
    const quick = quickly(text, 2)
    expect(quick).toEqual(slowly(text, 2))
    expect(quick.rows.split('\n').length).toBeGreaterThan(300)
    expect(quick.odd.length).toBeGreaterThan(500)
  })
  test('every single cell in every place', () => {
    for (const cell of ['0', '000000000', '1e3', '0.123456789', '0.1234567890', '00', '1', '٣'])
      for (const at of [0, 1, 2, 3]) {
        const cells = ['1.5', 'kiln', '7', '0.5']
        cells[at] = cell
        expect(quickly(`${cells.join(';')}\n`, 9)).toEqual(slowly(`${cells.join(';')}\n`, 9))
      }
  })
})
