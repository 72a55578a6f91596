import type { ReportedMatch } from '../keywords/reported-matches.ts'
import type { KeywordSpot, PageState, WorkKind } from '@dew-trail/contract/plan'
import { pageKey } from '../pages/page-key.ts'
import type { Db } from '../../platform/db/pool.ts'

export type PageRow = {
  id: number
  title: string
  address: string | null
  existing: boolean
  kind: WorkKind
  mergeInto: number | null
  effort: number | null
  owner: string
  notBefore: string | null
  mustBeIn: boolean
  deadline: string | null
  state: PageState
  remarks: string
  publishedOn: string | null
  doneOn: string | null
  pageKey: string | null
  version: number
}
/** Fields of a page that a change names, with their columns. */
const changeable = {
  title: 'title',
  address: 'address',
  kind: 'kind',
  mergeInto: 'merge_into',
  effort: 'effort',
  owner: 'owner',
  notBefore: 'not_before',
  mustBeIn: 'must_be_in',
  deadline: 'deadline',
  state: 'state',
  remarks: 'remarks',
  doneOn: 'done_on',
} as const
export type PageChange = Partial<Pick<PageRow, keyof typeof changeable | 'version'>>
export type PageKeywordRow = {
  pageId: number
  id: number
  phrase: string
  family: string
  searches: number | null
  hidden: boolean
  cpc: number | null
  match: ReportedMatch | null
  difficulty: number | null
  chance3: number | null
  chance10: number | null
  chance20: number | null
  organicShare: number | null
  tracked: boolean
  spot: KeywordSpot | null
  months: Array<number | null> | null
  monthsFrom: string | null
  seasonal: boolean
}

const pageColumns = `id, title, address, existing, kind, merge_into "mergeInto", effort, owner, not_before::text "notBefore",
  must_be_in "mustBeIn", deadline, state, remarks, published_on::text "publishedOn", done_on::text "doneOn", page_key "pageKey", version`

