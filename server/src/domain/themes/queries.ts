import { nextRevision } from '../../platform/db/site-partition.ts'
import type { Db } from '../../platform/db/pool.ts'

/** What a theme is called: by its name, else by its lead (`t`: theme, `l`: the keyword that leads it). */
export const themeName = 'coalesce(t.name, l.phrase)'

/** The theme of each keyword, or of some, in the current grouping of a market; keywords in none are not among them. */
export async function manyCurrentThemes(
  db: Db,
  siteId: number,
  marketId: number,
  keywordIds: readonly number[] | null = null,
): Promise<Map<number, string>> {
  const { rows } = await db.query<{ keywordId: number; theme: string }>(
    `select m.keyword_id "keywordId", ${themeName} theme from keyword_grouping g
     join theme_keyword m on m.site_id = $1 and m.grouping_id = g.id
     join theme t on t.site_id = $1 and t.id = m.theme_id
     join keyword l on l.site_id = $1 and l.id = t.lead_id
     where g.site_id = $1 and g.market_id = $2 and g.is_current and g.removed_at is null
       and ($3::bigint[] is null or m.keyword_id = any($3))`,
    [siteId, marketId, keywordIds],
  )
  return new Map(rows.map(row => [row.keywordId, row.theme]))
}

/** Gives keywords of a grouping a new revision, since their rows show their theme; of one that is not current no row shows any. */
export async function touchMembers(
  db: Db,
  siteId: number,
  groupingId: number,
  keywordIds: readonly number[] | null = null,
): Promise<void> {
  await db.query(
    `update keyword k set revision = ${nextRevision(siteId)} from theme_keyword m, keyword_grouping g
     where k.site_id = $1 and m.site_id = $1 and m.grouping_id = $2 and m.keyword_id = k.id
       and g.site_id = $1 and g.id = $2 and g.is_current and ($3::bigint[] is null or k.id = any($3))`,
    [siteId, groupingId, keywordIds],
  )
}
