import { changeBatch, changeSpecs } from '@dew-trail/contract/change-table'
import { type Changes, type MovedKeyword, readChanges } from '@dew-trail/contract/track-changes'
import { evidenceWords, reasonNames } from '@dew-trail/core/positions/reason-words'
import type { Evidence } from '@dew-trail/core/positions/likely-reason'
import { TextField } from '@mui/material'
import { useCallback, useMemo } from 'react'
import { useEndpoint } from '../../api/use-endpoint.ts'
import type { Row } from '../../rows/row-source.ts'
import { plainView } from '../../sheet/plain-view.ts'
import { TableScreen } from '../../sheet/TableScreen.tsx'
import { useSheetState } from '../../sheet/use-sheet-state.ts'
import { useRowsInWorker } from '../../sheet/use-rows-in-worker.ts'
import { daysAgo, formatDay, formatOne, formatShortDay, formatWhole, plural } from '../../ui/format.ts'
import { useSite } from '../../ui/site-context.ts'
import { setParam, useAddress } from '../../ui/use-address.ts'
import { changeColumns, Won } from './change-columns.tsx'
import { HistoryDetails } from './HistoryDetails.tsx'
import { TrackBar } from './TrackBar.tsx'

const spans = [7, 28, 90] as const
const views = [
  plainView('Most visits first', ''),
  plainView('Lost', 'visits', 'visits:to:-1'),
  plainView('Won', '-visits', 'visits:from:1'),
  plainView('Nothing explains it', '', 'reason:is:unknown'),
]

/** What moved since a chosen day beyond its usual, most visits first, and what likely moved it. */
export function ChangesTab() {
  const { site, market } = useSite()
  const [params, change] = useAddress()
  const since = params.get('since') ?? daysAgo(7)
  const { data, error } = useEndpoint(readChanges, { siteId: site.id, marketId: market.id, since })
  const batch = useMemo(() => (data ? changeBatch(data.keywords) : null), [data])
  const source = useRowsInWorker(changeSpecs, batch)
  const state = useSheetState('')
  const byId = useMemo(() => new Map(data?.keywords.map(each => [each.keywordId, each])), [data])
  const unfold = useCallback((row: Row) => <Unfolded moved={byId.get(row.id)} />, [byId])
  const set = (day: string) => change(setParam('since', day))
  return (
    <TableScreen
      key={`${site.id}:${market.id}`}
      name="track-changes"
      label="What moved"
      fileName="what-happened"
      title="Track"
      noun="keyword"
      source={source}
      error={error}
      total={data?.keywords.length ?? 0}
      columns={changeColumns}
      state={state}
      searchColumn="phrase"
      sums={['visits']}
      unfold={unfold}
      shippedViews={views}
      top={<TrackBar see="changes" />}
      lead={
        <>
          <TextField
            type="date"
            size="small"
            label="Since"
            value={since}
            onChange={event => event.target.value && set(event.target.value)}
            slotProps={{ inputLabel: { shrink: true }, htmlInput: { max: data?.day ?? undefined } }}
            sx={{ width: 150 }}
          />
          {spans.map(days => (
            <button
              key={days}
              type="button"
              className="link"
              aria-pressed={since === daysAgo(days)}
              onClick={() => set(daysAgo(days))}
            >
              {days} days
            </button>
          ))}
        </>
      }
      head={data && <ChangesHead changes={data} />}
      foot={({ sums }) =>
        data && data.moved > data.keywords.length ? (
          <span className="quiet">
            the {formatWhole(data.keywords.length)} with most visits of {formatWhole(data.moved)} that moved
          </span>
        ) : sums.visits!.unknown ? (
          <span className="quiet">visits of {plural(sums.visits!.unknown, 'keyword')} unknown</span>
        ) : null
      }
      none={
        data?.day == null ? (
          <>
            <h2>Nothing was checked yet</h2>
            <p>What moved, and why, is told once positions were checked on two days.</p>
          </>
        ) : data.compared === 0 ? (
          <>
            <h2>Nothing to compare</h2>
            <p>
              No keyword was checked both before {formatDay(since)} and after it. The last checked day is{' '}
              {formatDay(data.day)}: choose an earlier one to compare with.
            </p>
          </>
        ) : (
          <>
            <h2>Nothing moved beyond its usual</h2>
            <p>
              All {formatWhole(data.compared)} keywords that were known on {formatDay(since)} stand where they did, or
              moved no more than they do anyway.
            </p>
          </>
        )
      }
    />
  )
}

