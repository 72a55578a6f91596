import { setImmediate as othersAnswered } from 'node:timers/promises'
import { columnOf, rivalColumnOf, trackBatch, trackSpecs, trackTable } from '@dew-trail/contract/track-table'
import { needMarket, needSite } from '../../domain/sites/need-market.ts'
import type { TableColumn } from '@dew-trail/core/tables/table-column'
import type { Table } from '../../platform/tables/table.ts'
import { readPositions } from './read-positions.ts'

/** Days between the two positions that are compared, as the screen begins with. */
const compareDays = 7
const rowsAtATime = 1_000

export const positionsTable: Table = async ({ pool }, siteId, marketId) => {
  const { markets } = await needSite(pool, siteId)
  const market = await needMarket(pool, siteId, marketId)
  const others = markets.filter(each => each.id !== marketId && each.language === market.language)
  const positions = await readPositions(pool, siteId, marketId, compareDays)
  const rivals = positions.rivals.map(each => each.domain)
  return {
    title: 'Positions',
    columns: [
      ...Object.values(trackTable),
      ...others.flatMap(other =>
        withChange(
          columnOf(other),
          `${other.engine} ${other.place} ${other.language} ${other.device}`,
          'The last known position in this market',
        ),
      ),
      ...rivals.flatMap(domain =>
        withChange(rivalColumnOf(domain), domain, 'The position of this site on the latest results'),
      ),
    ],
    specs: trackSpecs(markets, rivals),
    async *batches() {
      for (let from = 0; from < positions.rows.length; from += rowsAtATime) {
        yield trackBatch(positions, markets, market, [from, from + rowsAtATime])
        // Others are answered in between.
        await othersAnswered()
      }
    },
  }
}

const withChange = (key: string, label: string, explain: string): TableColumn[] => [
  { key, label, kind: 'number', unit: 'position', explain },
  {
    key: `${key}Gained`,
    label: `${label}, change`,
    kind: 'number',
    unit: 'positions',
    explain: 'Positions gained (above 0) or lost since before',
  },
]
