import type pg from 'pg'

const graphId = 1

/**
 * Linking pages of sites, those of the linking sites of the highest standing first, so many a site; pages read within 30 days are left
 * out.
 */
export async function manyPagesToRead(pool: pg.Pool, domains: readonly string[], most: number): Promise<string[]> {
  const { rows } = await pool.query<{ url: string }>(
    `select distinct p.url from unnest($2::text[]) w (domain)
     join linked_site d on d.graph_id = $1 and d.domain = w.domain
     cross join lateral (
       select l.source_page_id from (
         select source_page_id, source_site_id from link where graph_id = $1 and target_site_id = d.id
           and source_site_id <> d.id and gone_on is null group by 1, 2
       ) l
       left join site_standing t on t.graph_id = $1 and t.site_id = l.source_site_id
         and t.snapshot_id = (select max(id) from graph_snapshot where graph_id = $1)
       where not exists (select from page_content c where c.graph_id = $1 and c.page_id = l.source_page_id
         and c.fetched_at > now() - interval '30 days')
       order by t.standing desc nulls last, l.source_page_id limit $3
     ) best join linked_page p on p.graph_id = $1 and p.id = best.source_page_id`,
    [graphId, domains, most],
  )
  return rows.map(row => row.url)
}
