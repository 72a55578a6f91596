import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, describe, expect, test } from 'vitest'
import writeXlsxFile from 'write-excel-file/node'
import { isDateFormat, serialDay } from './cell-dates.ts'
import { makeOds, makeXlsx, zipOf } from './make-workbook.ts'
import { workbookToCsv } from './read-workbook.ts'
import { testBounds } from './test-bounds.ts'

const folder = mkdtempSync(join(tmpdir(), 'dew-trail-books-'))
afterAll(() => rmSync(folder, { recursive: true }))
async function csvOf(content: Buffer, bounds = testBounds): Promise<string> {
  const path = join(folder, 'book')
  writeFileSync(path, content)
  await workbookToCsv(path, bounds)
  return readFileSync(path, 'utf8')
}

const rows =
  '<row r="1"><c r="A1" t="s"><v>0</v></c><c r="C1" t="inlineStr"><is><r><t>Vol</t></r><r><t>ume</t></r></is></c></row>' +
  '<row r="4"><c r="A4" t="str"><v>a, "b"</v></c><c r="B4" t="b"><v>1</v></c><c r="C4"><f>60*2</f><v>120.5</v></c><c r="D4" t="e"><v>#N/A</v></c></row>' +
  '<row><c><v>7</v></c><c t="str"><v>two\nlines</v></c></row>'

describe('an XLSX workbook', () => {
  test.each([true, false])('is read with its parts packed: %s', async packed => {
    expect(
      await csvOf(makeXlsx(rows, { packed, strings: ['<t>Key</t><rPh><t>read aloud</t></rPh><t>word</t>'] })),
    ).toBe('Keyword,,Volume\n\n\n"a, ""b""",true,120.5,\n7,two lines\n')
  })
  test('of any size and packing that another program writes is read whole, thirty times', async () => {
    for (let round = 0; round < 30; round++) {
      const data = Array.from({ length: 1 + round * 3 }, (_, i) => [`word ${i} x${'x'.repeat(round * 7)}`, i * round])
      const csv = await csvOf(await writeXlsxFile(data).toBuffer())
      expect(csv.trim().split('\n')).toEqual(data.map(row => row.join(',')))
    }
  })
  test('gives dates as days, whichever of the two days its numbers count from', async () => {
    const styles =
      '<numFmts><numFmt numFmtId="164" formatCode="yyyy\\-mm\\-dd hh:mm"/><numFmt numFmtId="165" formatCode="0.00 &quot;days&quot;"/></numFmts><cellXfs><xf numFmtId="0"/><xf numFmtId="14"/><xf numFmtId="164"/><xf numFmtId="165"/></cellXfs>'
    const cells =
      '<row r="1"><c s="1"><v>46000</v></c><c s="2"><v>46000.5</v></c><c s="3"><v>46000</v></c><c t="d"><v>2026-11-05T00:00:00</v></c></row>'
    expect(await csvOf(makeXlsx(cells, { styles }))).toBe('2025-12-09,2025-12-09 12:00,46000,2026-11-05\n')
    expect(await csvOf(makeXlsx(cells, { styles, from1904: true }))).toBe(
      '2029-12-10,2029-12-10 12:00,46000,2026-11-05\n',
    )
  })
  test('gives its first sheet that is not hidden', async () => {
    const sheets = '<sheet name="h" state="hidden" r:id="rId1"/><sheet name="s" r:id="rId2"/>'
    expect(await csvOf(makeXlsx(rows, { sheets }))).toBe('second\n')
  })
  test('that is a bomb, or broken, is refused with a reason', async () => {
    const bomb = makeXlsx(`<row r="1"><c t="str"><v>${'x'.repeat(40_000_000)}</v></c></row>`)
    await expect(csvOf(bomb)).rejects.toMatchObject({
      code: 'tooLarge',
      message: expect.stringContaining('sheet1.xml'),
    })
    const whole = makeXlsx(rows)
    for (const end of [10, 100, whole.length - 30])
      await expect(csvOf(whole.subarray(0, end))).rejects.toMatchObject({
        code: 'badInput',
        message: expect.stringContaining('workbook'),
      })
    await expect(csvOf(zipOf({ 'a.txt': 'x' }, true))).rejects.toThrow(/no workbook/)
    await expect(csvOf(zipOf({ 'word/document.xml': 'x', '_rels/.rels': '<Relationships/>' }, true))).rejects.toThrow(
      /no workbook/,
    )
  })
  test('cells and rows over a bound stay over it, so that reading the table lists them', async () => {
    const csv = await csvOf(
      makeXlsx(`<row r="1"><c t="str"><v>${'x'.repeat(900)}</v></c><c r="ZZ1"><v>5</v></c></row>`),
    )
    expect(csv.length).toBeGreaterThan(500)
    expect(csv.length).toBeLessThan(1_000)
  })
})

describe('an OpenDocument spreadsheet', () => {
  test('is read: numbers, days, repeated and empty cells, texts without their remarks', async () => {
    const text = (words: string) =>
      `<table:table-cell office:value-type="string"><text:p>${words}</text:p></table:table-cell>`
    const content =
      `<table:table-row>${text('Keyword')}<table:table-cell table:number-columns-repeated="2"/>${text('Volume')}<table:table-cell table:number-columns-repeated="16380"/></table:table-row>` +
      '<table:table-row table:number-rows-repeated="2"><table:table-cell table:number-columns-repeated="16384"/></table:table-row>' +
      `<table:table-row>${text('a<text:s text:c="2"/>b<office:annotation><text:p>remark</text:p></office:annotation>')}<table:table-cell office:value-type="date" office:date-value="2026-11-05T00:00:00"/><table:table-cell office:value-type="boolean" office:boolean-value="true"/><table:table-cell office:value-type="float" office:value="1300.5"><text:p>1.300,50</text:p></table:table-cell></table:table-row>` +
      '<table:table-row table:number-rows-repeated="1048000"><table:table-cell table:number-columns-repeated="16384"/></table:table-row>'
    expect(await csvOf(makeOds(content))).toBe('Keyword,,,Volume\n\n\na  b,2026-11-05,true,1300.5\n')
  })
})

describe('numbers of days', () => {
  test.each([
    [1, false, '1900-01-01'],
    [59, false, '1900-02-28'],
    [61, false, '1900-03-01'],
    [45292, false, '2024-01-01'],
    [45292.75, false, '2024-01-01 18:00'],
    [43830, true, '2024-01-01'],
    [0, true, '1904-01-01'],
    [-1, false, null],
    [1e12, false, null],
  ])('%d (from 1904: %s) is %s', (serial, from1904, day) => expect(serialDay(serial, from1904)).toBe(day))
  test('formats with a day, month, year or hour are dates; colours, units and fractions are none', () => {
    const codes = new Map([
      [164, 'dd/mm/yy'],
      [165, '[Red]0.00'],
      [166, '"day" 0'],
      [167, '[h]:mm'],
      [168, '[$-409]d mmm yyyy;@'],
      [169, '#,##0\\d'],
      [170, 'General'],
    ])
    const dates = [14, 22, 45, 164, 165, 166, 167, 168, 169, 170, 1, 49].filter(id => isDateFormat(id, codes))
    expect(dates).toEqual([14, 22, 45, 164, 167, 168])
  })
})
