import { AppError } from '@dew-trail/contract/errors'
import type { Db } from '../db/pool.ts'

/** Tables of what belongs to a site, by the name under which inputs carry its id or ids. */
const tables: Record<string, [table: string, called: string]> = {
  marketId: ['market', 'market'],
  marketIds: ['market', 'market'],
  keywordId: ['keyword', 'keyword'],
  keywordIds: ['keyword', 'keyword'],
  pageId: ['page_plan', 'page'],
  mergeInto: ['page_plan', 'page'],
  gatheringId: ['gathering', 'gathering'],
  parentId: ['gathering', 'gathering'],
  listId: ['list', 'list'],
  importId: ['import', 'import'],
  crawlId: ['crawl', 'crawl'],
  jobId: ['job', 'job'],
  noteId: ['note', 'note'],
  actId: ['act', 'act'],
  findListId: ['find_list', 'list'],
  itemId: ['find_item', 'find'],
  itemIds: ['find_item', 'find'],
  groupingId: ['keyword_grouping', 'grouping'],
  besideId: ['keyword_grouping', 'grouping'],
  themeId: ['theme', 'theme'],
  themeIds: ['theme', 'theme'],
  leadId: ['keyword', 'keyword'],
  lead: ['keyword', 'keyword'],
  gridId: ['place_grid', 'grid'],
  runId: ['place_run', 'run'],
  checkRunId: ['check_run', 'check'],
  ruleId: ['alert_rule', 'rule'],
  reportId: ['report', 'report'],
  issueId: ['report_issue', 'issue'],
  alertIds: ['alert', 'alert'],
  hookId: ['web_hook', 'web hook'],
  deliveryId: ['web_hook_delivery', 'delivery'],
}

/**
 * Throws `notFound` when an input names a site that is not there, or something that is not of its site. Asked for every endpoint alike,
 * so that none can forget it; inputs without a site are passed over.
 */
export async function checkIds(db: Db, input: unknown): Promise<void> {
  const { siteId, ...rest } = input as { siteId?: number } & Record<string, unknown>
  if (siteId === undefined) return
  const { rows } = await db.query('select from site where id = $1 and removed_at is null', [siteId])
  if (!rows.length) throw new AppError('notFound', `There is no site ${siteId}`)
  for (const [name, value] of Object.entries(rest)) {
    const known = tables[name]
    if (!known || value === undefined || value === null) continue
    const ids = Array.isArray(value) ? value : [value]
    if (!ids.length) continue
    const [table, called] = known
    const missing = await db.query<{ id: number }>(
      `select i.id from unnest($2::bigint[]) i (id) where not exists (select from ${table} t
        where t.site_id = $1 and t.id = i.id) limit 1`,
      [siteId, ids],
    )
    if (missing.rows[0]) throw new AppError('notFound', `The site has no ${called} ${missing.rows[0].id}`)
  }
}
