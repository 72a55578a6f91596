import type { Condition, Sort } from '@dew-trail/core/tables/column-spec'
import { radixOrder } from '@dew-trail/core/tables/radix-order'
import { type Cell, rowTest } from '@dew-trail/core/tables/row-tests'
import { languageOfCode } from '@dew-trail/core/links/link-columns'
import { linkKinds, linkRegions, relTokens, bitsIn } from '@dew-trail/core/links/link-codes'
import { pullOf } from '@dew-trail/core/links/standing'
import type pg from 'pg'
import { maybePageScale } from '../profile-queries.ts'
import { dayText, type LinkPack, memoLater } from './link-pack.ts'
import { graphId, type LinkScope } from './link-scope.ts'
import { countsBySite } from './list-queries.ts'
import { isSearched, manyTexts, searchTexts } from './search-link-texts.ts'
import { readPageFacts } from './page-facts.ts'

/** The cell of a link; with `id` the cell is of that number, which many links share, such as their site's. */
type LinkCells = { id: (i: number) => number; cell: (id: number) => Cell }

/** Links (places in the pack) of `order` that meet the conditions, in the order wanted. Columns are those of `linkTable`. */
export async function siftLinks(
  pool: pg.Pool,
  pack: LinkPack,
  scope: LinkScope,
  order: Uint32Array,
  { where, sort }: { where: readonly Condition[]; sort: readonly Sort[] },
): Promise<Uint32Array> {
  let kept = order
  // What is at hand first: texts that the database searches cost most.
  for (const condition of where.toSorted((a, b) => Number(isSearched(a.column)) - Number(isSearched(b.column)))) {
    const test = isSearched(condition.column)
      ? await searchTexts(pool, pack, scope, condition)
      : testOf(await cellsOf(pool, pack, scope, condition.column), condition)
    kept = keep(kept, test)
  }
  for (const { column, down } of sort.toReversed()) {
    const cells = isSearched(column)
      ? await manyTexts(pool, pack, scope, column, kept)
      : await cellsOf(pool, pack, scope, column)
    kept = radixOrder(kept, sortKeys(cells, kept, down, pack.links.count))
  }
  return kept
}

/** The numbers that pass, in their order: of two million the array's own filter takes twice the time. */
function keep(numbers: Uint32Array, test: (number: number) => boolean): Uint32Array {
  const kept = new Uint32Array(numbers.length)
  let filled = 0
  for (let i = 0; i < numbers.length; i++) if (test(numbers[i]!)) kept[filled++] = numbers[i]!
  return kept.subarray(0, filled)
}

/** Ids up to this are looked up in an array, which a map of two million look-ups takes three times as long for. */
const mostDense = 4_000_000
function testOf({ id, cell }: LinkCells, condition: Condition): (i: number) => boolean {
  const test = rowTest(condition, cell)
  // By id + 1, as −1 stands for unknown: 0 = not tested, 1 = passes, 2 = does not.
  let dense = new Uint8Array(1_024)
  const others = new Map<number, boolean>()
  return i => {
    const of = id(i)
    if (of < -1 || of > mostDense || !Number.isInteger(of)) {
      let passes = others.get(of)
      if (passes === undefined) others.set(of, (passes = test(of)))
      return passes
    }
    if (of + 1 >= dense.length) {
      const larger = new Uint8Array(Math.max(2 * dense.length, of + 2))
      larger.set(dense)
      dense = larger
    }
    if (dense[of + 1] === 0) dense[of + 1] = test(of) ? 1 : 2
    return dense[of + 1] === 1
  }
}

const last = Number.MAX_VALUE
/** A number for each link that sorts upwards as the column is wanted; unknown comes last. */
function sortKeys({ id, cell }: LinkCells, rows: Uint32Array, down: boolean, count: number): Float64Array {
  const distinct = new Map<number, Cell>()
  for (const i of rows) if (!distinct.has(id(i))) distinct.set(id(i), cell(id(i)))
  const sign = down ? -1 : 1
  const ranks = new Map<number, number>()
  const texts = [...new Set([...distinct.values()].filter(value => typeof value === 'string' && value !== ''))].sort(
    (a, b) => (a! < b! ? -1 : 1),
  )
  const positions = new Map(texts.map((text, position) => [text, position]))
  for (const [of, value] of distinct) {
    const number = typeof value === 'number' ? value : positions.get(value)
    ranks.set(of, number === undefined ? last : sign * number || 0)
  }
  const keys = new Float64Array(count)
  for (const i of rows) keys[i] = ranks.get(id(i))!
  return keys
}

