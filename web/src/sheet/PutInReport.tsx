import { changeReport, createReport, listReports, type Section } from '@dew-trail/contract/reports'
import { Button, Dialog, DialogActions, DialogContent, DialogTitle, MenuItem, TextField } from '@mui/material'
import { type FormEvent, useState } from 'react'
import { call } from '../api/call.ts'
import { useEndpoint } from '../api/use-endpoint.ts'
import { useSite } from '../ui/site-context.ts'
import { useAct } from '../ui/use-act.ts'
import { useChange } from '../ui/use-change.ts'

type Props = { table: NonNullable<Section['table']>; title: string; onClose(): void }

/** Puts a table as it is shown, its conditions, order and columns, into a report as a section that fills itself. */
export default function PutInReport({ table, title, onClose }: Props) {
  const { site, market } = useSite()
  const act = useAct()
  const saving = useChange()
  const { data } = useEndpoint(listReports, { siteId: site.id })
  const [chosen, setChosen] = useState<number | 'new' | null>(null)
  const [name, setName] = useState(title)
  const report = data?.reports.find(each => each.id === chosen) ?? (chosen === null ? data?.reports[0] : undefined)
  const save = (event: FormEvent) => {
    event.preventDefault()
    const section: Section = { kind: 'view', title: name.trim(), table }
    void saving.run(() =>
      act(async () => {
        const done = report
          ? await call(changeReport, {
              siteId: site.id,
              reportId: report.id,
              version: report.version,
              sections: [...report.sections, section],
            })
          : await call(createReport, { siteId: site.id, marketId: market.id, name: name.trim(), sections: [section] })
        onClose()
        return { say: `Put into "${done.name}"`, actId: done.actId }
      }),
    )
  }
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="xs">
      <form onSubmit={save}>
        <DialogTitle>Put into a report</DialogTitle>
        <DialogContent sx={{ display: 'flex', flexDirection: 'column', gap: 2, pt: '8px !important' }}>
          <TextField
            select
            label="Report"
            value={report?.id ?? 'new'}
            disabled={!data}
            onChange={event => setChosen(event.target.value === 'new' ? 'new' : Number(event.target.value))}
          >
            {data?.reports.map(each => (
              <MenuItem key={each.id} value={each.id}>
                {each.name}
              </MenuItem>
            ))}
            <MenuItem value="new">A new one</MenuItem>
          </TextField>
          <TextField
            autoFocus
            label="Title of the section"
            value={name}
            required
            onChange={event => setName(event.target.value)}
            slotProps={{ htmlInput: { maxLength: 120 } }}
            helperText="With the conditions, order and columns that are shown; its rows are those of the day it is issued."
          />
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose}>Cancel</Button>
          <Button type="submit" variant="contained" disabled={saving.pending || !data || !name.trim()}>
            Put it in
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  )
}
