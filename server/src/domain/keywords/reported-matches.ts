import type { Db } from '../../platform/db/pool.ts'

/** Searches of exactly a wording, of phrases that hold it in its order, of phrases with its words in any; null = not told apart. */
export type ReportedMatch = { exact: number | null; inOrder: number | null; anyOrder: number }
type Answered = { keywordId: number; state: 'known' | 'nothing' | 'failed'; match: ReportedMatch | null }

/** Saves the totals by match that the ads data told with figures; those that it told before and tells no more go. */
export async function saveReportedMatches(
  db: Db,
  siteId: number,
  place: string,
  rows: readonly Answered[],
): Promise<void> {
  const answered = rows.filter(row => row.state !== 'failed')
  const reported = answered.flatMap(({ keywordId, match }) => (match ? { keywordId, ...match } : []))
  await db.query(
    `delete from demand_match where site_id = $1 and place = $2 and source = 'ads' and keyword_id = any($3)
     and not keyword_id = any($4)`,
    [siteId, place, answered.map(row => row.keywordId), reported.map(row => row.keywordId)],
  )
  if (!reported.length) return
  await db.query(
    `insert into demand_match (site_id, keyword_id, place, source, exact, in_order, any_order)
     select $1, id, $2, 'ads', exact, in_order, any_order
     from unnest($3::bigint[], $4::real[], $5::real[], $6::real[]) t (id, exact, in_order, any_order)
     on conflict (site_id, keyword_id, place) do update
       set source = 'ads', exact = excluded.exact, in_order = excluded.in_order, any_order = excluded.any_order`,
    [
      siteId,
      place,
      reported.map(row => row.keywordId),
      reported.map(row => row.exact),
      reported.map(row => row.inOrder),
      reported.map(row => row.anyOrder),
    ],
  )
}
