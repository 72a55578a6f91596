import { changeReport, createReport, listReports, type Section } from '@dew-trail/contract/reports'
import { MenuItem, TextField } from '@mui/material'
import { useState } from 'react'
import { call } from '../api/call.ts'
import { useEndpoint } from '../api/use-endpoint.ts'
import { useSite } from '../ui/site-context.ts'

/** The choice of a report of the site, or of a new one, and how sections are put at its end. */
export function useReports() {
  const { site, market } = useSite()
  const { data, error } = useEndpoint(listReports, { siteId: site.id })
  const [chosen, setChosen] = useState<number | 'new' | null>(null)
  const report = data?.reports.find(each => each.id === chosen) ?? (chosen === null ? data?.reports[0] : undefined)
  const choice = (
    <TextField
      select
      label="Report"
      value={report?.id ?? 'new'}
      disabled={!data}
      error={error !== null}
      helperText={error?.message}
      onChange={event => setChosen(event.target.value === 'new' ? 'new' : Number(event.target.value))}
    >
      {data?.reports.map(each => (
        <MenuItem key={each.id} value={each.id}>
          {each.name}
        </MenuItem>
      ))}
      <MenuItem value="new">A new one</MenuItem>
    </TextField>
  )
  /** Puts sections at the end of the chosen report; `name`: of a new one. */
  const put = async (sections: Section[], name: string): Promise<{ say: string; actId: number | null }> => {
    const done = report
      ? await call(changeReport, {
          siteId: site.id,
          reportId: report.id,
          version: report.version,
          sections: [...report.sections, ...sections],
        })
      : await call(createReport, { siteId: site.id, marketId: market.id, name, sections })
    return { say: `Put into "${done.name}"`, actId: done.actId }
  }
  return { choice, put, isThere: data !== undefined }
}
