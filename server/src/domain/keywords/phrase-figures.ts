import type { Db } from '../../platform/db/pool.ts'

/** Searches and CPC of phrases, of those gathered by their demand, else as known; phrases nobody knows are left out. */
export async function manyFigures(
  db: Db,
  siteId: number,
  place: string,
  language: string,
  phrases: readonly string[],
): Promise<Map<string, { searches: number | null; cpc: number | null }>> {
  const { rows } = await db.query<{ phrase: string; searches: number | null; cpc: number | null }>(
    `select p.phrase, coalesce(d.searches, n.searches) searches, coalesce(d.cpc, n.cpc) cpc
      from unnest($4::text[]) p (phrase)
     left join known_keyword n on n.site_id = $1 and n.place = $2 and n.language = $3 and n.phrase = p.phrase
     left join keyword k on k.site_id = $1 and k.language = $3 and k.phrase = p.phrase
     left join demand d on d.site_id = $1 and d.keyword_id = k.id and d.place = $2`,
    [siteId, place, language, phrases],
  )
  return new Map(rows.map(({ phrase, ...row }) => [phrase, row]))
}
