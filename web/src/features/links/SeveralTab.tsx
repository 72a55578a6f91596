import { listSharedLinkers, type SharedLinker } from '@dew-trail/contract/link-profile'
import { readTarget } from '@dew-trail/core/rivals/target'
import { MenuItem, TextField } from '@mui/material'
import { useMemo } from 'react'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { Waiting } from '../../api/Waiting.tsx'
import { colourOf, type useCompared } from '../../compared/use-compared.ts'
import { exportTable } from '../../rows/export-table.ts'
import { ActButton } from '../../ui/ActButton.tsx'
import { download } from '../../ui/download.ts'
import { formatDoubt, formatWhole, plural } from '../../ui/format.ts'
import { JobLine } from '../../ui/JobLine.tsx'
import { ScreenTitle } from '../../ui/ScreenTitle.tsx'
import { useSite } from '../../ui/site-context.ts'
import { setParam, useAddress } from '../../ui/use-address.ts'
import { LinksBar } from './LinksBar.tsx'
import { useLinkActs } from './use-link-acts.ts'

/** Sites that link to several of the compared sites, best hubs first: where the own site should be linked, too. */
export function SeveralTab({ targets, setRivals }: ReturnType<typeof useCompared>) {
  const { site } = useSite()
  const [params, change] = useAddress()
  const acts = useLinkActs()
  const domains = useMemo(
    () => [...new Set(targets.slice(1).flatMap(text => readTarget(text)?.domain ?? []))],
    [targets],
  )
  const least = Math.min(Math.max(2, Number(params.get('least')) || 2), Math.max(2, domains.length))
  const withOwn = params.get('own') === 'yes'
  const { data, error } = useEndpoint(
    listSharedLinkers,
    { siteId: site.id, domains },
    { enabled: domains.length > 1, keep: true },
  )
  const rows = data?.linkers.filter(each => each.to.length >= least && (withOwn || !each.linksToOwn)) ?? []
  const save = async () => {
    const columns = ['site', 'hub', 'standing', 'doubt', 'links to', 'links to you'].map(label => ({
      key: label,
      label,
    }))
    const cells = rows.map(each => [
      each.domain,
      Math.round(each.hub),
      each.standing,
      each.doubt,
      each.to.join(', '),
      each.linksToOwn ? 'yes' : 'no',
    ])
    download(await exportTable('csv', { title: 'Linkers', columns, rows: cells }), `${site.domain}-link-to-several.csv`)
  }
  return (
    <main className="screen whole">
      <ScreenTitle title="Links" />
      <div className="main">
        <LinksBar
          targets={targets}
          see="several"
          says={data?.unknown.length ? `No links are known yet of ${data.unknown.join(', ')}` : ''}
          setRivals={setRivals}
        />
        {domains.length < 2 ? (
          <div className="empty" style={{ flex: 1 }}>
            <h2>Name two sites or more</h2>
            <p>Add them above: whoever links to several of your rivals is likely to link to you, too.</p>
          </div>
        ) : !data ? (
          <Waiting error={error} />
        ) : (
          <>
            <div className="bar">
              <TextField
                select
                value={least}
                sx={{ minWidth: 190 }}
                onChange={event => change(setParam('least', event.target.value === '2' ? null : event.target.value))}
                slotProps={{ htmlInput: { 'aria-label': 'To how many of them' } }}
              >
                {Array.from({ length: Math.max(1, domains.length - 1) }, (_, i) => i + 2).map(each => (
                  <MenuItem key={each} value={String(each)}>
                    to at least {each} of the {domains.length}
                  </MenuItem>
                ))}
              </TextField>
              <button
                type="button"
                className="choice"
                aria-pressed={!withOwn}
                onClick={() => change(setParam('own', withOwn ? null : 'yes'))}
              >
                and not to you
              </button>
              <span className="quiet">
                {plural(data.count, 'site links', 'sites link')} to at least two of them
                {data.linkers.length < data.count
                  ? `; the ${formatWhole(data.linkers.length)} best hubs are looked at`
                  : ''}
              </span>
              <span className="bar-end" style={{ display: 'flex', gap: 16 }}>
                <ActButton
                  disabled={!rows.length}
                  onAct={() => acts.addProspects(rows.map(({ domain }) => ({ domain })))}
                >
                  Add all {rows.length} to the prospects
                </ActButton>
                <button type="button" className="link" disabled={!rows.length} onClick={() => void save()}>
                  Save as CSV
                </button>
              </span>
            </div>
            {rows.length ? (
              <div style={{ overflow: 'auto', padding: '4px 16px 16px', minHeight: 0 }}>
                <Linkers rows={rows} domains={domains} onProspect={domain => acts.addProspects([{ domain }])} />
              </div>
            ) : (
              <div className="empty" style={{ flex: 1 }}>
                <h2>No such site is known</h2>
                <p>
                  {data.count
                    ? 'Ask for fewer of them, or for those that link to you as well.'
                    : 'Our graph knows no site that links to two of them. Load their links above.'}
                </p>
              </div>
            )}
          </>
        )}
        <div className="foot">
          <span>{plural(rows.length, 'site')}</span>
          <JobLine />
        </div>
      </div>
    </main>
  )
}

type LinkersProps = {
  rows: readonly SharedLinker[]
  domains: readonly string[]
  onProspect(domain: string): Promise<void>
}
function Linkers({ rows, domains, onProspect }: LinkersProps) {
  return (
    <table className="results whole-cells">
      <thead>
        <tr>
          <th>Site</th>
          <th className="n" title="How good a hub it is for these sites, of the best">
            hub
          </th>
          <th className="n">standing</th>
          <th className="n" title="Part of its standing that trusted sites do not account for">
            doubt
          </th>
          {domains.map((domain, i) => (
            <th key={domain} title={domain} style={{ borderBottom: `3px solid ${colourOf(i + 1)}` }}>
              {domain.split('.')[0]}
            </th>
          ))}
          <th>you</th>
          <th>
            <span className="hidden">What to do</span>
          </th>
        </tr>
      </thead>
      <tbody>
        {rows.map(row => (
          <tr key={row.domain}>
            <td>
              <b>{row.domain}</b>
            </td>
            <td className="n">{Math.round(row.hub)}</td>
            <td className="n">
              {row.standing === null ? <span className="unknown">unknown</span> : Math.round(row.standing)}
            </td>
            <td className="n">
              {row.doubt === null ? <span className="unknown">unknown</span> : formatDoubt(row.doubt)}
            </td>
            {domains.map(domain => (
              <td key={domain}>{row.to.includes(domain) ? 'links' : <span className="quiet">–</span>}</td>
            ))}
            <td>{row.linksToOwn ? 'links' : <span className="quiet">–</span>}</td>
            <td>
              <ActButton label={`Prospect: ${row.domain}`} onAct={() => onProspect(row.domain)}>
                Prospect
              </ActButton>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}
