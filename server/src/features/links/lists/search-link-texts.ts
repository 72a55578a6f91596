import { AppError } from '@dew-trail/contract/errors'
import type { Condition } from '@dew-trail/core/tables/column-spec'
import { type Cell, rowTest } from '@dew-trail/core/tables/row-tests'
import { readText } from '@dew-trail/core/tables/text-parts'
import type pg from 'pg'
import type { LinkPack } from './link-pack.ts'
import { graphId, type LinkScope } from './link-scope.ts'

/** Columns of texts that stay in the database: of linking pages, and the words around a link. */
const textSql = { source: 'p.url', title: 'c.title', contact: 'c.emails[1]', around: 'l.around' } as const
type TextColumn = keyof typeof textSql
export const isSearched = (column: string): column is TextColumn => column in textSql

/** By texts so many links are put in order at most: they are read for it. */
const mostOrdered = 200_000

/** Whether each link of a pack meets a condition on a text; the database finds what comes near, and the condition itself decides. */
export async function searchTexts(
  pool: pg.Pool,
  pack: LinkPack,
  scope: LinkScope,
  condition: Condition,
): Promise<(i: number) => boolean> {
  const column = condition.column as TextColumn
  const leavesOut = condition.op === 'without' || condition.op === 'unknown'
  // Of a condition that leaves rows out it is found which rows those are: they are fewer.
  const found: Condition =
    condition.op === 'unknown'
      ? { column, op: 'known' }
      : condition.op === 'without'
        ? { column, op: 'has', value: anyOf(condition.value) }
        : condition
  if (found.op === 'has' && !readText(found.value).length) return () => true
  const near = found.op === 'has' ? nearPatterns(found.value) : null
  const texts = await queryTexts(pool, scope, column, near)
  const test = rowTest(found, at => texts[at]!.text)
  const keys = new Set(texts.filter((_, at) => test(at)).map(({ key }) => key))
  const keyOf = keysOf(pack, column)
  return i => keys.has(keyOf(i)) !== leavesOut
}
/** Words that were typed to be left out, each of them alone, as what finds any of them. */
const anyOf = (typed: string): string =>
  readText(typed)
    .flat()
    .map(part => (part.kind === 'part' ? part.text : `"${part.text}"`))
    .join(' or ')

/** Patterns of which a text that has what was typed meets at least one; null where all texts may. */
function nearPatterns(typed: string): string[] | null {
  const pieces = readText(typed).map(
    parts => parts.flatMap(part => part.text.split(/[\s*]+/)).sort((a, b) => b.length - a.length)[0]!,
  )
  return pieces.every(piece => piece.length > 1) ? pieces.map(piece => `%${piece.replace(/[%_\\]/g, '\\$&')}%`) : null
}

/** How a link is told from others in what the database gives: by its page, or by all of its key. */
function keysOf({ links }: LinkPack, column: TextColumn): (i: number) => number | string {
  if (column !== 'around') return i => links.page[i]!
  return i => `${links.page[i]} ${links.target[i]} ${links.anchor[i]} ${links.rel[i]}`
}

async function queryTexts(
  pool: pg.Pool,
  { siteNumber }: LinkScope,
  column: TextColumn,
  near: readonly string[] | null,
): Promise<Array<{ key: number | string; text: string }>> {
  const text = textSql[column]
  const isNear = `($3::text[] is null or ${text} ilike any($3))`
  const { rows } = await pool.query<{ key: number | string; text: string }>(
    column === 'around'
      ? `select concat_ws(' ', l.source_page_id, l.target_page_id, l.anchor_id, l.rel) key, l.around "text" from link l
         where l.graph_id = $1 and l.target_site_id = $2 and l.around is not null and ${isNear}`
      : `select p.id key, ${text} "text" from linking_site s
         join linked_page p on p.graph_id = $1 and p.site_id = s.source_site_id
         ${column === 'source' ? '' : 'join page_content c on c.graph_id = $1 and c.page_id = p.id'}
         where s.graph_id = $1 and s.target_site_id = $2 and ${text} is not null and ${isNear}`,
    [graphId, siteNumber, near],
  )
  return rows
}

/** Texts of a column for some links, to put them in order. Throws `badInput` for too many. */
export async function manyTexts(
  pool: pg.Pool,
  pack: LinkPack,
  scope: LinkScope,
  column: string,
  rows: Uint32Array,
): Promise<{ id: (i: number) => number; cell: (i: number) => Cell }> {
  if (rows.length > mostOrdered)
    throw new AppError(
      'badInput',
      `${rows.length.toLocaleString('en')} links are too many to be put in
        order by their ${column === 'source' ? 'pages' : 'texts'}; add a condition first`,
    )
  const texts = new Map((await queryTexts(pool, scope, column as TextColumn, null)).map(row => [row.key, row.text]))
  const keyOf = keysOf(pack, column as TextColumn)
  return { id: i => i, cell: i => texts.get(keyOf(i)) ?? null }
}
