import type { Market } from '@dew-trail/contract/sites'
import { themeName } from '../../domain/themes/queries.ts'
import type { Db } from '../../platform/db/pool.ts'

export async function maybeCurrentGrouping(
  db: Db,
  siteId: number,
  marketId: number,
): Promise<{ id: number; name: string } | undefined> {
  const { rows } = await db.query<{ id: number; name: string }>(
    `select id, name from keyword_grouping where site_id = $1 and market_id = $2 and is_current and removed_at is null`,
    [siteId, marketId],
  )
  return rows[0]
}

export type ThemeKeyword = {
  id: number
  themeId: number
  theme: string
  lead: string
  phrase: string
  family: string
  searches: number | null
  difficulty: number | null
  chance3: number | null
  chance10: number | null
  chance20: number | null
  organicShare: number | null
  pageId: number | null
  pageTitle: string | null
}
/** Keywords of a grouping's themes with their figures and the planned page on which each stands; those of no theme are left out. */
export async function manyThemeKeywords(
  db: Db,
  siteId: number,
  groupingId: number,
  market: Market,
): Promise<ThemeKeyword[]> {
  const { rows } = await db.query<ThemeKeyword>(
    `select k.id, t.id "themeId", ${themeName} theme, l.phrase lead, k.phrase, k.family, d.average searches,
       w.difficulty, w.chance3, w.chance10, w.chance20, w.organic_share "organicShare", p.id "pageId", p.title "pageTitle"
     from theme_keyword m join theme t on t.site_id = $1 and t.id = m.theme_id
     join keyword k on k.site_id = $1 and k.id = m.keyword_id
     join keyword l on l.site_id = $1 and l.id = t.lead_id
     left join demand d on d.site_id = $1 and d.keyword_id = k.id and d.place = $4
     left join weighing w on w.site_id = $1 and w.keyword_id = k.id and w.market_id = $3
     left join page_plan_keyword pk on pk.site_id = $1 and pk.keyword_id = k.id
     left join page_plan p on p.site_id = $1 and p.id = pk.page_id and p.removed_at is null
     where m.site_id = $1 and m.grouping_id = $2 order by t.id, d.average desc nulls last, k.id`,
    [siteId, groupingId, market.id, market.place],
  )
  return rows
}
