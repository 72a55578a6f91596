import { useEndpoint } from '../../api/use-endpoint.ts'
import { AsTable } from '../../pictures/AsTable.tsx'
import { loadLog, readClickCurves, readLogState } from '@dew-trail/contract/log'
import { Button, Dialog, DialogActions, DialogContent, DialogTitle, MenuItem, Select } from '@mui/material'
import { useState } from 'react'
import { call } from '../../api/call.ts'
import { ClickCurveChart } from '../../pictures/ClickCurveChart.tsx'
import { isSetByOwner } from '../../pictures/click-positions.ts'
import { formatDay, formatWhole } from '../../ui/format.ts'
import { useSite } from '../../ui/site-context.ts'
import { useAct } from '../../ui/use-act.ts'

/** Curves may be fitted while the dialog is open. The log's own state is not asked for again: that would use up the source's quota. */
const again = 3_000

/** The own query log: which properties can be read, what has been loaded, and the click curves that were fitted from it. */
export default function LogDialog({ onClose, onImport }: { onClose(): void; onImport(): void }) {
  const { site, market } = useSite()
  const act = useAct()
  const [property, setProperty] = useState('')
  const [weeks, setWeeks] = useState(13)
  const [shown, setShown] = useState('desktop|false')
  const { data, error } = useEndpoint(readLogState, { siteId: site.id })
  const curves = useEndpoint(readClickCurves, { siteId: site.id }, { refetchInterval: again })
  const chosen = property || data?.available[0]?.property || ''
  const curve = curves.data?.find(each => `${each.device}|${each.brand}` === shown)
  const isSet = curve !== undefined && isSetByOwner(curve.positions)
  const load = () =>
    act(async () => {
      await call(loadLog, { siteId: site.id, marketId: market.id, property: chosen, weeks })
      onClose()
      return { say: `Loading ${weeks} weeks of the query log; the foot shows how far it is` }
    })
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="md">
      <DialogTitle>Your query log</DialogTitle>
      <DialogContent>
        <p className="quiet" style={{ marginTop: 0 }}>
          What people searched when they saw your pages, by week. Queries become keywords; impressions show demand that
          the ads data does not know, clicks show how often each place is clicked.
        </p>
        {(error || data?.problem) && (
          <p className="fall" role="alert">
            {error?.message ?? data?.problem}
          </p>
        )}
        {data && data.available.length > 0 && (
          <div style={{ display: 'flex', gap: 8, alignItems: 'center' }}>
            <Select
              size="small"
              value={chosen}
              onChange={event => setProperty(event.target.value)}
              sx={{ minWidth: 300 }}
              slotProps={{ input: { 'aria-label': 'Property' } }}
            >
              {data.available.map(each => (
                <MenuItem key={each.property} value={each.property}>
                  {each.name} <small className="quiet">&nbsp;{each.property}</small>
                </MenuItem>
              ))}
            </Select>
            <Select
              size="small"
              value={weeks}
              onChange={event => setWeeks(Number(event.target.value))}
              slotProps={{ input: { 'aria-label': 'Weeks' } }}
            >
              {[4, 13, 26, 52].map(count => (
                <MenuItem key={count} value={count}>
                  {count} weeks
                </MenuItem>
              ))}
            </Select>
            <Button variant="contained" onClick={() => void load()}>
              Load
            </Button>
            <button type="button" className="link" onClick={onImport} style={{ marginLeft: 'auto' }}>
              From a file
            </button>
          </div>
        )}
        {data && data.loaded.length > 0 && (
          <table className="compare" style={{ marginTop: 14 }}>
            <thead>
              <tr>
                <th scope="col">Loaded</th>
                <th scope="col">Queries</th>
                <th scope="col">Impressions</th>
                <th scope="col">Clicks</th>
                <th scope="col">Until</th>
              </tr>
            </thead>
            <tbody>
              {data.loaded.map(each => (
                <tr key={each.property}>
                  <td>{each.name}</td>
                  <td>{formatWhole(each.queries)}</td>
                  <td>{formatWhole(each.impressions)}</td>
                  <td>{formatWhole(each.clicks)}</td>
                  <td>{each.lastDay ? formatDay(each.lastDay) : <span className="unknown">not yet</span>}</td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
        {curve && (
          <section style={{ marginTop: 18 }}>
            <div style={{ display: 'flex', gap: 12, alignItems: 'center' }}>
              <h2 style={{ fontSize: 13, margin: 0 }}>Clicks by place</h2>
              <Select
                size="small"
                value={shown}
                onChange={event => setShown(event.target.value)}
                slotProps={{ input: { 'aria-label': 'Curve' } }}
              >
                {(curves.data ?? []).map(each => (
                  <MenuItem key={`${each.device}|${each.brand}`} value={`${each.device}|${each.brand}`}>
                    {each.device}, {each.brand ? 'brand words' : 'other words'}
                  </MenuItem>
                ))}
              </Select>
              <span className="quiet">
                {curve.fittedAt
                  ? `fitted on ${formatDay(curve.fittedAt)} from ${formatWhole(curve.positions.reduce((sum, each) => sum + each.impressions, 0))} impressions`
                  : 'not enough impressions for a curve of your own'}
                {isSet
                  ? '; visits use the share at the first place that you set, with the rest in proportion.'
                  : curve.fittedAt
                    ? '; visits use it.'
                    : '; visits use the default.'}
                {curve.fittedAt || isSet ? ' Dashed: the default.' : ''}
              </span>
            </div>
            <div style={{ height: 230 }}>
              <ClickCurveChart positions={curve.positions} />
            </div>
            <AsTable
              of="Share of clicks by place"
              head={['Place', 'default', 'your log', 'used', 'impressions']}
              rows={() =>
                curve.positions.map(({ position, standard, fitted, used, impressions }) => [
                  position,
                  `${(standard * 100).toFixed(1)}%`,
                  fitted === null ? null : `${(fitted * 100).toFixed(1)}%`,
                  `${(used * 100).toFixed(1)}%`,
                  formatWhole(impressions),
                ])
              }
            />
          </section>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
      </DialogActions>
    </Dialog>
  )
}
