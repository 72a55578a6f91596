import { createReport, listReports, type Section, templates, type TemplateName } from '@dew-trail/contract/reports'
import { listSites } from '@dew-trail/contract/sites'
import { Button, Dialog, DialogActions, DialogContent, DialogTitle, MenuItem, TextField } from '@mui/material'
import { type FormEvent, useState } from 'react'
import { call } from '../../api/call.ts'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { useSite } from '../../ui/site-context.ts'
import { useAct } from '../../ui/use-act.ts'
import { setParam, useAddress } from '../../ui/use-address.ts'
import { useChange } from '../../ui/use-change.ts'

/** Makes a report from a template, or from a report of this or another site, which fills itself for this one. */
export default function NewReportDialog({ onClose }: { onClose(): void }) {
  const { site, market } = useSite()
  const [, change] = useAddress()
  const act = useAct()
  const making = useChange()
  const { data: sites } = useEndpoint(listSites, {})
  const [siteId, setSiteId] = useState(site.id)
  const { data: others } = useEndpoint(listReports, { siteId })
  const [from, setFrom] = useState<string>('glance')
  const [name, setName] = useState<string>(templates.glance.name)
  const choose = (next: string) => {
    const known = next in templates ? templates[next as TemplateName].name : nameOf(next)
    // A name that somebody typed stays.
    if (name === '' || name === (from in templates ? templates[from as TemplateName].name : nameOf(from)))
      setName(known)
    setFrom(next)
  }
  const nameOf = (reportId: string): string => others?.reports.find(each => String(each.id) === reportId)?.name ?? ''
  const make = (event: FormEvent) => {
    event.preventDefault()
    void making.run(() =>
      act(async () => {
        const report = others?.reports.find(each => String(each.id) === from)
        const by: { template: TemplateName } | { sections: Section[] } = report
          ? { sections: report.sections }
          : { template: from as TemplateName }
        const made = await call(createReport, { siteId: site.id, marketId: market.id, name: name.trim(), ...by })
        change(params => {
          setParam('report', String(made.id))(params)
          params.delete('new')
        })
        return { say: `"${made.name}" is made`, actId: made.actId }
      }),
    )
  }
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="xs">
      <form onSubmit={make}>
        <DialogTitle>New report</DialogTitle>
        <DialogContent sx={{ display: 'flex', flexDirection: 'column', gap: 2, pt: '8px !important' }}>
          {sites && sites.length > 1 && (
            <TextField
              select
              label="Templates, and reports of"
              value={siteId}
              onChange={event => {
                setSiteId(Number(event.target.value))
                choose('glance')
              }}
            >
              {sites.map(each => (
                <MenuItem key={each.id} value={each.id}>
                  {each.name}
                </MenuItem>
              ))}
            </TextField>
          )}
          <TextField select label="Begin with" value={from} onChange={event => choose(event.target.value)}>
            {Object.entries(templates).map(([key, template]) => (
              <MenuItem key={key} value={key}>
                {template.name}
              </MenuItem>
            ))}
            {others?.reports.map(each => (
              <MenuItem key={each.id} value={String(each.id)}>
                As "{each.name}"
              </MenuItem>
            ))}
          </TextField>
          <TextField
            autoFocus
            label="Title"
            value={name}
            required
            onChange={event => setName(event.target.value)}
            slotProps={{ htmlInput: { maxLength: 120 } }}
          />
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose}>Cancel</Button>
          <Button type="submit" variant="contained" disabled={making.pending || !name.trim()}>
            Make it
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  )
}
