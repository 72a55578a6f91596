import type { FirstPage } from '@dew-trail/contract/weigh'
import { Link } from 'react-router'
import { formatDay, formatShortDay } from '../ui/format.ts'
import { resultColumns, usualColumns } from './result-columns.tsx'

/** Where results stood on an earlier day. */
export type Before = { day: string; positions: ReadonlyMap<string, number> }

function movedText(before: number | undefined, now: number) {
  if (before === undefined) return <b style={{ fontWeight: 540 }}>new</b>
  if (before === now) return <span className="quiet">same</span>
  return before > now ? `up ${before - now}` : <span className="fall">down {now - before}</span>
}

/** The results of a first page with all figures; with an earlier day also how each moved since. */
export function ResultsTable({
  page,
  before,
  columns = usualColumns,
  onLinks,
  listOf,
}: {
  page: FirstPage
  before?: Before | undefined
  columns?: readonly string[]
  /** Shows the links to a result. */
  onLinks?: ((url: string) => void) | undefined
  /** Address of the list of keywords for which a site or page stands. */
  listOf?: (target: string) => string
}) {
  const shown = resultColumns.filter(column => columns.includes(column.key))
  return (
    <div className="results-box">
      <table className="results">
        <thead>
          <tr>
            <th className="n">#</th>
            {before && (
              <th title={`Place on ${formatDay(before.day)}, and since then`}>since {formatShortDay(before.day)}</th>
            )}
            <th className="results-title">Result</th>
            {onLinks && (
              <th>
                <span className="hidden">Links</span>
              </th>
            )}
            {shown.map(column => (
              <th key={column.key} className="n" title={column.explain}>
                {column.label}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {page.results.map(result => (
            <tr key={result.position} className={result.own ? 'own-result' : ''}>
              <td className="n quiet">{result.position}</td>
              {before && (
                <td style={{ width: 90, maxWidth: 90 }}>
                  {movedText(before.positions.get(result.url), result.position)}
                </td>
              )}
              <td className="results-title" title={`${result.title}\n${result.url}\n\n${result.snippet}`}>
                <span className="title-and-address">
                  <b>{result.title}</b>
                  <small className={result.own ? 'own' : 'quiet'}>{result.url.replace(/^https?:\/\//, '')}</small>
                </span>
              </td>
              {onLinks && (
                <td className="n">
                  <button
                    type="button"
                    className="link"
                    aria-label={`Links to ${result.url}`}
                    onClick={() => onLinks(result.url)}
                  >
                    Links
                  </button>
                </td>
              )}
              {shown.map(column => (
                <td key={column.key} className="n" title={column.why?.(result, page)}>
                  {column.list && listOf && result.siteReach !== null ? (
                    <Link className="link" to={listOf(column.list === 'site' ? result.domain : result.url)}>
                      {column.render(result)}
                    </Link>
                  ) : (
                    column.render(result)
                  )}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  )
}

/** What else a result page shows, as the end of a sentence. */
export function featureText(features: {
  answer: boolean
  questions: string[]
  images: boolean
  shopping: number
  map: number
  ads: number
}): string {
  const parts = [
    features.answer && 'an answer box',
    features.map > 0 && 'a map',
    features.shopping > 0 && 'shopping',
    features.images && 'images',
    features.questions.length > 0 && 'questions',
    features.ads > 0 && `${features.ads} ads`,
  ].filter(Boolean)
  return parts.length ? `, with ${parts.join(', ')}` : ''
}
