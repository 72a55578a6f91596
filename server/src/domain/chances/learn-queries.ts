import type { LearnReport } from '@dew-trail/core/results/learn-strength'
import type { StrengthModel } from '@dew-trail/core/results/strength'
import type { Db } from '../../platform/db/pool.ts'
import type { Organic } from './queries.ts'

/** Deep result pages older than this tell of another time. */
const oldDays = 90

/** Keywords for the sample of deep result pages: weighed ones first, then any others; a mix that stays the same from run to run. */
export async function manyForSample(
  db: Db,
  siteId: number,
  marketId: number,
  most: number,
): Promise<Array<{ id: number; phrase: string; fetched: boolean }>> {
  const { rows } = await db.query<{ id: number; phrase: string; fetched: boolean }>(
    `select k.id, k.phrase, d.fetched_on is not null and d.fetched_on > current_date - ${oldDays} fetched
      from keyword k join market m on m.site_id = $1 and m.id = $2
     left join weighing w on w.site_id = $1 and w.keyword_id = k.id and w.market_id = $2 left
       join deep_page d on d.site_id = $1 and d.market_id = $2 and d.keyword_id = k.id
     where k.site_id = $1 and k.language = m.language and coalesce(w.state <> 'nothing', true)
     order by d.keyword_id is not null desc, w.keyword_id is not null desc, k.kept_at is not null desc,
       md5(k.phrase) limit $3`,
    [siteId, marketId, most],
  )
  return rows
}
export async function upsertDeepPage(
  db: Db,
  key: { siteId: number; marketId: number; keywordId: number },
  fetchedOn: string,
  results: Array<Pick<Organic, 'url' | 'title' | 'snippet'>>,
): Promise<void> {
  await db.query(
    `insert into deep_page (site_id, market_id, keyword_id, fetched_on, results) values ($1, $2, $3, $4, $5)
     on conflict (site_id, market_id, keyword_id) do update set fetched_on = excluded.fetched_on,
       results = excluded.results`,
    [key.siteId, key.marketId, key.keywordId, fetchedOn, JSON.stringify(results)],
  )
}
export type DeepPage = { phrase: string; language: string; fetchedOn: string; results: Organic[] }
/** Deep pages of all markets of an engine and device. */
export async function manyDeepPages(db: Db, siteId: number, engine: string, device: string): Promise<DeepPage[]> {
  const { rows } = await db.query<DeepPage>(
    `select k.phrase, k.language, d.fetched_on "fetchedOn", d.results from deep_page d
      join market m on m.site_id = d.site_id and m.id = d.market_id join keyword k on k.site_id = d.site_id
      and k.id = d.keyword_id
     where d.site_id = $1 and m.engine = $2 and m.device = $3 and d.fetched_on > current_date - ${oldDays}
       order by k.phrase, d.market_id`,
    [siteId, engine, device],
  )
  return rows
}

export type ModelRow = {
  engine: string
  device: string
  fittedAt: Date
  pages: number
  model: StrengthModel | null
  report: LearnReport | null
}
/** All models of a site, without what only judging needs and is large: the words and pages they were learnt from. */
export async function manyModels(db: Db, siteId: number): Promise<ModelRow[]> {
  const { rows } = await db.query<ModelRow>(
    `select engine, device, fitted_at "fittedAt", pages, model - 'words' - 'known' model, report
      from strength_model where site_id = $1 order by engine, device`,
    [siteId],
  )
  return rows
}
type ModelKey = { engine: string; device: string }
/** When the strengths of an engine and device were learnt, to the microsecond; `null` = not yet. */
export async function maybeModelDate(db: Db, siteId: number, { engine, device }: ModelKey): Promise<string | null> {
  const { rows } = await db.query<{ date: string }>(
    `select fitted_at::text date from strength_model where site_id = $1 and engine = $2 and device = $3
      and model is not null`,
    [siteId, engine, device],
  )
  return rows[0]?.date ?? null
}
export async function maybeModel(db: Db, siteId: number, { engine, device }: ModelKey): Promise<StrengthModel | null> {
  const { rows } = await db.query<{ model: StrengthModel | null }>(
    'select model from strength_model where site_id = $1 and engine = $2 and device = $3',
    [siteId, engine, device],
  )
  return rows[0]?.model ?? null
}
/** Keeps what was learnt; `model` null = the pages were too few or told nothing: then what was learnt before stays, with its date, else the default weights. */
export async function upsertModel(db: Db, siteId: number, row: Omit<ModelRow, 'fittedAt'>): Promise<void> {
  await db.query(
    `insert into strength_model (site_id, engine, device, pages, model, report) values ($1, $2, $3, $4, $5, $6)
     on conflict (site_id, engine, device) do update set fitted_at = now(), pages = excluded.pages,
       model = excluded.model, report = excluded.report
     where excluded.model is not null or strength_model.model is null`,
    [siteId, row.engine, row.device, row.pages, row.model, row.report],
  )
}

/** How many keywords a market has weighings of, since the last learning too, and how many keywords there are to learn from. */
export async function oneLearnState(
  db: Db,
  siteId: number,
  market: { id: number; engine: string; device: string; language: string },
): Promise<{ weighed: number; since: number; keywords: number; fittedAt: Date | null }> {
  const { rows } = await db.query<{ weighed: number; since: number; keywords: number; fittedAt: Date | null }>(
    `select (select count(*) from weighing where site_id = $1 and market_id = $2 and state = 'known') weighed,
       (select count(*) from weighing where site_id = $1 and market_id = $2 and state = 'known'
         and weighed_at > coalesce(m.fitted_at, '-infinity')) since,
       (select count(*) from (select from keyword where site_id = $1 and language = $5 limit 1000) k) keywords,
         m.fitted_at "fittedAt"
     from (select 1) one left join strength_model m on m.site_id = $1 and m.engine = $3 and m.device = $4`,
    [siteId, market.id, market.engine, market.device, market.language],
  )
  return rows[0]!
}
