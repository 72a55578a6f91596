import type { SiteRole } from '@dew-trail/contract/people'
import type { Db } from '../../platform/db/pool.ts'

export type AccountRow = {
  id: number
  email: string
  name: string
  passwordHash: string
  isAdministrator: boolean
  createdAt: Date
  lastSeenAt: Date | null
  endedAt: Date | null
}
const columns = `a.id, a.email, a.name, a.password_hash "passwordHash", a.is_administrator "isAdministrator", a.created_at "createdAt",
  a.last_seen_at "lastSeenAt", a.ended_at "endedAt"`

export async function countAccounts(db: Db): Promise<number> {
  return (await db.query<{ n: number }>('select count(*) n from account')).rows[0]!.n
}
export async function manyAccounts(db: Db): Promise<AccountRow[]> {
  return (await db.query<AccountRow>(`select ${columns} from account a order by lower(a.name)`)).rows
}
export async function maybeAccount(
  db: Db,
  by: { id: number } | { email: string } | { name: string },
): Promise<AccountRow | undefined> {
  const [[field, value]] = Object.entries(by) as [[string, unknown]]
  return (await db.query<AccountRow>(`select ${columns} from account a where a.${field} = $1`, [value])).rows[0]
}
/** The new account's id, or undefined where the address or the name is taken. */
export async function insertAccount(
  db: Db,
  account: Pick<AccountRow, 'email' | 'name' | 'passwordHash' | 'isAdministrator'>,
): Promise<number | undefined> {
  const { rows } = await db.query<{ id: number }>(
    `insert into account (email, name, password_hash, is_administrator) values ($1, $2, $3, $4)
     on conflict do nothing returning id`,
    [account.email, account.name, account.passwordHash, account.isAdministrator],
  )
  return rows[0]?.id
}
export async function updateAccount(
  db: Db,
  accountId: number,
  change: Partial<Pick<AccountRow, 'name' | 'passwordHash' | 'isAdministrator'>> & { ended?: boolean },
): Promise<void> {
  await db.query(
    `update account set name = coalesce($2, name), password_hash = coalesce($3, password_hash),
       is_administrator = coalesce($4, is_administrator),
       ended_at = case when $5::boolean is null then ended_at when $5 then coalesce(ended_at, now()) end
       where id = $1`,
    [accountId, change.name ?? null, change.passwordHash ?? null, change.isAdministrator ?? null, change.ended ?? null],
  )
}
/** Administrators who may sign in, other than this one; holds all of them until the transaction ends, so that not both of two leave. */
export async function countOtherAdministrators(db: Db, accountId: number): Promise<number> {
  const { rows } = await db.query<{ id: number }>(
    'select id from account where is_administrator and ended_at is null for update',
  )
  return rows.filter(row => row.id !== accountId).length
}

export type MemberRow = { siteId: number; domain: string; accountId: number; role: SiteRole }
export async function manyMemberships(db: Db, of: { siteId?: number; accountId?: number } = {}): Promise<MemberRow[]> {
  const { rows } = await db.query<MemberRow>(
    `select m.site_id "siteId", s.domain, m.account_id "accountId", m.role from site_member m
      join site s on s.id = m.site_id
     where ($1::bigint is null or m.site_id = $1) and ($2::bigint is null or m.account_id = $2) order by s.domain`,
    [of.siteId ?? null, of.accountId ?? null],
  )
  return rows
}
/** What somebody may do in a site from now on; null: nothing. */
export async function setMembership(db: Db, siteId: number, accountId: number, role: SiteRole | null): Promise<void> {
  if (role === null)
    await db.query('delete from site_member where site_id = $1 and account_id = $2', [siteId, accountId])
  else
    await db.query(
      `insert into site_member (site_id, account_id, role) values ($1, $2, $3)
       on conflict (site_id, account_id) do update set role = excluded.role`,
      [siteId, accountId, role],
    )
}

