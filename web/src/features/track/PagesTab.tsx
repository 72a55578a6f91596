import { listPositions, pageHistory, type TrackedRow } from '@dew-trail/contract/track'
import { figureParts } from '@dew-trail/core/demand/shared-figures'
import { useMemo, useState } from 'react'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { Waiting } from '../../api/Waiting.tsx'
import { DayLine } from '../../pictures/DayLine.tsx'
import { formatOne, formatWhole, plural } from '../../ui/format.ts'
import { JobLine } from '../../ui/JobLine.tsx'
import { ScreenTitle } from '../../ui/ScreenTitle.tsx'
import { DayRanges } from '../../ui/DayRanges.tsx'
import { useSite } from '../../ui/site-context.ts'
import { TrackBar } from './TrackBar.tsx'

const atFirst = 200

type OwnPage = {
  page: string
  rows: TrackedRow[]
  visits: number | null
  mean: number
  best: number
  /** Keywords for which another own page stood before. */
  swapped: number
}
/** Own pages with the tracked keywords for which each stands now, most visits first; forms of one keyword count once. */
export function pagesOf(rows: readonly TrackedRow[]): OwnPage[] {
  const byPage = new Map<string, TrackedRow[]>()
  for (const row of rows) {
    if (row.page === null || row.now <= 0) continue
    const list = byPage.get(row.page)
    if (list) list.push(row)
    else byPage.set(row.page, [row])
  }
  return [...byPage]
    .map(([page, list]) => {
      const parts = figureParts(list)
      const known = list.flatMap((row, i) => (row.visits === null ? [] : [row.visits * parts[i]!]))
      return {
        page,
        rows: list.toSorted((a, b) => (b.visits ?? -1) - (a.visits ?? -1)),
        visits: known.length ? known.reduce((sum, each) => sum + each, 0) : null,
        mean: list.reduce((sum, row) => sum + row.now, 0) / list.length,
        best: Math.min(...list.map(row => row.now)),
        swapped: list.filter(row => row.pageBefore !== null && row.pageBefore !== row.page).length,
      }
    })
    .sort((a, b) => (b.visits ?? -1) - (a.visits ?? -1) || (a.page < b.page ? -1 : 1))
}

/** Positions by the own page that is found: what each page stands for, and which took another's place. */
export function PagesTab() {
  const { site, market } = useSite()
  const { data, error } = useEndpoint(listPositions, { siteId: site.id, marketId: market.id, compareDays: 7 })
  const pages = useMemo(() => (data ? pagesOf(data.rows) : []), [data])
  const [open, setOpen] = useState<string | null>(null)
  const [all, setAll] = useState(false)
  const without = data ? data.rows.filter(row => row.now !== 0 && (row.page === null || row.now < 0)).length : 0
  return (
    <main className="screen whole">
      <ScreenTitle title="Track" />
      <div className="main">
        <TrackBar see="pages" />
        {!data ? (
          <Waiting error={error} />
        ) : pages.length === 0 ? (
          <div className="empty" style={{ flex: 1 }}>
            <h2>No own page is found yet</h2>
            <p>Pages are told with the positions of tracked keywords, once these were checked.</p>
          </div>
        ) : (
          <div className="first">
            <table className="results whole-cells">
              <thead>
                <tr>
                  <th>Page</th>
                  <th className="n">keywords</th>
                  <th className="n">visits/mo</th>
                  <th className="n">mean position</th>
                  <th className="n">best</th>
                  <th>look at</th>
                </tr>
              </thead>
              {pages.slice(0, all ? pages.length : atFirst).map(each => (
                <tbody key={each.page}>
                  <tr>
                    <td>
                      <button
                        type="button"
                        className="link"
                        aria-expanded={open === each.page}
                        onClick={() => setOpen(open === each.page ? null : each.page)}
                      >
                        <span className="cut" style={{ maxWidth: 460 }} title={each.page}>
                          {pathOf(each.page)}
                        </span>
                      </button>
                    </td>
                    <td className="n">{formatWhole(each.rows.length)}</td>
                    <td className="n">
                      {each.visits === null ? <span className="unknown">unknown</span> : formatWhole(each.visits)}
                    </td>
                    <td className="n own">{formatOne(each.mean)}</td>
                    <td className="n own">{each.best}</td>
                    <td className="fall">
                      {each.swapped > 0 && `took another page's place for ${plural(each.swapped, 'keyword')}`}
                    </td>
                  </tr>
                  {open === each.page && (
                    <tr>
                      <td colSpan={6}>
                        <PageOverTime page={each.page} />
                      </td>
                    </tr>
                  )}
                  {open === each.page &&
                    each.rows.map(row => (
                      <tr key={row.id}>
                        <td style={{ paddingLeft: 26 }}>{row.phrase}</td>
                        <td className="n" />
                        <td className="n">
                          {row.visits === null ? <span className="unknown">unknown</span> : formatWhole(row.visits)}
                        </td>
                        <td className="n own">{row.now}</td>
                        <td className="n">{row.best ?? ''}</td>
                        <td className="quiet">
                          {row.pageBefore !== null &&
                            row.pageBefore !== row.page &&
                            `before: ${pathOf(row.pageBefore)}`}
                        </td>
                      </tr>
                    ))}
                </tbody>
              ))}
            </table>
            {pages.length > atFirst && !all && (
              <button type="button" className="link" onClick={() => setAll(true)}>
                Show all {formatWhole(pages.length)}
              </button>
            )}
          </div>
        )}
        <div className="foot">
          {data && (
            <span>
              <b>{formatWhole(pages.length)}</b> {pages.length === 1 ? 'page' : 'pages'} found for tracked keywords
              {without > 0 && `; for ${plural(without, 'keyword')} none was`}
            </span>
          )}
          <div className="foot-end">
            <JobLine />
          </div>
        </div>
      </div>
    </main>
  )
}

const ranges = [90, 180, 400]
/** What a page stood for over time: visits of its keywords together, and how many there were. */
function PageOverTime({ page }: { page: string }) {
  const { site, market } = useSite()
  const [days, setDays] = useState<number>(180)
  const { data, error } = useEndpoint(pageHistory, { siteId: site.id, marketId: market.id, page, days }, { keep: true })
  if (error) return <p role="alert">{error.message}</p>
  if (!data) return <p className="quiet">Loading</p>
  if (!data.from) return <p className="quiet">Nothing was checked yet.</p>
  const keywords = data.keywords.filter(each => each !== null)
  return (
    <div style={{ padding: '4px 0 8px' }}>
      <div style={{ display: 'flex', gap: 12, alignItems: 'baseline' }}>
        <DayRanges choices={ranges} days={days} onChange={setDays} />
        <span className="quiet">
          Visits of all keywords for which it was found on the day, at today’s searches; of{' '}
          {keywords.length ? plural(keywords.at(-1)!, 'keyword') : 'no keyword'} now,{' '}
          {keywords.length ? formatWhole(Math.max(...keywords)) : 0} at most.
        </span>
      </div>
      <DayLine from={data.from} values={data.visits} of="visits a month" />
    </div>
  )
}

const pathOf = (address: string): string => (URL.canParse(address) ? new URL(address).pathname : address)
