import { type LinkingSite, listDisavowed, listLinkingSites, setDisavowed } from '@dew-trail/contract/link-lists'
import { readDisavowList, writeDisavowList } from '@dew-trail/core/links/disavow-list'
import { Button, Dialog, DialogActions, DialogContent, DialogTitle, TextField } from '@mui/material'
import { useState } from 'react'
import { call } from '../../api/call.ts'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { Waiting } from '../../api/Waiting.tsx'
import type { useCompared } from '../../compared/use-compared.ts'
import { ActButton } from '../../ui/ActButton.tsx'
import { useShowDialog } from '../../ui/DialogHost.tsx'
import { download } from '../../ui/download.ts'
import { formatDoubt, formatWhole, plural } from '../../ui/format.ts'
import { JobLine } from '../../ui/JobLine.tsx'
import { ScreenTitle } from '../../ui/ScreenTitle.tsx'
import { useSite } from '../../ui/site-context.ts'
import { useAct } from '../../ui/use-act.ts'
import { useChange } from '../../ui/use-change.ts'
import { LinksBar } from './LinksBar.tsx'
import { NoLinks } from './NoLinks.tsx'
import { useLinkActs } from './use-link-acts.ts'
import { useLinks } from './use-links.ts'

/** Doubt from which a site's followed links are worth a look though it is of no network that was found. */
const doubtful = 0.8

/** Links that look made: networks with the reasons, and sites whose standing nobody trusted accounts for; what is disavowed, out and in. */
export function SuspiciousTab({ targets, setRivals }: ReturnType<typeof useCompared>) {
  const { site } = useSite()
  const show = useShowDialog()
  const { target, scope, own } = useLinks(targets)
  const acts = useLinkActs()
  // Asked by conditions, so that of a site with more linking sites than are listed none is left out.
  const made = useEndpoint(listLinkingSites, { ...scope, target, where: ['suspected:yes'] })
  const odd = useEndpoint(listLinkingSites, {
    ...scope,
    target,
    where: [`doubt:from:${doubtful}`, 'follow:from:1', 'suspected:no', 'cleared:no'],
    sort: '-doubt',
  })
  const right = useEndpoint(listLinkingSites, { ...scope, target, where: ['cleared:yes'] })
  const data = made.data && odd.data && right.data
  const error = made.error ?? odd.error ?? right.error
  const { data: disavowed } = useEndpoint(listDisavowed, { siteId: site.id })
  const networks = groupNetworks(made.data?.rows ?? [])
  const doubts = odd.data?.rows ?? []
  const cleared = right.data?.rows ?? []
  const suspected = networks.flatMap(network => network.sites)
  const save = () =>
    download(
      new Blob([writeDisavowList((disavowed ?? []).map(each => each.domain))], { type: 'text/plain' }),
      `${site.domain}-disavow.txt`,
    )
  return (
    <main className="screen whole">
      <ScreenTitle title="Links" />
      <div className="main">
        <LinksBar targets={targets} see="suspicious" setRivals={setRivals} />
        {!data ? (
          <Waiting error={error} />
        ) : !data.total ? (
          <div className="empty" style={{ flex: 1 }}>
            <NoLinks target={target} />
          </div>
        ) : (
          <div style={{ overflow: 'auto', padding: '4px 16px 16px', minHeight: 0, flex: 1 }}>
            <p className="sentence" style={{ margin: '10px 0' }}>
              {suspected.length
                ? `${plural(suspected.length, 'site')} of ${formatWhole(data.total)} that link to ${target} ${suspected.length === 1 ? 'is' : 'are'} of ${networks.length === 1 ? 'a network that looks' : `${networks.length} networks that look`} made.`
                : `No site of the ${formatWhole(data.total)} that link to ${target} is of a network that looks made.`}{' '}
              {own && (
                <>
                  {plural(disavowed?.length ?? 0, 'site is', 'sites are')} disavowed.{' '}
                  <button type="button" className="link" disabled={!disavowed?.length} onClick={save}>
                    Save the disavow file
                  </button>{' '}
                  <button
                    type="button"
                    className="link"
                    onClick={() => show(close => <DisavowDialog onClose={close} />)}
                  >
                    Take one in
                  </button>
                </>
              )}
            </p>
            {networks.map(network => (
              <section key={network.id} style={{ marginBottom: 22 }} aria-label={`Network ${network.id}`}>
                <div style={{ display: 'flex', gap: 16, alignItems: 'baseline' }}>
                  <h2 style={{ margin: '6px 0', fontSize: 14 }}>
                    {plural(network.sites.length, 'site')} of one network
                  </h2>
                  <span className="fall">{network.reasons.join('; ')}</span>
                  {own && (
                    <ActButton
                      disabled={network.sites.every(each => each.disavowed)}
                      onAct={() =>
                        acts.disavow(
                          network.sites.map(each => each.domain),
                          true,
                        )
                      }
                    >
                      Disavow them all
                    </ActButton>
                  )}
                  <ActButton
                    title="Your word counts for this site from now on, also when links are ranked anew"
                    onAct={() =>
                      acts.clear(
                        network.sites.map(each => each.domain),
                        true,
                      )
                    }
                  >
                    This is no network
                  </ActButton>
                </div>
                <Sites rows={network.sites} own={own} onDisavow={acts.disavow} onClear={acts.clear} />
              </section>
            ))}
            {doubts.length > 0 && (
              <section aria-label="Doubtful sites">
                <h2 style={{ margin: '6px 0', fontSize: 14 }}>{plural(doubts.length, 'doubtful site')} beside</h2>
                <p className="quiet" style={{ margin: '0 0 6px' }}>
                  Trusted sites account for less than a fifth of their standing. That may be youth as well as make: look
                  before you disavow.
                </p>
                <Sites rows={doubts} own={own} onDisavow={acts.disavow} onClear={acts.clear} />
              </section>
            )}
            {cleared.length > 0 && (
              <section aria-label="Set right by hand">
                <h2 style={{ margin: '6px 0', fontSize: 14 }}>
                  {plural(cleared.length, 'site')} you said to be of no network
                </h2>
                <Sites rows={cleared} own={own} onDisavow={acts.disavow} onClear={acts.clear} />
              </section>
            )}
          </div>
        )}
        <div className="foot">
          <span>{plural(suspected.length, 'suspected site')}</span>
          <JobLine />
        </div>
      </div>
    </main>
  )
}

