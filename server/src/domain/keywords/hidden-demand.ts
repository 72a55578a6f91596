import { hiddenFrom } from '@dew-trail/core/demand/hidden-demand'
import type { Db } from '../../platform/db/pool.ts'

/** Hidden demand of a site: the ads data was asked and knows nothing or zero, and the log shows $2 searches a month or more. */
const found = `select l.keyword_id, l.place, l.searches from log_sum l
  join demand d on d.site_id = l.site_id and d.keyword_id = l.keyword_id and d.place = l.place
  where l.site_id = $1 and l.searches >= $2 and d.state in ('known', 'nothing') and coalesce(d.average, 0) = 0`

/**
 * Settles which keywords are hidden demand and how many searches they have at the least: of some keywords, or of all of a site. To be called
 * wherever figures of the ads data or of the query log were written.
 */
export async function settleHiddenDemand(db: Db, siteId: number, keywordIds: number[] | null = null): Promise<void> {
  await db.query(
    `with found as materialized (${found} and ($3::bigint[] is null or l.keyword_id = any($3)))
     update demand d set hidden_searches = found.searches from found
     where d.site_id = $1 and d.keyword_id = found.keyword_id and d.place = found.place
       and d.hidden_searches is distinct from found.searches`,
    [siteId, hiddenFrom, keywordIds],
  )
  await db.query(
    `update demand d set hidden_searches = null where d.site_id = $1 and d.hidden_searches is not null
       and ($3::bigint[] is null or d.keyword_id = any($3))
       and not exists (select from (${found}) f where f.keyword_id = d.keyword_id and f.place = d.place)`,
    [siteId, hiddenFrom, keywordIds],
  )
}