export async function manyPages(db: Db, siteId: number): Promise<PageRow[]> {
  const { rows } = await db.query<PageRow>(
    `select ${pageColumns} from page_plan
     where site_id = $1 and removed_at is null order by deadline nulls last, id`,
    [siteId],
  )
  return rows
}
export async function manyPageKeywords(
  db: Db,
  siteId: number,
  marketId: number,
  place: string,
): Promise<PageKeywordRow[]> {
  const { rows } = await db.query<PageKeywordRow>(
    `select pk.page_id "pageId", k.id, k.phrase, k.family, d.searches, d.hidden_searches is not null hidden, d.cpc,
      w.difficulty, w.chance3, w.chance10, w.chance20,
       w.organic_share "organicShare", t.keyword_id is not null tracked, pk.spot, d.months,
       d.months_from::text "monthsFrom", coalesce(cardinality(d.peaks), 0) > 0 seasonal,
       case when m.keyword_id is not null then
         json_build_object('exact', m.exact, 'inOrder', m.in_order, 'anyOrder', m.any_order) end match
     from page_plan_keyword pk join keyword k on k.site_id = pk.site_id and k.id = pk.keyword_id
       left join demand d on d.site_id = pk.site_id and d.keyword_id = k.id and d.place = $3
       left join demand_match m on m.site_id = pk.site_id and m.keyword_id = k.id and m.place = $3
       left join weighing w on w.site_id = pk.site_id and w.keyword_id = k.id and w.market_id = $2
       left join tracked_keyword t on t.site_id = pk.site_id and t.keyword_id = k.id and t.active
     where pk.site_id = $1 order by pk.at nulls last, d.searches desc nulls last, k.phrase`,
    [siteId, marketId, place],
  )
  return rows
}
/** Key of the page at an address, which may be without its site; null without one. */
async function keyOf(db: Db, siteId: number, address: string | null): Promise<string | null> {
  if (address === null) return null
  const { rows } = await db.query<{ domain: string }>('select domain from site where id = $1', [siteId])
  return pageKey(address.startsWith('/') ? `https://${rows[0]!.domain}${address}` : address)
}
export async function insertPage(
  db: Db,
  siteId: number,
  page: { title: string; address: string | null; kind: WorkKind; deadline: string | null },
): Promise<number> {
  const { rows } = await db.query<{ id: number }>(
    `insert into page_plan (site_id, title, address, page_key, kind, deadline, state)
     values ($1, $2, $3, $4, $5, $6, case when $5 = 'keep' then 'published' else 'idea' end) returning id`,
    [siteId, page.title, page.address, await keyOf(db, siteId, page.address), page.kind, page.deadline],
  )
  return rows[0]!.id
}
/** The new version, or undefined when there is no such page or, where `change` names one, not of that version. */
export async function updatePage(
  db: Db,
  siteId: number,
  pageId: number,
  change: PageChange,
): Promise<number | undefined> {
  const names = Object.keys(changeable) as Array<keyof typeof changeable>
  const values: Record<string, unknown> = Object.fromEntries(
    names.filter(name => change[name] !== undefined).map(name => [changeable[name], change[name]]),
  )
  if (change.address !== undefined) values.page_key = await keyOf(db, siteId, change.address)
  const { rows } = await db.query<{ version: number }>(
    `update page_plan set
      ${['version = version + 1', ...Object.keys(values).map((name, i) => `${name} = $${i + 4}`)].join(', ')}
     where site_id = $1 and id = $2 and removed_at is null and coalesce(version = $3, true) returning version`,
    [siteId, pageId, change.version ?? null, ...Object.values(values)],
  )
  return rows[0]?.version
}
/** Sets or lifts the mark of removal; keywords stay on the page, so that a removal can be undone whole. */
export async function setRemoved(db: Db, siteId: number, pageId: number, removed: boolean): Promise<boolean> {
  const { rowCount } = await db.query(
    'update page_plan set removed_at = case when $3 then now() end where site_id = $1 and id = $2',
    [siteId, pageId, removed],
  )
  return rowCount === 1
}
export async function manyKeywordIdsOfPage(db: Db, siteId: number, pageId: number): Promise<number[]> {
  return (
    await db.query<{ id: number }>(
      `select keyword_id id from page_plan_keyword where site_id = $1
      and page_id = $2`,
      [siteId, pageId],
    )
  ).rows.map(row => row.id)
}
/** On which page of the plan a keyword stands, null: on none. */
export type Assignment = { keywordId: number; pageId: number | null }
export async function manyAssignments(db: Db, siteId: number, keywordIds: readonly number[]): Promise<Assignment[]> {
  const { rows } = await db.query<Assignment>(
    `select k.id "keywordId", p.id "pageId"
     from keyword k left join page_plan_keyword pk on pk.site_id = k.site_id and pk.keyword_id = k.id
       left join page_plan p on p.site_id = pk.site_id and p.id = pk.page_id and p.removed_at is null
     where k.site_id = $1 and k.id = any($2)`,
    [siteId, keywordIds],
  )
  return rows
}
export async function assign(db: Db, siteId: number, pageId: number | null, keywordIds: number[]): Promise<void> {
  // A keyword that stands on the page already keeps its place there.
  await db.query(
    'delete from page_plan_keyword where site_id = $1 and keyword_id = any($2) and page_id is distinct from $3',
    [siteId, keywordIds, pageId],
  )
  if (pageId === null) return
  await db.query(
    `insert into page_plan_keyword (site_id, keyword_id, page_id)
     select $1, id, $2 from keyword where site_id = $1 and id = any($3) on conflict do nothing`,
    [siteId, pageId, keywordIds],
  )
  await db.query('update keyword set kept_at = coalesce(kept_at, now()) where site_id = $1 and id = any($2)', [
    siteId,
    keywordIds,
  ])
}
export async function maybePage(db: Db, siteId: number, pageId: number): Promise<PageRow | undefined> {
  const { rows } = await db.query<PageRow>(
    `select ${pageColumns} from page_plan where site_id = $1 and id = $2 and removed_at is null`,
    [siteId, pageId],
  )
  return rows[0]
}
/** Pages of the plan that have an address, by its key; of several at one address the first. */
export async function manyPageKeys(db: Db, siteId: number): Promise<Map<string, { id: number; title: string }>> {
  const { rows } = await db.query<{ key: string; id: number; title: string }>(
    `select page_key key, id, title from page_plan
     where site_id = $1 and removed_at is null and page_key is not null order by id desc`,
    [siteId],
  )
  return new Map(rows.map(({ key, ...page }) => [key, page]))
}
/** Order and spots of a page's keywords. */
export type KeywordOrder = { keywordId: number; at: number | null; spot: KeywordSpot | null }
export async function manyKeywordOrders(db: Db, siteId: number, pageId: number): Promise<KeywordOrder[]> {
  const { rows } = await db.query<KeywordOrder>(
    'select keyword_id "keywordId", at, spot from page_plan_keyword where site_id = $1 and page_id = $2',
    [siteId, pageId],
  )
  return rows
}
/** Sets order and spots of keywords that stand on a page; others are passed over. */
export async function setKeywordOrders(
  db: Db,
  siteId: number,
  pageId: number,
  orders: readonly KeywordOrder[],
): Promise<void> {
  await db.query(
    `update page_plan_keyword k set at = u.at, spot = u.spot
     from unnest($3::bigint[], $4::integer[], $5::text[]) u (id, at, spot)
     where k.site_id = $1 and k.page_id = $2 and k.keyword_id = u.id`,
    [siteId, pageId, orders.map(each => each.keywordId), orders.map(each => each.at), orders.map(each => each.spot)],
  )
}
export async function setSpot(
  db: Db,
  siteId: number,
  pageId: number,
  keywordIds: readonly number[],
  spot: KeywordSpot | null,
): Promise<void> {
  await db.query(
    'update page_plan_keyword set spot = $4 where site_id = $1 and page_id = $2 and keyword_id = any($3)',
    [siteId, pageId, keywordIds, spot],
  )
}
