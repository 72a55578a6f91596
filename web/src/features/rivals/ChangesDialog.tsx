import { readMonthChanges } from '@dew-trail/contract/rivals'
import { Button, Dialog, DialogActions, DialogContent, DialogTitle } from '@mui/material'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { Waiting } from '../../api/Waiting.tsx'
import { formatMonth, formatWhole, plural } from '../../ui/format.ts'
import { useSite } from '../../ui/site-context.ts'

const positionText = (position: number | null, none: string) =>
  position === null ? <span className="quiet">{none}</span> : position

type Props = { target: string; before: string; month: string; onClose(): void }
/** Which keywords and pages came or went for a site between two months. */
export default function ChangesDialog({ target, before, month, onClose }: Props) {
  const { site, market } = useSite()
  const { data, error } = useEndpoint(readMonthChanges, { siteId: site.id, marketId: market.id, target, before, month })
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="md">
      <DialogTitle>
        {target}: {formatMonth(before)} to {formatMonth(month)}
      </DialogTitle>
      <DialogContent sx={{ display: 'flex', flexDirection: 'column', gap: 3 }}>
        {!data && <Waiting error={error} />}
        {data && (
          <>
            <p className="quiet" style={{ margin: 0 }}>
              By the full part of the rankings feed: {plural(data.entered, 'keyword')} entered, {formatWhole(data.left)}{' '}
              left, {formatWhole(data.rose)} rose and {formatWhole(data.fell)} fell. Those first whose visits changed
              most.
            </p>
            {data.pages.length > 0 && (
              <table className="results whole-cells" aria-label="Pages">
                <thead>
                  <tr>
                    <th>Page</th>
                    <th className="n">keywords before</th>
                    <th className="n">after</th>
                  </tr>
                </thead>
                <tbody>
                  {data.pages.slice(0, 8).map(page => (
                    <tr key={page.url}>
                      <td title={page.url}>{page.url.replace(/^https?:\/\//, '')}</td>
                      <td className="n">{positionText(page.before || null, 'none')}</td>
                      <td className="n">{positionText(page.now || null, 'none')}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
            )}
            {data.rows.length > 0 ? (
              <table className="results whole-cells" aria-label="Keywords">
                <thead>
                  <tr>
                    <th>Keyword</th>
                    <th className="n">before</th>
                    <th className="n">after</th>
                    <th className="n">searches</th>
                    <th className="n">visits/mo</th>
                    <th>Page</th>
                  </tr>
                </thead>
                <tbody>
                  {data.rows.map(row => (
                    <tr key={row.phrase}>
                      <td>
                        <b>{row.phrase}</b>
                      </td>
                      <td className="n">{positionText(row.before, 'not')}</td>
                      <td className="n">{positionText(row.now, 'gone')}</td>
                      <td className="n">
                        {row.searches === null ? <span className="unknown">unknown</span> : formatWhole(row.searches)}
                      </td>
                      <td className="n">
                        {row.visits === null ? (
                          <span className="unknown">unknown</span>
                        ) : (
                          <span
                            className={row.visits < 0 ? 'fall' : ''}
                          >{`${row.visits < 0 ? '−' : '+'}${formatWhole(Math.abs(row.visits))}`}</span>
                        )}
                      </td>
                      <td className="quiet" title={row.page}>
                        {row.page.replace(/^https?:\/\//, '')}
                      </td>
                    </tr>
                  ))}
                </tbody>
              </table>
            ) : (
              <p>Nothing changed for it.</p>
            )}
          </>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
      </DialogActions>
    </Dialog>
  )
}
