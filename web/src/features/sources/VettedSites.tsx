import { useEndpoint } from '../../api/use-endpoint.ts'
import { listVetted, refuseSite, type VettedKind, vetSite, vettedKinds } from '@dew-trail/contract/links'
import { Button, MenuItem, TextField } from '@mui/material'
import { type FormEvent, useState } from 'react'
import { call } from '../../api/call.ts'
import { formatWhole, plural } from '../../ui/format.ts'
import { useSite } from '../../ui/site-context.ts'
import { useAct } from '../../ui/use-act.ts'

const kindNames: Record<VettedKind, string> = {
  institution: 'school or public body',
  directory: 'directory',
  other: 'other',
}

/** The sites that trust begins with: those named like a school or public body, and those somebody vouches for. */
export function VettedSites() {
  const { site } = useSite()
  const act = useAct()
  const [domain, setDomain] = useState('')
  const [kind, setKind] = useState<VettedKind>('directory')
  const { data, refetch } = useEndpoint(listVetted, { siteId: site.id })
  const add = (event: FormEvent): void => {
    event.preventDefault()
    void act(async () => {
      const { actId } = await call(vetSite, { siteId: site.id, domain, kind })
      await refetch()
      setDomain('')
      return { say: `${domain} is vetted from the next computation of standing on`, actId }
    })
  }
  if (!data) return null
  return (
    <details className="vetted">
      <summary>
        {plural(data.length, 'vetted site')}{' '}
        <span className="quiet">
          trust begins with them: those named like a school or public body, and those you add
        </span>
      </summary>
      <form onSubmit={add} className="crawl-form">
        <TextField
          value={domain}
          placeholder="A site, such as craftledger.example"
          onChange={event => setDomain(event.target.value.trim().toLowerCase())}
          sx={{ width: 300 }}
          slotProps={{ htmlInput: { 'aria-label': 'Site to vouch for' } }}
        />
        <TextField
          select
          value={kind}
          onChange={event => setKind(event.target.value as VettedKind)}
          sx={{ width: 190 }}
          slotProps={{ htmlInput: { 'aria-label': 'Kind of site' } }}
        >
          {vettedKinds.map(each => (
            <MenuItem key={each} value={each}>
              {kindNames[each]}
            </MenuItem>
          ))}
        </TextField>
        <Button type="submit" variant="contained" disabled={!domain}>
          Vouch for it
        </Button>
      </form>
      <table className="results" style={{ maxWidth: 760 }}>
        <thead>
          <tr>
            <th>Site</th>
            <th>Kind</th>
            <th>Why</th>
            <th className="n">links to sites</th>
            <th>
              <span className="hidden">Remove</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {data.map(each => (
            <tr key={each.domain}>
              <td>{each.domain}</td>
              <td>{kindNames[each.kind]}</td>
              <td className="quiet">{each.why}</td>
              <td className="n">
                {each.linksTo === null ? <span className="unknown">unknown</span> : formatWhole(each.linksTo)}
              </td>
              <td className="n">
                <button
                  type="button"
                  className="link"
                  aria-label={`Vouch for ${each.domain} no longer`}
                  onClick={() =>
                    act(async () => {
                      const { actId } = await call(refuseSite, { siteId: site.id, domain: each.domain })
                      await refetch()
                      return { say: `${each.domain} is vetted no longer`, actId }
                    })
                  }
                >
                  Remove
                </button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </details>
  )
}
