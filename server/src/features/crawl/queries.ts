import type { Db } from '../../platform/db/pool.ts'

export type CrawlRow = {
  id: number
  siteId: number
  graphId: number
  domain: string
  mostPages: number
  mostDepth: number
  seeded: boolean
}
const crawlColumns =
  'id, site_id "siteId", graph_id "graphId", domain, most_pages "mostPages", most_depth "mostDepth", seeded'
export async function insertCrawl(
  db: Db,
  crawl: { siteId: number; domain: string; mostPages: number; mostDepth: number },
): Promise<CrawlRow> {
  const { rows } = await db.query<CrawlRow>(
    `insert into crawl (site_id, graph_id, domain, most_pages, most_depth) values ($1, 1, $2, $3, $4)
      returning ${crawlColumns}`,
    [crawl.siteId, crawl.domain, crawl.mostPages, crawl.mostDepth],
  )
  return rows[0]!
}
/** Takes away a crawl that never began. */
export async function removeCrawl(db: Db, siteId: number, crawlId: number): Promise<void> {
  await db.query('delete from crawl where site_id = $1 and id = $2 and job_id is null', [siteId, crawlId])
}
export async function setCrawlJob(db: Db, siteId: number, crawlId: number, jobId: number): Promise<void> {
  await db.query('update crawl set job_id = $3 where site_id = $1 and id = $2', [siteId, crawlId, jobId])
}
export async function oneCrawl(db: Db, siteId: number, crawlId: number): Promise<CrawlRow> {
  const { rows } = await db.query<CrawlRow>(`select ${crawlColumns} from crawl where site_id = $1 and id = $2`, [
    siteId,
    crawlId,
  ])
  return rows[0]!
}
export async function markSeeded(db: Db, siteId: number, crawlId: number): Promise<void> {
  await db.query('update crawl set seeded = true where site_id = $1 and id = $2', [siteId, crawlId])
}

/** Pages that failed are tried once more when a crawl is taken up again. */
export async function waitAgain(db: Db, siteId: number, crawlId: number): Promise<void> {
  await db.query(
    `update crawl_page set state = 'waiting', problem = null, attempts = 0, not_before = null
      where site_id = $1 and crawl_id = $2 and state = 'failed'`,
    [siteId, crawlId],
  )
}

export type CrawlPage = { url: string; depth: number; attempts: number }
export async function insertCrawlPages(
  db: Db,
  siteId: number,
  crawlId: number,
  pages: ReadonlyArray<{ url: string; key: string; host: string; depth: number }>,
): Promise<void> {
  if (!pages.length) return
  await db.query(
    `insert into crawl_page (site_id, crawl_id, url_key, url, host, depth)
     select $1, $2, * from unnest($3::uuid[], $4::text[], $5::text[], $6::smallint[]) on conflict do nothing`,
    [siteId, crawlId, pages.map(p => p.key), pages.map(p => p.url), pages.map(p => p.host), pages.map(p => p.depth)],
  )
}
export async function manyWaitingPages(db: Db, siteId: number, crawlId: number, most: number): Promise<CrawlPage[]> {
  const { rows } = await db.query<CrawlPage>(
    `select url, depth, attempts from crawl_page where site_id = $1 and crawl_id = $2 and state = 'waiting'
      and coalesce(not_before <= now(), true) order by depth, url_key limit $3`,
    [siteId, crawlId, most],
  )
  return rows
}
export async function markCrawlPages(
  db: Db,
  siteId: number,
  crawlId: number,
  pages: ReadonlyArray<{ key: string; state: string; problem: string | null; waitMs: number | null }>,
): Promise<void> {
  await db.query(
    `update crawl_page p set state = d.state, problem = d.problem, attempts = p.attempts + 1,
      not_before = now() + d.wait_ms * interval '1 millisecond'
     from (select * from unnest($3::uuid[], $4::text[], $5::text[], $6::integer[]) d (key, state, problem, wait_ms)) d
     where p.site_id = $1 and p.crawl_id = $2 and p.url_key = d.key`,
    [
      siteId,
      crawlId,
      pages.map(p => p.key),
      pages.map(p => p.state),
      pages.map(p => p.problem),
      pages.map(p => p.waitMs),
    ],
  )
}
export async function oneCrawlCount(
  db: Db,
  siteId: number,
  crawlId: number,
): Promise<{ done: number; waiting: number }> {
  const { rows } = await db.query<{ done: number; waiting: number }>(
    `select count(*) filter (where state <> 'waiting') done, count(*) filter (where state = 'waiting') waiting
      from crawl_page where site_id = $1 and crawl_id = $2`,
    [siteId, crawlId],
  )
  return rows[0]!
}

type HostCount = { host: string; waiting: number; fetched: number; failed: number; refused: number }
export type CrawlView = {
  id: number
  domain: string
  mostPages: number
  jobId: number | null
  state: 'waiting' | 'running' | 'paused' | 'done' | 'failed' | 'cancelled'
  startedAt: string
  endedAt: string | null
  hosts: HostCount[]
}
/** The crawls of a site, newest first, with their progress by host. */
export async function manyCrawls(db: Db, siteId: number): Promise<CrawlView[]> {
  const { rows } = await db.query<Omit<CrawlView, 'startedAt' | 'endedAt'> & { startedAt: Date; endedAt: Date | null }>(
    `select c.id, c.domain, c.most_pages "mostPages", c.job_id "jobId", coalesce(j.state, 'waiting') state,
      c.started_at "startedAt", j.ended_at "endedAt",
       coalesce((select jsonb_agg(h order by h.host) from (select host, count(*)
         filter (where state = 'waiting') waiting, count(*) filter (where state = 'fetched') fetched,
         count(*) filter (where state = 'failed') failed, count(*) filter (where state = 'refused') refused
           from crawl_page where site_id = c.site_id and crawl_id = c.id group by host) h), '[]') hosts
     from crawl c left join job j on j.id = c.job_id where c.site_id = $1 order by c.id desc limit 100`,
    [siteId],
  )
  return rows.map(row => ({
    ...row,
    startedAt: row.startedAt.toISOString(),
    endedAt: row.endedAt?.toISOString() ?? null,
  }))
}
export async function manyCrawlErrors(
  db: Db,
  siteId: number,
  crawlId: number,
  most: number,
): Promise<{ total: number; pages: Array<{ url: string; state: 'failed' | 'refused'; problem: string }> }> {
  const { rows } = await db.query<{ url: string; state: 'failed' | 'refused'; problem: string; total: number }>(
    `select p.url, p.state, coalesce(p.problem, '') problem, count(*) over () total from crawl_page p
      join crawl c on c.site_id = p.site_id and c.id = p.crawl_id
     where c.site_id = $1 and c.id = $2 and p.state in ('failed', 'refused') order by p.state, p.url limit $3`,
    [siteId, crawlId, most],
  )
  return { total: rows[0]?.total ?? 0, pages: rows.map(({ total: _, ...page }) => page) }
}
