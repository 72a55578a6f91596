import { Button, Dialog, DialogActions, DialogContent, DialogTitle } from '@mui/material'
import { useShowDialog } from '../ui/DialogHost.tsx'

type Cell = string | number | null
type Props = {
  /** What the picture is of. */
  of: string
  head: readonly string[]
  rows(): ReadonlyArray<readonly Cell[]>
}
/** Opens what a picture shows as a table: for who cannot see it, and for who wants the figures. Unknown cells are null. */
export function AsTable({ of, head, rows }: Props) {
  const show = useShowDialog()
  return (
    <button
      type="button"
      className="link"
      style={{ fontSize: 12, marginRight: 14 }}
      aria-label={`${of} as a table`}
      onClick={() =>
        show(close => (
          <Dialog open onClose={close} maxWidth="md">
            <DialogTitle>{of}</DialogTitle>
            <DialogContent>
              <table className="results whole-cells">
                <thead>
                  <tr>
                    {head.map((label, i) => (
                      <th key={label} className={i ? 'n' : ''} scope="col">
                        {label}
                      </th>
                    ))}
                  </tr>
                </thead>
                <tbody>
                  {rows().map(([first, ...cells]) => (
                    <tr key={first}>
                      <th scope="row">{first}</th>
                      {cells.map((cell, i) => (
                        <td key={head[i + 1]} className="n">
                          {cell === null ? <span className="unknown">unknown</span> : cell}
                        </td>
                      ))}
                    </tr>
                  ))}
                </tbody>
              </table>
            </DialogContent>
            <DialogActions>
              <Button onClick={close}>Close</Button>
            </DialogActions>
          </Dialog>
        ))
      }
    >
      As a table
    </button>
  )
}
