import { setImmediate as othersAnswered } from 'node:timers/promises'
import { columnOf, trackBatch, trackSpecs, trackTable } from '@dew-trail/contract/track-table'
import { needSite } from '../../domain/sites/need-market.ts'
import type { Table } from '../../platform/tables/table.ts'
import { readPositions } from './read-positions.ts'

/** Days between the two positions that are compared, as the screen begins with. */
const compareDays = 7
const rowsAtATime = 1_000

export const positionsTable: Table = async ({ pool }, siteId, marketId) => {
  const { markets } = await needSite(pool, siteId)
  const others = markets.filter(market => market.id !== marketId)
  return {
    title: 'Positions',
    columns: [
      ...Object.values(trackTable),
      ...others.map(market => ({
        key: columnOf(market),
        label: `${market.engine} ${market.place} ${market.language} ${market.device}`,
        kind: 'number' as const,
        unit: 'position',
        explain: 'The last known position in this market',
      })),
    ],
    specs: trackSpecs(markets),
    async *batches() {
      const { rows, lastDay } = await readPositions(pool, siteId, marketId, compareDays)
      for (let from = 0; from < rows.length; from += rowsAtATime) {
        yield trackBatch(rows.slice(from, from + rowsAtATime), markets, lastDay)
        // Others are answered in between.
        await othersAnswered()
      }
    },
  }
}
