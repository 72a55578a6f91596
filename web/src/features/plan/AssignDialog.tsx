import { type Assignment, listAssignments } from '@dew-trail/contract/site-map'
import { Button, Checkbox, Dialog, DialogActions, DialogContent, DialogTitle } from '@mui/material'
import { useMemo, useState } from 'react'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { formatWhole, plural } from '../../ui/format.ts'
import { useSite } from '../../ui/site-context.ts'

const atFirst = 100
const levels: Record<Assignment['level'], string> = { home: 'home page', section: 'section', article: 'article' }
const kinds: Record<Assignment['to'], string> = { planned: 'on the plan', own: 'has it already', new: 'new' }

type Props = { onAccept(themeIds: number[]): Promise<void>; onClose(): void }
/** Pages proposed for the themes of the current grouping, each with its reason: one, several or all are accepted, and undone together. */
export default function AssignDialog({ onAccept, onClose }: Props) {
  const { site, market } = useSite()
  const { data, error } = useEndpoint(listAssignments, { siteId: site.id, marketId: market.id })
  const open = useMemo(() => data?.rows.filter(row => !row.done) ?? [], [data])
  const [left, setLeft] = useState<ReadonlySet<number>>(new Set())
  const [shown, setShown] = useState(atFirst)
  const chosen = open.filter(row => !left.has(row.themeId))
  const toggle = (id: number) =>
    setLeft(before => {
      const next = new Set(before)
      if (!next.delete(id)) next.add(id)
      return next
    })
  const accept = (themeIds: number[]) => {
    onClose()
    void onAccept(themeIds)
  }
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="lg">
      <DialogTitle>Pages for themes</DialogTitle>
      <DialogContent>
        {error && <p role="alert">{error.message}</p>}
        {!data && !error && <p className="quiet">Loading</p>}
        {data && open.length === 0 && (
          <p>
            {data.rows.length === 0
              ? 'No theme and no kept keyword is there yet. Keep keywords in Gather and group them: their themes are what pages are made for.'
              : `All ${data.grouping === null ? 'kept keywords' : `themes of "${data.grouping}"`} stand on the pages that are right for them.`}
          </p>
        )}
        {open.length > 0 && (
          <>
            <p className="quiet" style={{ marginTop: 0 }}>
              {data!.grouping === null
                ? 'No grouping is the current one, so these are kept keywords with their forms.'
                : `Themes of "${data!.grouping}".`}{' '}
              A page that stands for a theme keeps it; of the rest the home page takes the broadest demand, sections
              what others narrow down, articles what is left.
            </p>
            <table className="results whole-cells">
              <thead>
                <tr>
                  <th style={{ width: 30 }}>
                    <Checkbox
                      size="small"
                      checked={chosen.length === open.length}
                      indeterminate={chosen.length > 0 && chosen.length < open.length}
                      onChange={() =>
                        setLeft(chosen.length === open.length ? new Set(open.map(row => row.themeId)) : new Set())
                      }
                      slotProps={{ input: { 'aria-label': 'All themes' } }}
                    />
                  </th>
                  <th>Theme</th>
                  <th className="n">searches</th>
                  <th>Page</th>
                  <th>Why</th>
                  <th>
                    <span className="hidden">Accept</span>
                  </th>
                </tr>
              </thead>
              <tbody>
                {open.slice(0, shown).map(row => (
                  <tr key={row.themeId}>
                    <td>
                      <Checkbox
                        size="small"
                        checked={!left.has(row.themeId)}
                        onChange={() => toggle(row.themeId)}
                        slotProps={{ input: { 'aria-label': row.theme } }}
                      />
                    </td>
                    <td>
                      {row.theme} <small className="quiet">{plural(row.keywords, 'keyword')}</small>
                    </td>
                    <td className="n">
                      {row.searches === null ? <span className="unknown">unknown</span> : formatWhole(row.searches)}
                    </td>
                    <td>
                      {row.title}{' '}
                      <small className="quiet">{row.to === 'new' ? `new ${levels[row.level]}` : kinds[row.to]}</small>
                    </td>
                    <td className="quiet" style={{ whiteSpace: 'normal', minWidth: 280 }}>
                      {row.why}
                    </td>
                    <td>
                      <button type="button" className="link" onClick={() => accept([row.themeId])}>
                        Accept
                      </button>
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
            {open.length > shown && (
              <button type="button" className="link" onClick={() => setShown(open.length)}>
                Show all {formatWhole(open.length)}
              </button>
            )}
          </>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        <Button variant="contained" disabled={!chosen.length} onClick={() => accept(chosen.map(row => row.themeId))}>
          {chosen.length === open.length
            ? `Accept all ${formatWhole(open.length)}`
            : `Accept ${formatWhole(chosen.length)}`}
        </Button>
      </DialogActions>
    </Dialog>
  )
}
