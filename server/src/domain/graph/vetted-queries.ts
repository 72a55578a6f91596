import type { VettedKind } from '@dew-trail/contract/links'
import type { Db } from '../../platform/db/pool.ts'

/** Vouches for sites that nobody decided on before. */
export async function insertVetted(
  db: Db,
  graphId: number,
  sites: ReadonlyArray<{ domain: string; why: string }>,
): Promise<void> {
  await db.query(
    `insert into vetted_site (graph_id, domain, why) select $1, * from unnest($2::text[], $3::text[])
      on conflict do nothing`,
    [graphId, sites.map(site => site.domain), sites.map(site => site.why)],
  )
}
export type VettedSite = { domain: string; kind: VettedKind; why: string; refused: boolean }
/** What was decided about a site; undefined where nothing was. */
export async function maybeVetted(db: Db, graphId: number, domain: string): Promise<VettedSite | undefined> {
  const { rows } = await db.query<VettedSite>(
    'select domain, kind, why, refused from vetted_site where graph_id = $1 and domain = $2',
    [graphId, domain],
  )
  return rows[0]
}
export async function deleteVetted(db: Db, graphId: number, domain: string): Promise<void> {
  await db.query('delete from vetted_site where graph_id = $1 and domain = $2', [graphId, domain])
}
/** Vouches for a site, or refuses to. */
export async function upsertVetted(db: Db, graphId: number, site: VettedSite): Promise<void> {
  await db.query(
    `insert into vetted_site (graph_id, domain, kind, why, refused) values ($1, $2, $3, $4, $5)
     on conflict (graph_id, domain) do update set kind = excluded.kind, why = excluded.why,
       refused = excluded.refused, added_at = now()`,
    [graphId, site.domain, site.kind, site.why, site.refused],
  )
}
export type VettedRow = { domain: string; kind: VettedKind; why: string; linksTo: number | null }
export async function manyVetted(db: Db, graphId: number): Promise<VettedRow[]> {
  const { rows } = await db.query<VettedRow>(
    `select v.domain, v.kind, v.why, t.links_to_sites "linksTo" from vetted_site v left
      join linked_site s on s.graph_id = v.graph_id and s.domain = v.domain
     left join site_standing t on t.graph_id = v.graph_id and t.site_id = s.id
       and t.snapshot_id = (select max(id) from graph_snapshot where graph_id = $1)
     where v.graph_id = $1 and not v.refused order by v.kind, v.domain`,
    [graphId],
  )
  return rows
}

export type VettedLinkers = { domain: string; institutions: string[]; directories: string[] }
/** Vetted sites with links that are there to these sites. Sites of which no links are known are left out. */
export async function manyVettedLinkers(db: Db, graphId: number, domains: readonly string[]): Promise<VettedLinkers[]> {
  const { rows } = await db.query<VettedLinkers>(
    `select t.domain, coalesce(array_agg(v.domain order by v.domain) filter (where v.kind = 'institution'),
      '{}') institutions,
       coalesce(array_agg(v.domain order by v.domain) filter (where v.kind = 'directory'), '{}') directories
     from linked_site t join link_total k on k.graph_id = $1 and k.target_site_id = t.id
     left join (vetted_site v join linked_site s on s.graph_id = $1 and s.domain = v.domain and not v.refused
       and v.graph_id = $1)
       on s.id <> t.id and exists (select from linking_site l where l.graph_id = $1 and l.target_site_id = t.id
         and l.source_site_id = s.id and l.there > 0)
     where t.graph_id = $1 and t.domain = any($2) group by t.domain`,
    [graphId, domains],
  )
  return rows
}
