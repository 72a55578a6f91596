import { readCalendarLink, renewCalendarLink } from '@dew-trail/contract/brief'
import { Button, Dialog, DialogActions, DialogContent, DialogTitle, TextField } from '@mui/material'
import { call } from '../../api/call.ts'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { formatDay } from '../../ui/format.ts'
import { useSite } from '../../ui/site-context.ts'
import { useAct } from '../../ui/use-act.ts'
import { useChange } from '../../ui/use-change.ts'

/** The plan's deadlines for other programs: a file once, or a secret address that is always up to date. */
export default function CalendarLinkDialog({ onClose }: { onClose(): void }) {
  const { site } = useSite()
  const { data } = useEndpoint(readCalendarLink, { siteId: site.id })
  const act = useAct()
  const change = useChange()
  const address = data?.address ? `${location.origin}${data.address}` : null
  const renew = (end: boolean, say: string) =>
    void change.run(() =>
      act(async () => {
        await call(renewCalendarLink, { siteId: site.id, end })
        return { say }
      }),
    )
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm">
      <DialogTitle>Deadlines in a calendar</DialogTitle>
      <DialogContent>
        <p style={{ marginTop: 0 }}>
          <a className="link" href={`/api/sites/${site.id}/plan.ics`} download>
            Save as a calendar file
          </a>{' '}
          <span className="quiet">holds the deadlines as they are now.</span>
        </p>
        {address ? (
          <>
            <TextField
              fullWidth
              label="Secret address to subscribe to"
              value={address}
              onFocus={event => event.target.select()}
              slotProps={{ htmlInput: { readOnly: true } }}
              helperText={`Made on ${formatDay(data!.madeOn!)}. Who knows it can read the deadlines, and nothing else.`}
            />
            <p>
              <button
                type="button"
                className="link"
                onClick={() =>
                  void act(async () => {
                    await navigator.clipboard.writeText(address)
                    return { say: 'The address is copied' }
                  })
                }
              >
                Copy
              </button>{' '}
              <button
                type="button"
                className="link"
                disabled={change.pending}
                onClick={() => renew(false, 'The calendar has a new address; the one before has ended')}
              >
                Renew it
              </button>{' '}
              <button
                type="button"
                className="link"
                disabled={change.pending}
                onClick={() => renew(true, 'The address has ended')}
              >
                End it
              </button>
            </p>
          </>
        ) : (
          <p>
            <button
              type="button"
              className="link"
              disabled={!data || change.pending}
              onClick={() => renew(false, 'The calendar has an address')}
            >
              Make a secret address
            </button>{' '}
            <span className="quiet">that a calendar program reads again by itself; changes keep their entries.</span>
          </p>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
      </DialogActions>
    </Dialog>
  )
}
