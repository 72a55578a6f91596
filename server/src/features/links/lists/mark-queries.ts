import type { Prospect, ProspectState } from '@dew-trail/contract/prospects'
import type { Db } from '../../../platform/db/pool.ts'
import { graphId } from './link-scope.ts'

/** Sites whose links engines are asked to leave out. */
export async function manyDisavowed(db: Db, siteId: number): Promise<Array<{ domain: string; since: string }>> {
  const { rows } = await db.query<{ domain: string; since: string }>(
    'select domain, since from disavowed where site_id = $1 order by domain',
    [siteId],
  )
  return rows
}
/** Sites of which somebody said that they are of no made network. */
export async function manyCleared(db: Db, siteId: number): Promise<Set<string>> {
  const { rows } = await db.query<{ domain: string }>('select domain from cleared_site where site_id = $1', [siteId])
  return new Set(rows.map(row => row.domain))
}
/** Gives the domains for which something changed. */
export async function setClearedSites(
  db: Db,
  siteId: number,
  domains: readonly string[],
  on: boolean,
): Promise<string[]> {
  const { rows } = await db.query<{ domain: string }>(
    on
      ? `insert into cleared_site (site_id, domain) select $1, d from unnest($2::text[]) d
         on conflict do nothing returning domain`
      : 'delete from cleared_site where site_id = $1 and domain = any($2) returning domain',
    [siteId, domains],
  )
  return rows.map(row => row.domain)
}
/** Gives the domains for which something changed. */
export async function setDisavowedSites(
  db: Db,
  siteId: number,
  domains: readonly string[],
  on: boolean,
): Promise<string[]> {
  const { rows } = await db.query<{ domain: string }>(
    on
      ? `insert into disavowed (site_id, domain) select $1, d from unnest($2::text[]) d on conflict do nothing
        returning domain`
      : 'delete from disavowed where site_id = $1 and domain = any($2) returning domain',
    [siteId, domains],
  )
  return rows.map(row => row.domain)
}

export async function manyProspectDomains(db: Db, siteId: number): Promise<Set<string>> {
  const { rows } = await db.query<{ domain: string }>('select domain from prospect where site_id = $1', [siteId])
  return new Set(rows.map(row => row.domain))
}

export type ProspectRow = Omit<Prospect, 'standing' | 'linksToOwn'>
const columns =
  'id, domain, page, contact, target, anchor, state, remarks, owner, next_day "nextDay", added_on "addedOn", verified_on "verifiedOn", version'