/** The sum of it: visits won or lost, how many keywords moved, the reasons, and the engine's shifts. */
function ChangesHead({ changes }: { changes: Changes }) {
  const { visits, moved, compared, season, reasons, shifts, since, day } = changes
  if (!day || !compared) return null
  return (
    <section className="changes-head" aria-label="Summary">
      <div>
        <div className="headline" title="Visits a month over all compared keywords, forms of one keyword once">
          {visits ? <Won value={visits.now - visits.before} /> : <span className="unknown">unknown</span>}
        </div>
        <div className="quiet">
          visits a month since {formatShortDay(since)}
          {visits && `, ${formatWhole(visits.before)} → ${formatWhole(visits.now)}`}
        </div>
        <div style={{ marginTop: 8 }}>
          <b>{formatWhole(moved)}</b> of {formatWhole(compared)} keywords moved beyond their usual
        </div>
        {season !== null && (
          <div className="quiet" style={{ fontSize: 12 }}>
            searches for them are {seasonWords(season)} at this time of the year; visits above leave that out
          </div>
        )}
      </div>
      <table className="results" aria-label="Likely reasons">
        <thead>
          <tr>
            <th>likely reason</th>
            <th className="n">keywords</th>
            <th className="n">won</th>
            <th className="n">lost</th>
          </tr>
        </thead>
        <tbody>
          {reasons.map(each => (
            <tr key={each.kind}>
              <td>{reasonNames[each.kind]}</td>
              <td className="n">{formatWhole(each.keywords)}</td>
              <td className="n">{each.won >= 0.5 ? <Won value={each.won} /> : ''}</td>
              <td className="n">{each.lost >= 0.5 ? <Won value={-each.lost} /> : ''}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <div>
        <b style={{ fontSize: 12 }}>Engine shifts since then</b>
        {shifts.length === 0 && <p className="quiet">None seen in your keywords</p>}
        {shifts.map(shift => (
          <p key={`${shift.engine} ${shift.day}`} style={{ margin: '4px 0' }}>
            <b>{formatShortDay(shift.day)}</b>, {shift.engine}: keywords moved {formatOne(shift.moved)} places, usual{' '}
            {formatOne(shift.usual)}
            {shift.kinds.length > 0 && (
              <span className="quiet">
                {' '}
                (
                {shift.kinds
                  .slice(0, 3)
                  .map(
                    kind => `${kindName(kind.name)} ${kind.gained >= 0 ? '+' : '−'}${formatOne(Math.abs(kind.gained))}`,
                  )
                  .join(', ')}
                )
              </span>
            )}
          </p>
        ))}
      </div>
    </section>
  )
}

/** Where pages stand in the site, in words. */
export const kindName = (kind: string): string => (kind === '/' ? 'home page' : kind === '' ? 'top pages' : `/${kind}/`)
const seasonWords = (season: number): string => {
  const share = formatWhole(Math.abs(season) * 100)
  return share === '0' ? 'as many' : `${share}% ${season > 0 ? 'more' : 'fewer'}`
}

/** All that could have moved a keyword, likeliest first, and its history. */
function Unfolded({ moved }: { moved: MovedKeyword | undefined }) {
  if (!moved) return null
  return (
    <>
      <table className="results whole-cells" style={{ marginBottom: 14 }}>
        <thead>
          <tr>
            <th>could be</th>
            <th className="n">likely</th>
            <th>what speaks for it</th>
          </tr>
        </thead>
        <tbody>
          {moved.reasons.map((each, i) => (
            <tr key={`${each.kind} ${i}`}>
              <td style={{ whiteSpace: 'nowrap' }}>{reasonNames[each.kind]}</td>
              <td className="n">{formatWhole(each.share * 100)}%</td>
              <td>{evidenceWords(each.evidence as Evidence | null)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <HistoryDetails keywordId={moved.keywordId} />
    </>
  )
}