type Network = { id: number; reasons: string[]; sites: LinkingSite[] }
/** Linking sites by the network they are of, the one with most followed links first. */
function groupNetworks(rows: readonly LinkingSite[]): Network[] {
  const networks = new Map<number, Network>()
  for (const row of rows) {
    if (row.network === null) continue
    const known = networks.get(row.network)
    if (known) known.sites.push(row)
    else networks.set(row.network, { id: row.network, reasons: row.networkReasons ?? [], sites: [row] })
  }
  const follow = (network: Network): number => network.sites.reduce((sum, each) => sum + each.follow, 0)
  return [...networks.values()].sort((a, b) => follow(b) - follow(a) || a.id - b.id)
}

type SitesProps = {
  rows: readonly LinkingSite[]
  own: boolean
  onDisavow(domains: readonly string[], on: boolean): Promise<void>
  onClear(domains: readonly string[], on: boolean): Promise<void>
}
function Sites({ rows, own, onDisavow, onClear }: SitesProps) {
  return (
    <table className="results whole-cells">
      <thead>
        <tr>
          <th>Site</th>
          <th>Kind</th>
          <th className="n">links</th>
          <th className="n">followed</th>
          <th>Lands on</th>
          <th>Words</th>
          <th className="n">standing</th>
          <th className="n">trust</th>
          <th className="n">doubt</th>
          <th>Address</th>
          <th>
            <span className="hidden">What to do</span>
          </th>
        </tr>
      </thead>
      <tbody>
        {rows.map(row => (
          <tr key={row.id}>
            <td>
              <b>{row.domain}</b>
            </td>
            <td>{row.kind}</td>
            <td className="n">{formatWhole(row.links)}</td>
            <td className="n">{formatWhole(row.follow)}</td>
            <td>{row.lands.replace(/^https?:\/\/[^/]+/, '') || '/'}</td>
            <td>{row.anchor}</td>
            <td className="n">
              {row.standing === null ? <span className="unknown">unknown</span> : Math.round(row.standing)}
            </td>
            <td className="n">
              {row.trust === null ? <span className="unknown">unknown</span> : Math.round(row.trust)}
            </td>
            <td className="n">
              {row.doubt === null ? <span className="unknown">unknown</span> : formatDoubt(row.doubt)}
            </td>
            <td>{row.addresses[0] ?? <span className="unknown">unknown</span>}</td>
            <td style={{ whiteSpace: 'nowrap' }}>
              {own && (
                <ActButton
                  label={`${row.disavowed ? 'No longer disavow' : 'Disavow'} ${row.domain}`}
                  onAct={() => onDisavow([row.domain], !row.disavowed)}
                >
                  {row.disavowed ? 'No longer' : 'Disavow'}
                </ActButton>
              )}{' '}
              <ActButton
                label={`${row.cleared ? 'Judge again' : 'No network'}: ${row.domain}`}
                onAct={() => onClear([row.domain], !row.cleared)}
              >
                {row.cleared ? 'Judge again' : 'No network'}
              </ActButton>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}

/** Takes a disavow file in, pasted or chosen: its sites are disavowed, and what cannot be read is told. */
function DisavowDialog({ onClose }: { onClose(): void }) {
  const { site } = useSite()
  const act = useAct()
  const [text, setText] = useState('')
  const { domains, wrong } = readDisavowList(text)
  const { run, pending } = useChange()
  const save = () =>
    run(() =>
      act(async () => {
        const { changed, actId } = await call(setDisavowed, { siteId: site.id, domains, on: true })
        onClose()
        return { say: `${plural(changed, 'site is', 'sites are')} disavowed`, actId }
      }),
    )
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm" aria-labelledby="disavow-title">
      <DialogTitle id="disavow-title">Take a disavow file in</DialogTitle>
      <DialogContent>
        <p className="quiet" style={{ marginTop: 0 }}>
          A line a site (domain:spam.example) or page; lines that begin with # are remarks. Of a page its site is taken.
        </p>
        <input
          type="file"
          accept=".txt,text/plain"
          aria-label="A disavow file"
          onChange={event => void event.target.files?.[0]?.text().then(setText)}
          style={{ marginBottom: 12 }}
        />
        <TextField
          multiline
          minRows={6}
          maxRows={14}
          fullWidth
          value={text}
          onChange={event => setText(event.target.value)}
          slotProps={{ htmlInput: { 'aria-label': 'Lines of the file' } }}
        />
        <p className="quiet" aria-live="polite">
          {plural(domains.length, 'site')}
          {wrong.length > 0 &&
            `; ${plural(wrong.length, 'line')} cannot be read, the first is line ${wrong[0]!.line}: "${wrong[0]!.text.slice(0, 60)}"`}
        </p>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        <Button variant="contained" disabled={!domains.length || pending} onClick={() => void save()}>
          Disavow {plural(domains.length, 'site')}
        </Button>
      </DialogActions>
    </Dialog>
  )
}
