import type pg from 'pg'
import { copyRows } from '../../platform/db/copy-rows.ts'
import { textDigest } from '../pages/page-key.ts'

/** Above all ids: that of what there is none of. */
export const noId = Number.POSITIVE_INFINITY

/** A table of texts with integer ids: `columns` besides graph and id, in their order; `hashed`: found by the MD5 of what names it; `of`: its owner. */
export type NameTable = {
  table: string
  sequence: string
  columns: string
  key: string
  hashed: boolean
  of?: 'site_id' | 'page_id'
}

/** Texts by their number in a batch, each once. Bytes are good until the next call. */
export type Wanted = {
  /** What a text is found by. */
  key(i: number): Buffer
  /** What is written of a new one; the same where it is left out. */
  text?(i: number): Buffer
  /** Ids of the owners; texts of owners with an id from `newFrom` on are surely new. */
  of?: Int32Array
  newFrom?: number
  /** Is told the text of one that is there. */
  known?(i: number, text: string): void
}

const keyBytes = 16

/** Finds or makes the ids of some texts, in their order, and gives the first and the last id that it made. */
export async function findOrMake(
  db: pg.PoolClient,
  graphId: number,
  spec: NameTable,
  count: number,
  wanted: Wanted,
): Promise<{ ids: Int32Array; first: number; last: number | null }> {
  const ids = new Int32Array(count)
  if (!count) return { ids, first: noId, last: null }
  const keys = spec.hashed ? keysOf(count, wanted) : null
  await findIds(db, graphId, spec, keys, ids, wanted)
  const missing: number[] = []
  for (let i = 0; i < count; i++) if (!ids[i]) missing.push(i)
  if (!missing.length) return { ids, first: noId, last: null }
  const { of } = wanted
  const inOrder = of ? inOwnersOrder(missing, of) : missing
  const first = await reserveIds(db, spec.sequence, missing.length)
  for (const [at, i] of inOrder.entries()) ids[i] = first + at
  await copyRows(db, `${spec.table} (graph_id, id, ${spec.columns})`, inOrder, (out, i) => {
    out.row(3 + (of ? 1 : 0) + (keys ? 1 : 0))
    out.integer(graphId)
    out.integer(ids[i]!)
    if (of) out.integer(of[i]!)
    if (keys) out.bytes(keys, i * keyBytes, (i + 1) * keyBytes)
    const text = wanted.text?.(i) ?? wanted.key(i)
    out.bytes(text, 0, text.length)
  })
  return { ids, first, last: first + missing.length - 1 }
}

/** Keys of all texts, one after another. */
function keysOf(count: number, wanted: Wanted): Buffer {
  const keys = Buffer.allocUnsafe(count * keyBytes)
  for (let i = 0; i < count; i++) keys.set(textDigest(wanted.key(i)), i * keyBytes)
  return keys
}

/** Looks up texts by their keys, except those that are surely new: each by the index, whatever the table's statistics say of a load under way. */
async function findIds(
  db: pg.PoolClient,
  graphId: number,
  spec: NameTable,
  keys: Buffer | null,
  ids: Int32Array,
  wanted: Wanted,
): Promise<void> {
  const { of, newFrom = noId, known } = wanted
  const missing: number[] = []
  for (let i = 0; i < ids.length; i++) if (!of || of[i]! < newFrom) missing.push(i)
  if (!missing.length) return
  // PostgreSQL reads a UUID without its hyphens just as well, and one text of all sooner than a list of them.
  const asText = (list: string[]): string => `{${list.join(',')}}`
  const { rows } = await db.query<{ at: number; id: number; text: string }>(
    `select u.at::integer, t.id ${known ? ', t.url "text"' : ''}
     from unnest($2::${keys ? 'uuid' : 'text'}[]${of ? ', $3::integer[]' : ''}) with ordinality u (key,
       ${of ? 'owner, ' : ''}at)
     cross join lateral (select * from ${spec.table} t where t.graph_id = $1
       ${of ? `and t.${spec.of} = u.owner` : ''} and t.${spec.key} = u.key limit 1) t`,
    [
      graphId,
      keys
        ? asText(missing.map(i => keys.toString('hex', i * keyBytes, (i + 1) * keyBytes)))
        : missing.map(i => wanted.key(i).toString()),
      ...(of ? [asText(missing.map(i => String(of[i])))] : []),
    ],
  )
  for (const { at, id, text } of rows) {
    const i = missing[at - 1]!
    ids[i] = id
    known?.(i, text)
  }
}

/** New texts in the order of their owners, in which their index takes them fastest. */
function inOwnersOrder(numbers: readonly number[], owners: Int32Array): number[] {
  // Owner and number in one, since numbers are sorted much sooner without a function.
  const order = new Float64Array(numbers.length)
  const step = owners.length
  for (const [k, i] of numbers.entries()) order[k] = owners[i]! * step + i
  return [...order.sort()].map(both => both % step)
}

/** Takes a run of ids and gives the first of them. Nobody else takes any until the end of the transaction. */
async function reserveIds(db: pg.PoolClient, sequence: string, count: number): Promise<number> {
  await db.query("select pg_advisory_xact_lock(hashtext('graph ids'))")
  const { rows } = await db.query<{ last: number }>(
    'select setval($1::regclass, nextval($1::regclass) + $2 - 1) last',
    [sequence, count],
  )
  return rows[0]!.last - count + 1
}
