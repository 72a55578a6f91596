import type { Db } from '../../platform/db/pool.ts'

export type KeywordState = {
  kept: boolean
  tracked: boolean
  pageId: number | null
  planned: string | null
}
const nothing: KeywordState = { kept: false, tracked: false, pageId: null, planned: null }

/** How far along the trail keywords of a grouping are: kept, planned, tracked. */
export async function keywordStates(
  db: Db,
  siteId: number,
  groupingId: number,
): Promise<(keywordId: number) => KeywordState> {
  const { rows } = await db.query<KeywordState & { id: number }>(
    `select k.id, k.kept_at is not null kept, t.keyword_id is not null tracked, p.id "pageId", p.title planned
     from theme_keyword m join keyword k on k.site_id = $1 and k.id = m.keyword_id
     left join tracked_keyword t on t.site_id = $1 and t.keyword_id = k.id and t.active
     left join page_plan_keyword pk on pk.site_id = $1 and pk.keyword_id = k.id
     left join page_plan p on p.site_id = $1 and p.id = pk.page_id and p.removed_at is null
     where m.site_id = $1 and m.grouping_id = $2
       and (k.kept_at is not null or t.keyword_id is not null or p.id is not null)`,
    [siteId, groupingId],
  )
  const states = new Map(rows.map(({ id, ...state }) => [id, state]))
  return keywordId => states.get(keywordId) ?? nothing
}
