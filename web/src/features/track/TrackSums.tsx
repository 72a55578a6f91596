import type { ColumnSum } from '@dew-trail/core/tables/sum-rows'
import type { listPositions } from '@dew-trail/contract/track'
import type { z } from 'zod'
import { formatDay, formatWhole } from '../../ui/format.ts'
import { SumText } from '../../sheet/SumText.tsx'

type Positions = z.output<(typeof listPositions)['output']>

/** What the foot says of the rows that are shown: their mean place, their visits, and of which day they are. */
export function TrackSums({ sums, data }: { sums: Record<string, ColumnSum>; data: Positions | undefined }) {
  const { mean, unknown, known } = sums.now!
  return (
    <>
      <span>
        mean place <b>{mean === null ? 'unknown' : mean.toFixed(1)}</b>
        {mean !== null && unknown > 0 && (
          <span
            className="quiet"
            title="Not found within the checked depth, or not checked: they have no place to be in the mean"
          >
            {' '}
            of {formatWhole(known)} found
          </span>
        )}
      </span>
      <span>
        <SumText sum={sums.visits!} of="visits/mo" about />
      </span>
      {data?.lastDay && (
        <span className="quiet" title={data.checkedAt ? `Written ${new Date(data.checkedAt).toLocaleString()}` : ''}>
          last day {formatDay(data.lastDay)}
          {data.checked < data.rows.length &&
            `, ${formatWhole(data.checked)} of ${formatWhole(data.rows.length)} checked`}
        </span>
      )}
    </>
  )
}
