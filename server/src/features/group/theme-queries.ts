import type { Db } from '../../platform/db/pool.ts'

export type ThemeRecord = {
  id: number
  leadId: number
  name: string | null
  locked: boolean
  leadByHand: boolean
}
export type Membership = { keywordId: number; themeId: number | null; byHand: boolean }

const themeColumns = 'id, lead_id "leadId", name, locked, lead_by_hand "leadByHand"'

export async function manyThemes(db: Db, siteId: number, groupingId: number): Promise<ThemeRecord[]> {
  const { rows } = await db.query<ThemeRecord>(
    `select ${themeColumns} from theme where site_id = $1 and grouping_id = $2 order by id`,
    [siteId, groupingId],
  )
  return rows
}
export async function maybeTheme(
  db: Db,
  siteId: number,
  groupingId: number,
  themeId: number,
): Promise<ThemeRecord | undefined> {
  const { rows } = await db.query<ThemeRecord>(
    `select ${themeColumns} from theme where site_id = $1 and grouping_id = $2 and id = $3`,
    [siteId, groupingId, themeId],
  )
  return rows[0]
}
/** Where keywords of a grouping stand; of all of them without `keywordIds`. */
export async function manyMemberships(
  db: Db,
  siteId: number,
  groupingId: number,
  keywordIds: readonly number[] | null = null,
): Promise<Membership[]> {
  const { rows } = await db.query<Membership>(
    `select keyword_id "keywordId", theme_id "themeId", by_hand "byHand" from theme_keyword
     where site_id = $1 and grouping_id = $2 and ($3::bigint[] is null or keyword_id = any($3)) order by 1`,
    [siteId, groupingId, keywordIds],
  )
  return rows
}
export async function setMemberships(
  db: Db,
  siteId: number,
  groupingId: number,
  rows: readonly Membership[],
): Promise<void> {
  await db.query(
    `update theme_keyword m set theme_id = n.theme_id, by_hand = n.by_hand
     from unnest($3::bigint[], $4::bigint[], $5::boolean[]) n (keyword_id, theme_id, by_hand)
     where m.site_id = $1 and m.grouping_id = $2 and m.keyword_id = n.keyword_id
       and (m.theme_id is distinct from n.theme_id or m.by_hand <> n.by_hand)`,
    [siteId, groupingId, rows.map(row => row.keywordId), rows.map(row => row.themeId), rows.map(row => row.byHand)],
  )
}
/** New themes with these leads, in their order; gives their ids. */
export async function insertThemes(
  db: Db,
  siteId: number,
  groupingId: number,
  themes: ReadonlyArray<{ leadId: number; name: string | null }>,
): Promise<number[]> {
  const { rows } = await db.query<{ id: number }>(
    `insert into theme (site_id, grouping_id, lead_id, name)
     select $1, $2, n.lead_id, n.name from unnest($3::bigint[], $4::text[]) with ordinality n (lead_id, name, position)
     order by n.position returning id`,
    [siteId, groupingId, themes.map(each => each.leadId), themes.map(each => each.name)],
  )
  return rows.map(row => row.id)
}
/** Themes that were removed, under the ids they had. */
export async function restoreThemes(
  db: Db,
  siteId: number,
  groupingId: number,
  themes: readonly ThemeRecord[],
): Promise<void> {
  for (const theme of themes) {
    const [id] = await insertThemes(db, siteId, groupingId, [theme])
    await db.query('update theme set id = $3, locked = $4, lead_by_hand = $5 where site_id = $1 and id = $2', [
      siteId,
      id,
      theme.id,
      theme.locked,
      theme.leadByHand,
    ])
  }
}
export async function updateThemes(db: Db, siteId: number, themes: readonly ThemeRecord[]): Promise<void> {
  await db.query(
    `update theme t set lead_id = n.lead_id, name = n.name, locked = n.locked, lead_by_hand = n.lead_by_hand
     from unnest($2::bigint[], $3::bigint[], $4::text[], $5::boolean[], $6::boolean[])
       n (id, lead_id, name, locked, lead_by_hand)
     where t.site_id = $1 and t.id = n.id`,
    [
      siteId,
      themes.map(each => each.id),
      themes.map(each => each.leadId),
      themes.map(each => each.name),
      themes.map(each => each.locked),
      themes.map(each => each.leadByHand),
    ],
  )
}
export async function deleteThemes(db: Db, siteId: number, themeIds: readonly number[]): Promise<void> {
  if (themeIds.length) await db.query('delete from theme where site_id = $1 and id = any($2)', [siteId, themeIds])
}
/** The most searched keyword of each of some themes; a theme without keywords is not among them. */
export async function manyMostSearched(
  db: Db,
  siteId: number,
  groupingId: number,
  place: string,
  themeIds: readonly number[],
): Promise<Map<number, number>> {
  const { rows } = await db.query<{ themeId: number; keywordId: number }>(
    `select distinct on (m.theme_id) m.theme_id "themeId", m.keyword_id "keywordId" from theme_keyword m
     join keyword k on k.site_id = $1 and k.id = m.keyword_id
     left join demand d on d.site_id = $1 and d.keyword_id = m.keyword_id and d.place = $3
     where m.site_id = $1 and m.grouping_id = $2 and m.theme_id = any($4)
     order by m.theme_id, coalesce(m.searches, d.searches) desc nulls last, k.phrase`,
    [siteId, groupingId, place, themeIds],
  )
  return new Map(rows.map(row => [row.themeId, row.keywordId]))
}
