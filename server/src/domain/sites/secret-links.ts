import { randomBytes } from 'node:crypto'
import { AppError } from '@dew-trail/contract/errors'
import type { SecretLink } from '@dew-trail/contract/secret-links'
import type { Db } from '../../platform/db/pool.ts'

export type SecretKind = 'calendar' | 'alerts' | 'report'
/** What a link shows: of a site, and of one of its reports where `of` is not 0. */
export type SecretOf = { siteId: number; kind: SecretKind; of?: number }

const pathOf: Record<SecretKind, (token: string) => string> = {
  calendar: token => `/calendar/${token}.ics`,
  alerts: token => `/alerts/${token}.atom`,
  report: token => `/shared/report/${token}`,
}

/** The secret address of something, none where nobody made one. */
export async function readSecretLink(db: Db, { siteId, kind, of = 0 }: SecretOf): Promise<SecretLink> {
  const { rows } = await db.query<{ token: string; madeOn: string; endsOn: string | null }>(
    `select token, made_on::text "madeOn", ends_on::text "endsOn" from secret_link
     where site_id = $1 and kind = $2 and of = $3`,
    [siteId, kind, of],
  )
  const [row] = rows
  return row
    ? { address: pathOf[kind](row.token), madeOn: row.madeOn, endsOn: row.endsOn }
    : { address: null, madeOn: null, endsOn: null }
}
/** Makes a new address, which ends the one before. */
export async function renewSecretLink(
  db: Db,
  { siteId, kind, of = 0 }: SecretOf,
  endsOn: string | null = null,
): Promise<SecretLink> {
  await db.query(
    `insert into secret_link (site_id, kind, of, token, ends_on) values ($1, $2, $3, $4, $5)
     on conflict (site_id, kind, of) do update set token = excluded.token, made_on = current_date,
       ends_on = excluded.ends_on`,
    // 192 bits: nobody finds it by trying.
    [siteId, kind, of, randomBytes(24).toString('base64url'), endsOn],
  )
  return readSecretLink(db, { siteId, kind, of })
}
export async function endSecretLink(db: Db, { siteId, kind, of = 0 }: SecretOf): Promise<SecretLink> {
  await db.query('delete from secret_link where site_id = $1 and kind = $2 and of = $3', [siteId, kind, of])
  return readSecretLink(db, { siteId, kind, of })
}
/** What a secret address shows. Throws `notFound` where it never was, was renewed, or has ended; nobody can tell which. */
export async function whatIsShared(db: Db, kind: SecretKind, token: string): Promise<{ siteId: number; of: number }> {
  const { rows } = await db.query<{ siteId: number; of: number }>(
    `select l.site_id "siteId", l.of from secret_link l join site s on s.id = l.site_id and s.removed_at is null
     where kind = $1 and token = $2 and (ends_on is null or ends_on >= current_date)`,
    [kind, token],
  )
  if (!rows[0]) throw new AppError('notFound', 'This is not there, or its address was renewed or has ended')
  return rows[0]
}
