import { keywordColumns } from '@dew-trail/contract/gather'
import { keywordTable } from '@dew-trail/contract/keyword-table'
import type { Batch } from '@dew-trail/core/tables/column-spec'
import type { Table } from '../../platform/tables/table.ts'
import { needMarket, needSite } from '../sites/need-market.ts'
import { describeSite } from '../chances/describe-site.ts'
import { streamKeywordRows } from './stream-rows.ts'

/** All keywords of a site that are on its path, as every sheet of them has them. */
export const keywordsTable: Table = async ({ pool, config }, siteId, marketId) => {
  await needMarket(pool, siteId, marketId)
  const site = await describeSite(pool, await needSite(pool, siteId), config.STANDING_REFERENCE_SITES)
  const { comfortable, stretch } = site.levels.find(each => each.marketId === marketId)!
  return {
    title: 'Keywords',
    columns: Object.values(keywordTable),
    specs: keywordColumns,
    always: [{ column: 'pruned', op: 'no' }],
    limits: { comfortable, stretch },
    async *batches() {
      for await (const lines of streamKeywordRows(pool, siteId, marketId, 0))
        for (const line of lines.split('\n')) {
          const batch = line ? (JSON.parse(line) as Partial<Batch>) : {}
          if (batch.ids) yield batch as Batch
        }
    },
  }
}
