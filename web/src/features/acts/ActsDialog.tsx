import { listActs, undoAct } from '@dew-trail/contract/acts'
import { Button, Dialog, DialogActions, DialogContent, DialogTitle } from '@mui/material'
import { call } from '../../api/call.ts'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { Waiting } from '../../api/Waiting.tsx'
import { ActButton } from '../../ui/ActButton.tsx'
import { formatMoment } from '../../ui/format.ts'
import { useSite } from '../../ui/site-context.ts'

/** The last fifty things done with the site, each with its undo. */
export default function ActsDialog({ onClose }: { onClose(): void }) {
  const { site } = useSite()
  const { data, error } = useEndpoint(listActs, { siteId: site.id })
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm">
      <DialogTitle>What was done</DialogTitle>
      <DialogContent>
        {!data && <Waiting error={error} />}
        {data?.length === 0 && (
          <p className="quiet">
            Nothing yet. What you keep, track, plan, list, note or prune stands here, and can be undone.
          </p>
        )}
        {data && data.length > 0 && (
          <table className="results whole-cells" style={{ width: '100%' }}>
            <thead>
              <tr>
                <th>When</th>
                <th>What</th>
                <th>Who</th>
                <th>
                  <span className="hidden">Undo</span>
                </th>
              </tr>
            </thead>
            <tbody>
              {data.map(act => (
                <tr key={act.id}>
                  <td className="quiet" style={{ whiteSpace: 'nowrap' }}>
                    {formatMoment(act.at)}
                  </td>
                  <td style={{ width: '100%', whiteSpace: 'normal' }}>{act.title}</td>
                  <td className="quiet" style={{ whiteSpace: 'nowrap' }}>
                    {act.who}
                  </td>
                  <td>
                    {act.undoneAt === null ? (
                      <ActButton
                        label={`Undo: ${act.title}`}
                        onAct={async () => {
                          await call(undoAct, { siteId: site.id, actId: act.id })
                          return { say: `Undone: ${act.title}` }
                        }}
                      >
                        Undo
                      </ActButton>
                    ) : (
                      <span className="quiet">undone</span>
                    )}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
      </DialogActions>
    </Dialog>
  )
}