/** What a column says of the links of a pack. */
async function cellsOf(pool: pg.Pool, pack: LinkPack, scope: LinkScope, column: string): Promise<LinkCells> {
  const { links } = pack
  const day = (of: Int32Array): LinkCells => ({ id: i => of[i]!, cell: dayText })
  switch (column) {
    case 'domain': {
      const names = await namesOf(pool, pack, 'site')
      return { id: i => links.site[i]!, cell: id => names.get(id) ?? null }
    }
    case 'anchor': {
      const names = await namesOf(pool, pack, 'anchor')
      return { id: i => links.anchor[i]!, cell: id => names.get(id) ?? null }
    }
    case 'lands': {
      const names = await namesOf(pool, pack, 'target')
      return { id: i => links.target[i]!, cell: id => names.get(id) ?? null }
    }
    case 'standing':
      return { id: i => links.site[i]!, cell: id => pack.sites.get(id)?.standing ?? null }
    case 'rel':
      return { id: i => links.rel[i]!, cell: code => relTokens(code).join(' and ') || 'follow' }
    case 'kind':
      return { id: i => links.kind[i]!, cell: code => linkKinds[code]! }
    case 'region':
      return { id: i => links.region[i]!, cell: code => linkRegions[code] ?? null }
    case 'linkedAround':
      return { id: i => links.around[i]!, cell: percent => (percent === 255 ? null : percent / 100) }
    case 'language':
      return { id: i => links.language[i]!, cell: languageOfCode }
    case 'sources':
      return { id: i => links.seenBy[i]!, cell: bitsIn }
    case 'ofSite': {
      const counts = countsBySite(pack, scope)
      return { id: i => links.site[i]!, cell: id => counts.get(id) ?? null }
    }
    case 'firstSeen':
      return day(links.first)
    case 'lastSeen':
      return day(links.last)
    case 'goneOn':
      return day(links.gone)
    default:
      return pageCells(pool, pack, scope, column)
  }
}

/** Facts of the linking pages, read from the database when a condition or column first needs them. */
async function pageCells(pool: pg.Pool, pack: LinkPack, scope: LinkScope, column: string): Promise<LinkCells> {
  const { linksOut, shares, verified, rank } = await readPageFacts(pool, pack, scope)
  if (column === 'verifiedOn') return { id: i => verified[i]!, cell: dayText }
  if (column === 'linksOut') return { id: i => linksOut[i]!, cell: count => (count < 0 ? null : count) }
  if (column === 'shares') return { id: i => shares[i]!, cell: count => (count < 0 ? null : count) }
  const scale = await maybePageScale(pool, graphId)
  const { rel } = pack.links
  return {
    id: i => i,
    cell: i =>
      !scale || Number.isNaN(rank[i]!) || linksOut[i]! < 0 || rel[i] !== 0
        ? null
        : pullOf(rank[i]!, linksOut[i]!, scale.pages, scale.floor, Math.max(scale.reference, scale.floor * 1.001)),
  }
}

const namedIn = {
  site: ['linked_site', 'domain'],
  anchor: ['anchor_text', 'text'],
  target: ['linked_page', 'url'],
} as const
/** Names of all linking sites, anchors or pages that the links of a pack lead to, by id. */
function namesOf(pool: pg.Pool, pack: LinkPack, of: keyof typeof namedIn): Promise<Map<number, string>> {
  return memoLater(pack, `names ${of}`, async () => {
    const [table, column] = namedIn[of]
    const { rows } = await pool.query<{ id: number; name: string }>(
      `select id, ${column} name from ${table} where graph_id = $1 and id = any($2)`,
      [graphId, [...new Set(pack.links[of])]],
    )
    return new Map(rows.map(row => [row.id, row.name]))
  })
}
