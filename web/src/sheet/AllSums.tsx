import type { ColumnSum } from '@dew-trail/core/tables/sum-rows'
import { useEffect, useState } from 'react'
import { formatOne, formatWhole } from '../ui/format.ts'
import type { WholeSource } from '../rows/row-source.ts'
import type { SheetColumn } from './columns.ts'
import type { ColumnTable } from './use-column-table.ts'
import { Popover } from '../ui/floating-later.tsx'

type Props = {
  source: WholeSource
  table: ColumnTable
  columns: readonly SheetColumn[]
  selected: ReadonlySet<number>
}
/** Numbers that count something add up; shares, positions and levels have a mean and a median only. */
const addsUp = ({ unit = '' }: SheetColumn): boolean => !/share|position|0 to|probability|click$/.test(unit)
const show = (value: number | null) =>
  value === null ? (
    <span className="unknown">unknown</span>
  ) : Math.abs(value) < 10 ? (
    formatOne(value)
  ) : (
    formatWhole(value)
  )

/** Sum, mean and median of every number column that is shown, of the rows shown or selected. */
export function AllSums({ source, table, columns, selected }: Props) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null)
  const [sums, setSums] = useState<Record<string, ColumnSum> | null>(null)
  const shown = table.getVisibleLeafColumns().map(column => column.id)
  const numbers = columns.filter(column => column.kind === 'number' && shown.includes(column.key))
  const keys = numbers.map(column => column.key).join(',')
  useEffect(() => {
    if (!anchor || !keys) return
    source.sums(keys.split(','), selected.size ? [...selected] : undefined).then(
      answer => setSums(answer.sums),
      () => undefined,
    )
  }, [anchor, source, keys, selected])
  if (!numbers.length) return null
  return (
    <>
      <button type="button" className="link" aria-haspopup="dialog" onClick={event => setAnchor(event.currentTarget)}>
        All sums
      </button>
      {anchor && (
        <Popover
          open
          anchorEl={anchor}
          onClose={() => setAnchor(null)}
          anchorOrigin={{ vertical: 'top', horizontal: 'left' }}
          transformOrigin={{ vertical: 'bottom', horizontal: 'left' }}
          slotProps={{ paper: { sx: { p: 3 }, 'aria-label': 'Sums of all columns' } }}
        >
          <table className="results whole-cells" style={{ width: 'auto' }}>
            <thead>
              <tr>
                <th>{selected.size ? 'Of the selected rows' : 'Of the rows shown'}</th>
                <th className="n">sum</th>
                <th className="n">mean</th>
                <th className="n">median</th>
                <th className="n">known</th>
                <th className="n">unknown</th>
              </tr>
            </thead>
            <tbody>
              {numbers.map(column => {
                const sum = sums?.[column.key]
                return sum ? (
                  <tr key={column.key}>
                    <th scope="row">{column.label}</th>
                    <td className="n">{addsUp(column) && sum.known ? show(sum.sum) : '–'}</td>
                    <td className="n">{show(sum.mean)}</td>
                    <td className="n">{show(sum.median)}</td>
                    <td className="n">{formatWhole(sum.known + sum.repeats)}</td>
                    <td className="n">{formatWhole(sum.unknown)}</td>
                  </tr>
                ) : null
              })}
            </tbody>
          </table>
        </Popover>
      )}
    </>
  )
}