/** Prospects with the standing of their sites, and whether our graph knows a link of them to the own site, the next due first. */
export async function manyProspects(db: Db, siteId: number, ownDomain: string): Promise<Prospect[]> {
  const { rows } = await db.query<Prospect>(
    `with latest as (select max(id) id from graph_snapshot where graph_id = $2)
     select p.*, t.standing, exists (select from linking_site l
         join linked_site o on o.graph_id = $2 and o.id = l.target_site_id and o.domain = $3
         where l.graph_id = $2 and l.source_site_id = s.id and l.there > 0) "linksToOwn"
     from (select ${columns} from prospect where site_id = $1) p
     left join linked_site s on s.graph_id = $2 and s.domain = p.domain
     left join site_standing t on t.graph_id = $2 and t.snapshot_id = (select id from latest) and t.site_id = s.id
     order by p."nextDay" nulls last, p.id`,
    [siteId, graphId, ownDomain],
  )
  return rows
}
export async function maybeProspect(db: Db, siteId: number, prospectId: number): Promise<ProspectRow | undefined> {
  const { rows } = await db.query<ProspectRow>(`select ${columns} from prospect where site_id = $1 and id = $2`, [
    siteId,
    prospectId,
  ])
  return rows[0]
}
/** Adds sites; their contacts are e-mail addresses that the crawler read on them. Gives the ids of those that were not there yet. */
export async function insertProspects(
  db: Db,
  siteId: number,
  sites: ReadonlyArray<{ domain: string; page: string | null }>,
): Promise<Array<{ id: number; domain: string }>> {
  const { rows } = await db.query<{ id: number; domain: string }>(
    `insert into prospect (site_id, domain, page, contact)
     select $1, u.domain, u.page, (select e from linked_site s join linked_page k on k.graph_id = $4
         and k.site_id = s.id join page_content c on c.graph_id = $4 and c.page_id = k.id cross join unnest(c.emails) e
       where s.graph_id = $4 and s.domain = u.domain
       order by split_part(e, '@', 2) = s.domain desc, k.url ~* '(contact|kontakt|imprint|impressum)' desc, e limit 1)
     from unnest($2::text[], $3::text[]) u (domain, page) on conflict (site_id, domain) do nothing
     returning id, domain`,
    [siteId, sites.map(site => site.domain), sites.map(site => site.page), graphId],
  )
  return rows
}
export type ProspectChange = Partial<{
  state: ProspectState
  contact: string | null
  page: string | null
  target: string | null
  anchor: string
  remarks: string
  owner: string
  nextDay: string | null
}>
const columnOf: Record<keyof ProspectChange, string> = {
  state: 'state',
  contact: 'contact',
  page: 'page',
  target: 'target',
  anchor: 'anchor',
  remarks: 'remarks',
  owner: 'owner',
  nextDay: 'next_day',
}
/** The new version; undefined when there is none of that version. */
export async function updateProspect(
  db: Db,
  siteId: number,
  prospectId: number,
  version: number,
  change: ProspectChange,
): Promise<number | undefined> {
  const fields = Object.entries(change).filter(([, value]) => value !== undefined)
  const sets = fields.map(([key], i) => `${columnOf[key as keyof ProspectChange]} = $${i + 4}`)
  const { rows } = await db.query<{ version: number }>(
    `update prospect set ${[...sets, 'version = version + 1'].join(', ')}
     where site_id = $1 and id = $2 and version = $3 returning version`,
    [siteId, prospectId, version, ...fields.map(([, value]) => value)],
  )
  return rows[0]?.version
}
/** Removes prospects and gives what they were. */
export async function deleteProspects(db: Db, siteId: number, prospectIds: readonly number[]): Promise<ProspectRow[]> {
  const { rows } = await db.query<ProspectRow>(
    `delete from prospect where site_id = $1 and id = any($2) returning ${columns}`,
    [siteId, prospectIds],
  )
  return rows
}
/** Puts removed prospects back as they were; those whose site is one again are left out. */
export async function restoreProspects(db: Db, siteId: number, rows: readonly ProspectRow[]): Promise<void> {
  for (const row of rows)
    await db.query(
      `insert into prospect (site_id, domain, page, contact, target, anchor, state, remarks, next_day, added_on,
        verified_on,
         owner)
       values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12) on conflict do nothing`,
      [
        siteId,
        row.domain,
        row.page,
        row.contact,
        row.target,
        row.anchor,
        row.state,
        row.remarks,
        row.nextDay,
        row.addedOn,
        row.verifiedOn,
        row.owner,
      ],
    )
}
/** Notes of placed prospects whose link our graph knows by now that it is there, and gives their domains. */
export async function markVerified(db: Db, siteId: number, ownDomain: string): Promise<string[]> {
  const { rows } = await db.query<{ domain: string }>(
    `update prospect p set verified_on = current_date
     where p.site_id = $1 and p.state = 'placed' and p.verified_on is null and exists (
       select from linked_site s join linking_site l on l.graph_id = $2 and l.source_site_id = s.id and l.there > 0
       join linked_site o on o.graph_id = $2 and o.id = l.target_site_id and o.domain = $3
       where s.graph_id = $2 and s.domain = p.domain)
     returning p.domain`,
    [siteId, graphId, ownDomain],
  )
  return rows.map(row => row.domain).sort()
}
