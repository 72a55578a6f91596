import { readKeptResults } from '@dew-trail/contract/track'
import { useState } from 'react'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { formatDay, formatWhole } from '../../ui/format.ts'
import { useSite } from '../../ui/site-context.ts'

const atFirst = 10

/** The result page of any kept day, and another one beside it, with how each page moved from one to the other. */
export default function KeptResults({ keywordId, kept }: { keywordId: number; kept: readonly string[] }) {
  const [day, setDay] = useState<string | null>(null)
  const [beside, setBeside] = useState<string | null>(null)
  const [all, setAll] = useState(false)
  const first = useKept(keywordId, day)
  const second = useKept(keywordId, beside)
  const positionsOf = (page: typeof first): Map<string, number> =>
    new Map(page?.results.flatMap(each => (each.url ? [[each.url, each.position] as const] : [])))
  const choose = (label: string, value: string | null, set: (day: string | null) => void) => (
    <label className="quiet" style={{ fontSize: 12 }}>
      {label}{' '}
      <select
        className="typed-line"
        style={{ width: 'auto' }}
        value={value ?? ''}
        onChange={event => set(event.target.value || null)}
      >
        <option value="">none</option>
        {kept.map(each => (
          <option key={each} value={each}>
            {formatDay(each)}
          </option>
        ))}
      </select>
    </label>
  )
  return (
    <div style={{ marginTop: 8 }}>
      {choose('Result page of', day, setDay)} {day && choose('beside that of', beside, setBeside)}
      {first && (
        <div className="kept-results">
          <Page results={first} before={second && beside! < day! ? positionsOf(second) : null} all={all} />
          {second && <Page results={second} before={beside! > day! ? positionsOf(first) : null} all={all} />}
        </div>
      )}
      {first && first.results.length > atFirst && (
        <button type="button" className="link" onClick={() => setAll(!all)} aria-expanded={all}>
          {all ? 'The first ten' : `All ${formatWhole(first.results.length)}`}
        </button>
      )}
    </div>
  )
}

function useKept(keywordId: number, day: string | null) {
  const { site, market } = useSite()
  const of = { siteId: site.id, keywordId, marketId: market.id, day: day ?? '2000-01-01' }
  const { data } = useEndpoint(readKeptResults, of, { enabled: day !== null })
  return day === null ? undefined : data
}

type PageProps = {
  results: NonNullable<ReturnType<typeof useKept>>
  /** Positions on the earlier day by address, where this is the later one. */
  before: ReadonlyMap<string, number> | null
  all: boolean
}
function Page({ results: { day, depth, results }, before, all }: PageProps) {
  const moved = (url: string | null, position: number): string => {
    if (!before || !url) return ''
    const was = before.get(url)
    if (was === undefined) return 'new'
    return was === position ? '' : was > position ? `up ${was - position}` : `down ${position - was}`
  }
  return (
    <table className="results whole-cells" aria-label={`Results of ${formatDay(day)}`}>
      <thead>
        <tr>
          <th className="n">#</th>
          <th>
            {formatDay(day)}, {formatWhole(depth)} deep
          </th>
          {before && <th>moved</th>}
        </tr>
      </thead>
      <tbody>
        {results.slice(0, all ? results.length : atFirst).map(each => (
          <tr key={each.position} className={each.own ? 'own-result' : ''}>
            <td className="n">{each.position}</td>
            <td style={{ maxWidth: 300 }}>
              {each.url === null ? (
                <span className="unknown">unknown</span>
              ) : (
                <a className="link cut" href={each.url} target="_blank" rel="noreferrer" title={each.url}>
                  {each.url.replace(/^https?:\/\//, '')}
                </a>
              )}
            </td>
            {before && (
              <td className={moved(each.url, each.position).startsWith('down') ? 'fall' : ''}>
                {moved(each.url, each.position)}
              </td>
            )}
          </tr>
        ))}
      </tbody>
    </table>
  )
}
