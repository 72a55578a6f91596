import pg from 'pg'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { copyRows, daySince2000, type RowWriter } from '../src/platform/db/copy-rows.ts'
import { inTransaction } from '../src/platform/db/pool.ts'
import { type TestServer, testServer } from './test-server.ts'

let server: TestServer
let pool: pg.Pool
beforeAll(async () => {
  server = await testServer()
  pool = new pg.Pool({ connectionString: server.databaseUrl, max: 2 })
})
afterAll(async () => {
  await pool.end()
  await server.close()
})

/** What the database reads of rows that were copied into a table with these columns. */
const copied = <T>(columns: string, rows: Iterable<T>, write: (out: RowWriter, row: T) => void) =>
  inTransaction(pool, async db => {
    await db.query(`create temp table copied (at serial, ${columns}) on commit drop`)
    await copyRows(db, `copied (${columns.replace(/ \w+(,|$)/g, '$1')})`, rows, write)
    const { rows: read } = await db.query(`select * from copied order by at`)
    return read.map(({ at: _, ...row }) => row as Record<string, unknown>)
  })

describe('rows in the binary format of COPY', () => {
  test('every type comes back as it was written, ends of its range and nothing included', async () => {
    const rows = [
      { small: -32_768, whole: -(2 ** 31), part: 0.25, text: 'für “Töpfer”\t\\N', day: '1999-12-31' },
      { small: 32_767, whole: 2 ** 31 - 1, part: -1e-20, text: '', day: '2026-11-28' },
      { small: null, whole: null, part: null, text: null, day: null },
    ]
    const read = await copied('small smallint, whole integer, part real, text text, day date', rows, (out, row) => {
      out.row(5)
      out.smallint(row.small)
      out.integer(row.whole)
      out.real(row.part)
      out.text(row.text)
      out.integer(daySince2000(row.day))
    })
    expect(read.map(({ part, ...row }) => row)).toEqual(rows.map(({ part, ...row }) => row))
    expect(read.map(row => row.part)).toEqual([0.25, expect.closeTo(-1e-20, 25), null])
  })
  test('a UUID and a text are written from within longer bytes, short or long', async () => {
    const long = 'x'.repeat(5_000)
    const bytes = Buffer.concat([Buffer.alloc(16, 0xab), Buffer.from(`head ${long} tail`)])
    const [row] = await copied('key uuid, text text', [bytes], (out, each) => {
      out.row(2)
      out.bytes(each, 0, 16)
      out.bytes(each, 21, 21 + long.length)
    })
    expect(row).toEqual({ key: 'abababab-abab-abab-abab-abababababab', text: long })
  })
  test('many integers and fields that were written before follow each other', async () => {
    const numbers = Int32Array.from({ length: 300_000 }, (_, i) => i * 7_001 - 1_000_000_000)
    const read = await copied(
      'a integer, b integer, c integer',
      Array.from({ length: numbers.length / 3 }, (_, i) => i),
      (out, i) => {
        out.row(3)
        out.integers(numbers, 3 * i, 3 * i + 3)
      },
    )
    expect(read).toHaveLength(100_000)
    for (const i of [0, 33_333, 99_999])
      expect(Object.values(read[i]!)).toEqual([...numbers.subarray(3 * i, 3 * i + 3)])
  })
  test('no rows are no error, and what breaks a rule of the table undoes all of them', async () => {
    expect(await copied('a integer', [], () => undefined)).toEqual([])
    const broken = copied('a integer', [1, 2], (out, each) => {
      // The second row says that it has two fields.
      out.row(each)
      out.integer(each)
      if (each === 2) out.integer(each)
    })
    await expect(broken).rejects.toThrow(/field count/)
  })
})
