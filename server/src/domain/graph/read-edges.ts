import type pg from 'pg'
import { to as copyTo } from 'pg-copy-streams'
import { GrowingInts } from './growing-ints.ts'

const tab = 9
const newline = 10

/** Reads rows of non-negative integers that a statement gives, column by column, through COPY: no row ever becomes an object. */
export async function readInts(client: pg.Client, sql: string, columns: number): Promise<Int32Array[]> {
  const out = Array.from({ length: columns }, () => new GrowingInts())
  await eachInt(client, sql, (value, column) => out[column]!.push(value))
  return out.map(each => each.view())
}

/** The same for whoever keeps none of them: each number with its column, row by row. */
export async function eachInt(
  client: pg.Client,
  sql: string,
  take: (value: number, column: number) => void,
): Promise<void> {
  let value = 0
  let column = 0
  for await (const chunk of client.query(copyTo(`copy (${sql}) to stdout`))) {
    const bytes = chunk as Buffer
    for (let i = 0; i < bytes.length; i++) {
      const byte = bytes[i]!
      if (byte === tab || byte === newline) {
        take(value, column)
        value = 0
        column = byte === tab ? column + 1 : 0
      } else value = value * 10 + byte - 48
    }
  }
}

/** Dense numbers 0…n−1 for ids: `index[id]` is −1 for an id that is not among them. */
export function denseIndex(...lists: Int32Array[]): { ids: Int32Array; index: Int32Array } {
  let most = 0
  for (const list of lists) for (const id of list) if (id > most) most = id
  const index = new Int32Array(most + 1).fill(-1)
  for (const list of lists) for (const id of list) index[id] = 0
  let count = 0
  for (let id = 0; id < index.length; id++) if (index[id] === 0) index[id] = count++
  const ids = new Int32Array(count)
  for (let id = 0; id < index.length; id++) if (index[id]! >= 0) ids[index[id]!] = id
  return { ids, index }
}
