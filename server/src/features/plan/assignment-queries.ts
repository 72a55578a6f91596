import type { Market } from '@dew-trail/contract/sites'
import { familyKey } from '@dew-trail/core/words/family-key'
import { themeName } from '../../domain/themes/queries.ts'
import type { Db } from '../../platform/db/pool.ts'

export async function maybeCurrentGrouping(
  db: Db,
  siteId: number,
  marketId: number,
): Promise<{ id: number; name: string } | undefined> {
  const { rows } = await db.query<{ id: number; name: string }>(
    `select id, name from keyword_grouping where site_id = $1 and market_id = $2 and is_current
      and removed_at is null`,
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
const columns = `k.phrase, k.family, d.searches, w.difficulty, w.chance3, w.chance10, w.chance20,
  w.organic_share "organicShare", p.id "pageId", p.title "pageTitle"`
/** Figures of keywords `k` in a market ($2, its place $3) and the planned page on which each stands. */
const joins = `left join demand d on d.site_id = $1 and d.keyword_id = k.id and d.place = $3
  left join weighing w on w.site_id = $1 and w.keyword_id = k.id and w.market_id = $2
  left join page_plan_keyword pk on pk.site_id = $1 and pk.keyword_id = k.id
  left join page_plan p on p.site_id = $1 and p.id = pk.page_id and p.removed_at is null`

/** Keywords of a grouping's themes with their figures and the planned page on which each stands; those of no theme are left out. */
export async function manyThemeKeywords(
  db: Db,
  siteId: number,
  groupingId: number,
  market: Market,
): Promise<ThemeKeyword[]> {
  const { rows } = await db.query<ThemeKeyword>(
    `select k.id, t.id "themeId", ${themeName} theme, l.phrase lead, ${columns}
     from theme_keyword m join theme t on t.site_id = $1 and t.id = m.theme_id
     join keyword k on k.site_id = $1 and k.id = m.keyword_id
     join keyword l on l.site_id = $1 and l.id = t.lead_id ${joins}
     where m.site_id = $1 and m.grouping_id = $4 order by t.id, d.searches desc nulls last, k.id`,
    [siteId, market.id, market.place, groupingId],
  )
  return rows
}

/** Kept keywords, most searched first; forms of one keyword make a theme under the most searched of them, whose id is the theme's. */
export async function manyKeptKeywords(db: Db, siteId: number, market: Market): Promise<ThemeKeyword[]> {
  const { rows } = await db.query<Omit<ThemeKeyword, 'themeId' | 'theme' | 'lead'>>(
    `select k.id, ${columns} from keyword k ${joins}
     where k.site_id = $1 and k.kept_at is not null and k.language = $4 order by d.searches desc nulls last, k.id`,
    [siteId, market.id, market.place, market.language],
  )
  const leads = new Map<string, { id: number; phrase: string }>()
  return rows.map(row => {
    const key = familyKey(row.phrase, market.language)
    const lead = leads.get(key) ?? row
    leads.set(key, lead)
    return { ...row, themeId: lead.id, theme: lead.phrase, lead: lead.phrase }
  })
}
