import type { Delivery, HookEvent, WebHook } from '@dew-trail/contract/web-hooks'
import type { Db } from '../../platform/db/pool.ts'

export async function manyHooks(db: Db, siteId: number): Promise<WebHook[]> {
  type Row = Omit<WebHook, 'lastGoodAt' | 'lastFailure'> & {
    goodAt: Date | null
    badAt: Date | null
    bad: string | null
  }
  const { rows } = await db.query<Row>(
    `select h.id, h.address, h.events, h.active, h.version, good.tried_at "goodAt", bad.tried_at "badAt", bad.what bad
     from web_hook h
     left join lateral (select tried_at from web_hook_delivery d where d.site_id = h.site_id and d.hook_id = h.id
       and d.state = 'delivered' order by id desc limit 1) good on true
     left join lateral (select tried_at, what from web_hook_delivery d where d.site_id = h.site_id and d.hook_id = h.id
       and d.what is not null and d.state <> 'delivered' order by id desc limit 1) bad on true
     where h.site_id = $1 order by h.id`,
    [siteId],
  )
  return rows.map(({ goodAt, badAt, bad, ...hook }) => ({
    ...hook,
    lastGoodAt: goodAt?.toISOString() ?? null,
    lastFailure: badAt && bad ? { at: badAt.toISOString(), what: bad } : null,
  }))
}
export async function manyDeliveries(db: Db, siteId: number, most: number): Promise<Delivery[]> {
  type Row = Omit<Delivery, 'madeAt' | 'nextTryAt'> & { madeAt: Date; nextTryAt: Date | null }
  const { rows } = await db.query<Row>(
    `select id, hook_id "hookId", event, title, made_at "madeAt", state, tries, next_try_at "nextTryAt", status, what
     from web_hook_delivery where site_id = $1 order by id desc limit $2`,
    [siteId, most],
  )
  return rows.map(row => ({
    ...row,
    madeAt: row.madeAt.toISOString(),
    nextTryAt: row.nextTryAt?.toISOString() ?? null,
  }))
}
export async function insertHook(db: Db, siteId: number, address: string, events: HookEvent[]): Promise<number> {
  const { rows } = await db.query<{ id: number }>(
    'insert into web_hook (site_id, address, events) values ($1, $2, $3) returning id',
    [siteId, address, [...new Set(events)]],
  )
  return rows[0]!.id
}
/** The new version; undefined when there is none of that version. */
export async function updateHook(
  db: Db,
  siteId: number,
  hookId: number,
  version: number,
  change: { address?: string | undefined; events?: HookEvent[] | undefined; active?: boolean | undefined },
): Promise<number | undefined> {
  const { rows } = await db.query<{ version: number }>(
    `update web_hook set address = coalesce($4, address), events = coalesce($5, events), active = coalesce($6, active),
       version = version + 1 where site_id = $1 and id = $2 and version = $3 returning version`,
    [siteId, hookId, version, change.address ?? null, change.events ?? null, change.active ?? null],
  )
  return rows[0]?.version
}
export async function deleteHook(db: Db, siteId: number, hookId: number): Promise<void> {
  await db.query('delete from web_hook where site_id = $1 and id = $2', [siteId, hookId])
}
export type Due = {
  siteId: number
  id: number
  hookId: number
  domain: string
  address: string
  event: Delivery['event']
  data: object
  madeAt: Date
  tries: number
}
const dueColumns = `d.site_id "siteId", d.id, d.hook_id "hookId", s.domain, h.address, d.event, d.data,
  d.made_at "madeAt", d.tries
  from web_hook_delivery d join web_hook h on h.site_id = d.site_id and h.id = d.hook_id
    join site s on s.id = d.site_id`
/** Deliveries whose time has come, oldest first, of hooks that are not paused. */
export async function manyDue(db: Db, most: number): Promise<Due[]> {
  const { rows } = await db.query<Due>(
    `select ${dueColumns} where d.state = 'waiting' and d.next_try_at <= now() and h.active order by d.next_try_at
      limit $1`,
    [most],
  )
  return rows
}
export async function oneTest(db: Db, siteId: number, hookId: number): Promise<Due> {
  const { rows: made } = await db.query<{ id: number }>(
    `insert into web_hook_delivery (site_id, hook_id, event, title, data, next_try_at)
     values ($1, $2, 'test', 'Test', '{}', null) returning id`,
    [siteId, hookId],
  )
  const { rows } = await db.query<Due>(
    `select ${dueColumns}
    where d.site_id = $1 and d.id = $2`,
    [siteId, made[0]!.id],
  )
  return rows[0]!
}
export async function markTried(
  db: Db,
  { siteId, id }: Pick<Due, 'siteId' | 'id'>,
  outcome: { state: Delivery['state']; status: number | null; what: string | null; againInSeconds: number | null },
): Promise<void> {
  await db.query(
    `update web_hook_delivery set state = $3, status = $4, what = $5, tries = tries + 1, tried_at = now(),
       next_try_at = case when $6::integer is not null then now() + make_interval(secs => $6) end
     where site_id = $1 and id = $2`,
    [siteId, id, outcome.state, outcome.status, outcome.what?.slice(0, 500) ?? null, outcome.againInSeconds],
  )
}
/** Has a delivery that failed tried again; false where there is none. */
export async function markAgainDue(db: Db, siteId: number, hookId: number, deliveryId: number): Promise<boolean> {
  const { rowCount } = await db.query(
    `update web_hook_delivery set state = 'waiting', next_try_at = now(), tries = 0
     where site_id = $1 and hook_id = $2 and id = $3 and state = 'failed' and event <> 'test'`,
    [siteId, hookId, deliveryId],
  )
  return (rowCount ?? 0) > 0
}
export async function deleteOldDeliveries(db: Db, days: number): Promise<void> {
  await db.query(
    `delete from web_hook_delivery where state <> 'waiting' and made_at < now() - make_interval(days => $1)`,
    [days],
  )
}
