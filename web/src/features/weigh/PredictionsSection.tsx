import { useEndpoint } from '../../api/use-endpoint.ts'
import { type Predictions, readPredictions, settledDays } from '@dew-trail/contract/weigh'
import { Link } from 'react-router'
import { formatChance, formatDay, formatOne, formatWhole, plural, today } from '../../ui/format.ts'
import { useSite } from '../../ui/site-context.ts'
import { likelyText } from '../../keywords/likely-text.ts'

type Row = Predictions['rows'][number]

/** Chances that were said of planned pages on the day they were published, beside where they stand two months later. */
export function PredictionsSection({ engine, device }: { engine: string; device: string }) {
  const { site } = useSite()
  const { data, error } = useEndpoint(readPredictions, { siteId: site.id, engine, device, today: today() })
  return (
    <section aria-labelledby="predictions-title" style={{ maxWidth: 900 }}>
      <h2 id="predictions-title">Pages you published</h2>
      {error && <p className="fall">{error.message}</p>}
      {data && <PredictionsTable predictions={data} siteId={site.id} />}
    </section>
  )
}

const verdicts: Record<Predictions['sum']['verdict'], string> = {
  few: 'Too few yet to say what the chances are worth for your pages.',
  right: 'That is as close as luck lets chances come.',
  cautious: 'That is more than luck explains: for your pages the chances are too cautious.',
  hopeful: 'That is less than luck explains: for your pages the chances are too hopeful.',
}

export function PredictionsTable({ predictions: { rows, sum }, siteId }: { predictions: Predictions; siteId: number }) {
  const waiting = rows.filter(row => row.state === 'waiting')
  const unseen = rows.filter(row => row.state === 'unseen')
  if (!rows.length)
    return (
      <p className="quiet" style={{ maxWidth: 620 }}>
        When a planned page is marked as published, the chances of its weighed keywords are kept as they are said that
        day. {settledDays} days later they are compared with where the page stands, and shown here.
      </p>
    )
  const next = waiting.map(row => row.dueOn).sort()[0]
  return (
    <>
      <p style={{ maxWidth: 620 }}>
        {sum.count > 0 && (
          <>
            Of {plural(sum.count, 'keyword')} of pages that stand {settledDays} days, the chances promised{' '}
            <b>{formatOne(sum.expected)}</b> on the first page (give or take {formatOne(sum.spread)}); it became{' '}
            <b>{formatWhole(sum.happened)}</b>. {verdicts[sum.verdict]}{' '}
          </>
        )}
        {next && (
          <>
            {plural(waiting.length, 'keyword')} {waiting.length === 1 ? 'waits' : 'wait'} for {settledDays} days to
            pass, the next until {formatDay(next)}.{' '}
          </>
        )}
        {unseen.length > 0 && (
          <>
            {plural(unseen.length, 'keyword')} {unseen.length === 1 ? 'was' : 'were'} not looked at since: weigh them
            again, or watch them in Track.
          </>
        )}
      </p>
      <table className="results">
        <thead>
          <tr>
            <th style={{ width: '24%' }}>Keyword</th>
            <th style={{ width: '20%' }}>Page</th>
            <th style={{ width: '12%' }}>Published</th>
            <th className="n">Chance said</th>
            <th className="n">Place said</th>
            <th>Came true</th>
          </tr>
        </thead>
        <tbody>
          {rows.slice(0, mostShown).map(row => (
            <tr key={`${row.pageId} ${row.keywordId} ${row.marketId}`}>
              <td>
                <Link className="link" to={`/${siteId}/weigh/page/${row.keywordId}?market=${row.marketId}`}>
                  {row.phrase}
                </Link>
              </td>
              <td className="quiet">{row.title}</td>
              <td>{formatDay(row.publishedOn)}</td>
              <td className="n">{formatChance(row.chance)}</td>
              <td className="n">{likelyText(row.likelyFrom, row.likelyTo)}</td>
              <td>{cameOf(row)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {rows.length > mostShown && (
        <p className="quiet">
          The latest {formatWhole(mostShown)} of {formatWhole(rows.length)}; the sums are of all.
        </p>
      )}
    </>
  )
}

const mostShown = 100

function cameOf({ state, position, depth, seenOn, dueOn }: Row) {
  if (state === 'waiting') return <span className="quiet">asked from {formatDay(dueOn)} on</span>
  if (state === 'unseen') return <span className="unknown">not looked at since</span>
  if (position === null)
    return (
      <span className="fall">
        not within {formatWhole(depth!)} on {formatDay(seenOn!)}
      </span>
    )
  return (
    <span className={position <= 10 ? 'rise' : 'fall'}>
      place {formatWhole(position)} on {formatDay(seenOn!)}
    </span>
  )
}
