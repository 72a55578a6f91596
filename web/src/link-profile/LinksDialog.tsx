import { keyOf, useEndpoint } from '../api/use-endpoint.ts'
import { type LinkProfile, type LinkRow, listLinks, readLinkProfile } from '@dew-trail/contract/link-profile'
import { loadFeeds } from '@dew-trail/contract/links'
import { Dialog, DialogContent, DialogTitle, IconButton } from '@mui/material'
import { X } from 'lucide-react'
import { useInfiniteQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Link } from 'react-router'
import { call } from '../api/call.ts'
import { formatShortDay, formatWhole, plural } from '../ui/format.ts'
import { useSite } from '../ui/site-context.ts'
import { useAct } from '../ui/use-act.ts'
import { LinkFigures } from './LinkFigures.tsx'

type Scope = 'page' | 'site'
type Props = { url: string; keywordId?: number; phrase?: string; onClose(): void }

/** The links to a page or to its whole site, as far as our graph knows them. */
export function LinksDialog({ url, keywordId, phrase, onClose }: Props) {
  const { site, market } = useSite()
  const act = useAct()
  const [scope, setScope] = useState<Scope>('page')
  const [followOnly, setFollowOnly] = useState(true)
  const wanted = { siteId: site.id, url, scope }
  const profile = useEndpoint(readLinkProfile, { ...wanted, ...(keywordId === undefined ? {} : { keywordId }) })
  const data = profile.data
  const load = () =>
    act(async () => {
      await call(loadFeeds, { siteId: site.id, domains: [data!.domain] })
      return { say: `Loading links to ${data!.domain}; the foot shows how far it is` }
    })
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="lg" aria-labelledby="links-title">
      <DialogTitle sx={{ display: 'flex', gap: 2, alignItems: 'center', pb: 1 }}>
        <span id="links-title" style={{ minWidth: 0, overflow: 'hidden', textOverflow: 'ellipsis' }} title={url}>
          Links to {scope === 'page' ? url.replace(/^https?:\/\//, '') : (data?.domain ?? 'the site')}
        </span>
        <span style={{ flex: 1 }} />
        <IconButton aria-label="Close" onClick={onClose}>
          <X size={16} />
        </IconButton>
      </DialogTitle>
      <DialogContent className="links-dialog" sx={{ minHeight: 420 }}>
        <div style={{ display: 'flex', gap: 6, marginBottom: 12 }} role="group" aria-label="Links to what">
          {(['page', 'site'] as const).map(each => (
            <button
              key={each}
              type="button"
              className="choice"
              aria-pressed={scope === each}
              onClick={() => setScope(each)}
            >
              {each === 'page' ? 'This page' : 'The whole site'}
            </button>
          ))}
          <Link
            className="link"
            style={{ marginLeft: 'auto' }}
            to={`/${site.id}/links?${new URLSearchParams({ market: String(market.id), see: 'sites', of: scope === 'page' ? url : (data?.domain ?? url) })}`}
            onClick={onClose}
          >
            All about these links
          </Link>
        </div>
        {profile.error ? (
          <p role="alert" className="fall">
            {profile.error.message}
          </p>
        ) : !data ? (
          <p className="quiet">Loading</p>
        ) : data.known ? (
          <>
            <LinkFigures profile={data} phrase={phrase} />
            <LinkList {...wanted} followOnly={followOnly} onFollowOnly={setFollowOnly} profile={data} />
          </>
        ) : (
          <div className="empty">
            <h2>Our graph knows no link to {scope === 'page' ? 'this page' : data.domain}</h2>
            <p>
              That is not zero: links to {data.domain} may not have been loaded yet, or no feed and no crawl has met
              one.
            </p>
            <button type="button" className="link" onClick={() => void load()}>
              Load what the link feeds know of {data.domain}
            </button>
          </div>
        )}
      </DialogContent>
    </Dialog>
  )
}

type ListProps = {
  siteId: number
  url: string
  scope: Scope
  followOnly: boolean
  onFollowOnly(on: boolean): void
  profile: LinkProfile
}

function LinkList({ siteId, url, scope, followOnly, onFollowOnly, profile }: ListProps) {
  const wanted = { siteId, url, scope, there: 'true' as const, ...(followOnly ? { follow: 'true' as const } : {}) }
  const list = useInfiniteQuery({
    queryKey: keyOf(listLinks, wanted),
    queryFn: ({ pageParam }) => call(listLinks, { ...wanted, ...(pageParam ? { after: pageParam } : {}) }),
    initialPageParam: null as string | null,
    getNextPageParam: page => page.next,
  })
  const rows = list.data?.pages.flatMap(page => page.links) ?? []
  const count = list.data?.pages[0]?.count
  return (
    <section aria-labelledby="link-list-title">
      <div style={{ display: 'flex', gap: 12, alignItems: 'baseline' }}>
        <h2 id="link-list-title">Links there now</h2>
        <button type="button" className="choice" aria-pressed={followOnly} onClick={() => onFollowOnly(!followOnly)}>
          Followed only
        </button>
        {count !== null && count !== undefined && (
          <span className="quiet">
            {formatWhole(count)}
            {profile.there > 0 && count === 0 ? ', none of them followed' : ''}
          </span>
        )}
      </div>
      {list.error && (
        <p role="alert" className="fall">
          {list.error.message}
        </p>
      )}
      {rows.length > 0 && (
        <table className="results">
          <thead>
            <tr>
              <th>Linking page</th>
              <th>Anchor</th>
              <th className="n" title="Standing of the linking site, 0–100">
                standing
              </th>
              <th
                className="n"
                title="Pull: the rank the linking page passes on by this link, on the scale of standing, 0–100"
              >
                pull
              </th>
              <th className="n">first seen</th>
            </tr>
          </thead>
          <tbody>
            {rows.map(row => (
              <LinkLine key={`${row.source} ${row.target} ${row.anchor} ${row.rel.join()}`} row={row} scope={scope} />
            ))}
          </tbody>
        </table>
      )}
      {list.hasNextPage && (
        <button type="button" className="link" disabled={list.isFetching} onClick={() => void list.fetchNextPage()}>
          {list.isFetching ? 'Loading' : 'Show more'}
        </button>
      )}
    </section>
  )
}

const figure = (value: number | null, why: string) =>
  value === null ? (
    <span className="unknown" title={why}>
      unknown
    </span>
  ) : (
    Math.round(value)
  )

function LinkLine({ row, scope }: { row: LinkRow; scope: Scope }) {
  return (
    <tr>
      <td style={{ maxWidth: 0, width: '48%' }} title={`${row.title ?? ''}\n${row.source}`.trim()}>
        {row.title && <b style={{ fontWeight: 540 }}>{row.title} </b>}
        <small className="quiet">{row.source.replace(/^https?:\/\//, '')}</small>
        {scope === 'site' && <small className="quiet"> to {row.target.replace(/^https?:\/\/[^/]+/, '')}</small>}
      </td>
      <td style={{ maxWidth: 0, width: '24%' }} title={row.around ?? 'The words around it were not seen'}>
        {row.anchor || <span className="quiet">{row.kind === 'image' ? 'a picture' : 'no words'}</span>}
        {row.rel.length > 0 && <small className="quiet"> {row.rel.join(', ')}</small>}
      </td>
      <td className="n">{figure(row.standing, 'Standing was not computed since the link came in')}</td>
      <td className="n">
        {row.rel.length ? (
          <span className="quiet" title={`Engines are told not to follow it (${plural(row.rel.length, 'mark')})`}>
            none
          </span>
        ) : (
          figure(row.pull, 'Standing was not computed since the link came in')
        )}
      </td>
      <td className="n quiet">{row.firstSeen ? formatShortDay(row.firstSeen) : 'unknown'}</td>
    </tr>
  )
}
