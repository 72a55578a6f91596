import type { AccessKey } from '@dew-trail/contract/access-keys'
import type { SiteRole } from '@dew-trail/contract/people'
import type { Db } from '../../platform/db/pool.ts'

/** Keys that reach a site: its own and those of all sites. */
export async function manyAccessKeys(db: Db, siteId: number): Promise<AccessKey[]> {
  const { rows } = await db.query<
    Omit<AccessKey, 'madeAt' | 'lastUsedAt' | 'endedAt'> & {
      madeAt: Date
      lastUsedAt: Date | null
      endedAt: Date | null
    }
  >(
    `select id, name, hint, role, in_site is null "everySite", made_by "madeBy", made_at "madeAt",
      last_used_at "lastUsedAt",
       ended_at "endedAt" from access_key where in_site = $1 or in_site is null order by id desc`,
    [siteId],
  )
  return rows.map(row => ({
    ...row,
    madeAt: row.madeAt.toISOString(),
    lastUsedAt: row.lastUsedAt?.toISOString() ?? null,
    endedAt: row.endedAt?.toISOString() ?? null,
  }))
}
export async function insertAccessKey(
  db: Db,
  key: { inSite: number | null; name: string; tokenHash: Buffer; hint: string; role: SiteRole; madeBy: string },
): Promise<number> {
  const { rows } = await db.query<{ id: number }>(
    `insert into access_key (in_site, name, token_hash, hint, role, made_by) values ($1, $2, $3, $4, $5, $6)
      returning id`,
    [key.inSite, key.name, key.tokenHash, key.hint, key.role, key.madeBy],
  )
  return rows[0]!.id
}
export async function maybeAccessKey(
  db: Db,
  siteId: number,
  keyId: number,
): Promise<{ id: number; name: string; inSite: number | null } | undefined> {
  const { rows } = await db.query<{ id: number; name: string; inSite: number | null }>(
    'select id, name, in_site "inSite" from access_key where id = $1 and (in_site = $2 or in_site is null)',
    [keyId, siteId],
  )
  return rows[0]
}
export async function markKeyEnded(db: Db, keyId: number): Promise<void> {
  await db.query('update access_key set ended_at = coalesce(ended_at, now()) where id = $1', [keyId])
}
/** Whose key this is; undefined for one that is not known or was ended. */
export async function maybeKeyUser(
  db: Db,
  tokenHash: Buffer,
): Promise<{ id: number; name: string; role: SiteRole; inSite: number | null } | undefined> {
  const { rows } = await db.query<{ id: number; name: string; role: SiteRole; inSite: number | null }>(
    'select id, name, role, in_site "inSite" from access_key where token_hash = $1 and ended_at is null',
    [tokenHash],
  )
  return rows[0]
}
