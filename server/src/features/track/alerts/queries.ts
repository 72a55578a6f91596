import type { Alert, AlertKind, AlertRule } from '@dew-trail/contract/alerts'
import type { Db } from '../../../platform/db/pool.ts'

const ruleColumns = 'id, kind, least, list_id "listId", active, version'
export const mostListed = 500

export async function manyRules(db: Db, siteId: number): Promise<AlertRule[]> {
  const { rows } = await db.query<AlertRule>(`select ${ruleColumns} from alert_rule where site_id = $1 order by id`, [
    siteId,
  ])
  return rows
}
export async function maybeRule(db: Db, siteId: number, id: number): Promise<AlertRule | undefined> {
  const { rows } = await db.query<AlertRule>(`select ${ruleColumns} from alert_rule where site_id = $1 and id = $2`, [
    siteId,
    id,
  ])
  return rows[0]
}
export async function insertRule(
  db: Db,
  siteId: number,
  { kind, least, listId, active = true }: Pick<AlertRule, 'kind' | 'least' | 'listId'> & { active?: boolean },
): Promise<AlertRule> {
  const { rows } = await db.query<AlertRule>(
    `insert into alert_rule (site_id, kind, least, list_id, active) values ($1, $2, $3, $4, $5)
      returning ${ruleColumns}`,
    [siteId, kind, least, listId, active],
  )
  return rows[0]!
}
/** The changed rule; undefined where there is none of that version. */
export async function updateRule(
  db: Db,
  siteId: number,
  { id, version, active, least, listId }: Omit<AlertRule, 'kind'>,
): Promise<AlertRule | undefined> {
  const { rows } = await db.query<AlertRule>(
    `update alert_rule set active = $4, least = $5, list_id = $6, version = version + 1
     where site_id = $1 and id = $2 and version = $3 returning ${ruleColumns}`,
    [siteId, id, version, active, least, listId],
  )
  return rows[0]
}
export async function deleteRule(db: Db, siteId: number, id: number): Promise<void> {
  await db.query('delete from alert_rule where site_id = $1 and id = $2', [siteId, id])
}

export type NewAlert = Pick<Alert, 'title' | 'body' | 'keywords' | 'day'>
/** Tells of something; what a rule told of a market and day already is brought up to date. Gives whether anything is new. */
export async function upsertAlert(
  db: Db,
  siteId: number,
  ruleId: number,
  marketId: number,
  { day, title, body, keywords }: NewAlert,
): Promise<boolean> {
  const { rowCount } = await db.query(
    `insert into alert as a (site_id, rule_id, market_id, day, title, body, keywords)
     values ($1, $2, $3, $4, $5, $6, $7)
     on conflict (site_id, rule_id, market_id, day) do update set title = excluded.title, body = excluded.body,
       keywords = excluded.keywords, read_at = null
     where a.title <> excluded.title or a.keywords <> excluded.keywords`,
    [siteId, ruleId, marketId, day, title, body, JSON.stringify(keywords)],
  )
  return rowCount === 1
}
type AlertRow = Omit<Alert, 'read'> & { read: boolean; madeAt: Date; kind: AlertKind }
const alertColumns = `a.id, r.kind, a.market_id "marketId", a.day::text "day", a.title, a.body, a.keywords,
    a.read_at is not null read, a.made_at "madeAt"
  from alert a join alert_rule r on r.site_id = a.site_id and r.id = a.rule_id`
/** The latest alerts, newest first. */
export async function manyAlerts(db: Db, siteId: number, most = mostListed): Promise<AlertRow[]> {
  const { rows } = await db.query<AlertRow>(
    `select ${alertColumns} where a.site_id = $1 order by a.day desc, a.id desc limit $2`,
    [siteId, most],
  )
  return rows
}
export async function countUnread(db: Db, siteId: number): Promise<number> {
  const { rows } = await db.query<{ unread: number }>(
    'select count(*)::integer unread from alert where site_id = $1 and read_at is null',
    [siteId],
  )
  return rows[0]!.unread
}
/** Marks alerts, or all of them, and gives how many are otherwise now. */
export async function setRead(db: Db, siteId: number, ids: number[] | null, read: boolean): Promise<number> {
  const { rowCount } = await db.query(
    `update alert set read_at = case when $3 then now() end
     where site_id = $1 and ($2::bigint[] is null or id = any($2)) and (read_at is null) = $3`,
    [siteId, ids, read],
  )
  return rowCount ?? 0
}
/** Alerts that were not mailed yet, oldest first. */
export async function manyUnmailed(db: Db, siteId: number): Promise<AlertRow[]> {
  const { rows } = await db.query<AlertRow>(
    `select ${alertColumns} where a.site_id = $1 and a.mailed_at is null order by a.day, a.id limit ${mostListed}`,
    [siteId],
  )
  return rows
}
export async function setMailed(db: Db, siteId: number, ids: number[]): Promise<void> {
  await db.query('update alert set mailed_at = now() where site_id = $1 and id = any($2)', [siteId, ids])
}
export async function maybeMailAddress(db: Db, siteId: number): Promise<string | null> {
  const { rows } = await db.query<{ address: string }>('select address from alert_mail where site_id = $1', [siteId])
  return rows[0]?.address ?? null
}
export async function setMailAddress(db: Db, siteId: number, address: string | null): Promise<void> {
  await db.query(
    address === null
      ? 'delete from alert_mail where site_id = $1 and $2::text is null'
      : `insert into alert_mail (site_id, address) values ($1, $2)
         on conflict (site_id) do update set address = excluded.address`,
    [siteId, address],
  )
}
/** Ids of keywords with a label. */
export async function manyLabelled(db: Db, siteId: number, listId: number): Promise<Set<number>> {
  const { rows } = await db.query<{ id: number }>(
    'select keyword_id id from list_keyword where site_id = $1 and list_id = $2',
    [siteId, listId],
  )
  return new Set(rows.map(row => row.id))
}
