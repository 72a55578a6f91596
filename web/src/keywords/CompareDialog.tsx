import { Dialog, DialogContent, DialogTitle, IconButton } from '@mui/material'
import { X } from 'lucide-react'
import { useEffect, useState } from 'react'
import { Terrains } from '../pictures/Terrains.tsx'
import { MonthBars } from '../pictures/MonthBars.tsx'
import { useSite } from '../ui/site-context.ts'
import type { SheetColumn } from '../sheet/columns.ts'
import type { Row } from '../rows/row-source.ts'

/** Two to five keywords side by side, figure by figure, with the months drawn to one scale. */
export function CompareDialog({
  ids,
  columns,
  onClose,
}: {
  ids: number[]
  columns: readonly SheetColumn[]
  onClose(): void
}) {
  const { keywords } = useSite()
  const [rows, setRows] = useState<Row[]>([])
  useEffect(() => {
    keywords.rows(ids.slice(0, 5)).then(setRows, () => undefined)
  }, [keywords, ids])
  const terrains = rows.flatMap(row =>
    Array.isArray(row.terrain) && row.terrain.some(level => level !== null)
      ? [{ id: row.id, name: String(row.phrase), levels: row.terrain.filter(level => level !== null) }]
      : [],
  )
  const ownLevel = (rows.find(row => row.ownLevel !== null)?.ownLevel as number | null | undefined) ?? null
  const figures = columns.filter(column => !column.conditionOnly && column.key !== 'phrase' && column.kind !== 'series')
  return (
    <Dialog open onClose={onClose} maxWidth="lg" fullWidth>
      <DialogTitle sx={{ display: 'flex', justifyContent: 'space-between', fontSize: 16 }}>
        Side by side
        <IconButton size="small" aria-label="Close" onClick={onClose}>
          <X size={16} />
        </IconButton>
      </DialogTitle>
      <DialogContent>
        {terrains.length > 0 && (
          <>
            <Terrains terrains={terrains} ownLevel={ownLevel} />
            <p className="quiet" style={{ margin: '0 0 12px' }}>
              Strength of the results by place, as the level that the site of a new page would need.{' '}
              {terrains.length < rows.length && 'Keywords that were not weighed have no line.'}
            </p>
          </>
        )}
        <table className="compare">
          <thead>
            <tr>
              <th>
                <span className="hidden">Figure</span>
              </th>
              {rows.map(row => (
                <th key={row.id} scope="col">
                  {String(row.phrase)}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            <tr>
              <th scope="row">12 months</th>
              {rows.map(row => (
                <td key={row.id}>
                  {Array.isArray(row.months) && row.months.some(month => month !== null) ? (
                    <MonthBars months={row.months} end={(row.monthsEnd as string | null) ?? null} large />
                  ) : (
                    <span className="unknown">unknown</span>
                  )}
                </td>
              ))}
            </tr>
            {figures.map(column => (
              <tr key={column.key}>
                <th scope="row" title={column.explain}>
                  {column.label}
                </th>
                {rows.map(row => (
                  <td key={row.id}>{column.render(row)}</td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </DialogContent>
    </Dialog>
  )
}