export type SessionRow = {
  id: number
  accountId: number
  begunAt: Date
  lastSeenAt: Date
  address: string
  agent: string
}
/** Days after which a browser that was not used must sign in again. */
export const sessionDays = 30
const stillGood = `last_seen_at > now() - interval '${sessionDays} days'`
export async function insertSession(
  db: Db,
  session: { tokenHash: Buffer; accountId: number; address: string; agent: string },
): Promise<void> {
  await db.query('insert into session (token_hash, account_id, address, agent) values ($1, $2, $3, $4)', [
    session.tokenHash,
    session.accountId,
    session.address.slice(0, 100),
    session.agent.slice(0, 300),
  ])
}
export async function manySessions(db: Db, accountId: number): Promise<SessionRow[]> {
  const { rows } = await db.query<SessionRow>(
    `select id, account_id "accountId", begun_at "begunAt", last_seen_at "lastSeenAt", address, agent from session
     where account_id = $1 and ${stillGood} order by last_seen_at desc`,
    [accountId],
  )
  return rows
}
/** Ends the sessions of an account, but for one to be spared. */
export async function deleteSessions(db: Db, accountId: number, spared: number | null = null): Promise<number> {
  const { rowCount } = await db.query('delete from session where account_id = $1 and id is distinct from $2::bigint', [
    accountId,
    spared,
  ])
  return rowCount ?? 0
}
export async function deleteSession(db: Db, sessionId: number): Promise<void> {
  await db.query('delete from session where id = $1', [sessionId])
}
export type SignedIn = {
  sessionId: number
  accountId: number
  name: string
  isAdministrator: boolean
  sites: Record<string, SiteRole> | null
}
/** Whose browser this is; undefined where the session has ended, or the account. */
export async function maybeSignedIn(db: Db, tokenHash: Buffer): Promise<SignedIn | undefined> {
  const { rows } = await db.query<SignedIn>(
    `select s.id "sessionId", a.id "accountId", a.name, a.is_administrator "isAdministrator",
       (select json_object_agg(m.site_id, m.role) from site_member m where m.account_id = a.id) sites
     from session s join account a on a.id = s.account_id
     where s.token_hash = $1 and a.ended_at is null and s.${stillGood}`,
    [tokenHash],
  )
  return rows[0]
}
/** Writes down which sessions, accounts and keys were used; together, since requests write nothing themselves. */
export async function saveUses(db: Db, uses: { sessions: Map<number, Date>; keys: Map<number, Date> }): Promise<void> {
  if (uses.sessions.size) {
    await db.query(
      `update session s set last_seen_at = u.at from unnest($1::bigint[], $2::timestamptz[]) u (id, at)
        where s.id = u.id`,
      [[...uses.sessions.keys()], [...uses.sessions.values()]],
    )
    await db.query(
      `update account a set last_seen_at = s.at from (select account_id, max(last_seen_at) at from session
         where id = any($1) group by 1) s where a.id = s.account_id`,
      [[...uses.sessions.keys()]],
    )
  }
  if (uses.keys.size)
    await db.query(
      `update access_key k set last_used_at = u.at from unnest($1::bigint[], $2::timestamptz[]) u (id, at)
        where k.id = u.id`,
      [[...uses.keys.keys()], [...uses.keys.values()]],
    )
}

export type InvitationRow = {
  id: number
  email: string
  isAdministrator: boolean
  accountId: number | null
  sites: Array<{ siteId: number; role: SiteRole }>
  madeBy: string
  endsAt: Date
}
const invitationColumns = `i.id, i.email, i.is_administrator "isAdministrator", i.account_id "accountId", i.sites, i.made_by "madeBy",
  i.ends_at "endsAt"`
export async function insertInvitation(
  db: Db,
  invitation: Omit<InvitationRow, 'id' | 'endsAt'> & { tokenHash: Buffer; days: number },
): Promise<void> {
  await db.query(
    `insert into invitation (token_hash, email, is_administrator, account_id, sites, made_by, ends_at)
     values ($1, $2, $3, $4, $5, $6, now() + make_interval(days => $7))`,
    [
      invitation.tokenHash,
      invitation.email,
      invitation.isAdministrator,
      invitation.accountId,
      JSON.stringify(invitation.sites),
      invitation.madeBy,
      invitation.days,
    ],
  )
}
/** Open invitations to a site. */
export async function manyInvitations(db: Db, siteId: number): Promise<InvitationRow[]> {
  const { rows } = await db.query<InvitationRow>(
    `select ${invitationColumns} from invitation i where i.ends_at > now() and i.account_id is null
       and i.sites @> jsonb_build_array(jsonb_build_object('siteId', $1::bigint)) order by i.id`,
    [siteId],
  )
  return rows
}
/** An open invitation, held until the transaction ends. */
export async function maybeInvitation(db: Db, tokenHash: Buffer): Promise<InvitationRow | undefined> {
  const { rows } = await db.query<InvitationRow>(
    `select ${invitationColumns} from invitation i where i.token_hash = $1 and i.ends_at > now() for update`,
    [tokenHash],
  )
  return rows[0]
}
export async function deleteInvitation(db: Db, invitationId: number): Promise<void> {
  await db.query('delete from invitation where id = $1', [invitationId])
}
