import type { Beside } from '@dew-trail/contract/weigh'
import { useState } from 'react'
import { formatMoney, formatWhole, plural } from '../../ui/format.ts'
import { useSite } from '../../ui/site-context.ts'
import { useKeywordActions } from '../../keywords/keyword-actions.ts'

const coverWords = { phrase: 'whole phrase', words: 'all words', no: 'not covered' } as const
const shownFirst = 12
const isOnSite = (address: string, domain: string): boolean => {
  const { hostname } = new URL(address)
  return hostname === domain || hostname.endsWith(`.${domain}`)
}
const known = (value: number | null, format: (value: number) => string) =>
  value === null ? <span className="unknown">unknown</span> : format(value)

/** Which longer forms of the keyword a page covers, what those it does not are worth, and ways to go on with them. */
export function LongerKeywords({ found }: { found: Beside }) {
  const { site } = useSite()
  const { run } = useKeywordActions()
  const [all, setAll] = useState(false)
  const [keptNow, setKeptNow] = useState<ReadonlySet<number>>(new Set())
  const { longer } = found
  const missing = longer.filter(each => each.cover === 'no')
  const [chosen, setChosen] = useState<ReadonlySet<number>>(new Set(missing.map(each => each.keywordId)))
  if (!longer.length)
    return (
      <p className="quiet">
        No longer form of this keyword has been gathered yet. Gather from it (G on its row) to see them.
      </p>
    )
  const searchesOf = (list: typeof longer): number => list.reduce((sum, each) => sum + (each.searches ?? 0), 0)
  const unknown = missing.filter(each => each.searches === null).length
  // In the order of the list, which is the suggested one.
  const marked = longer.filter(each => chosen.has(each.keywordId)).map(each => each.keywordId)
  const unkept = longer
    .filter(each => chosen.has(each.keywordId) && !each.kept && !keptNow.has(each.keywordId))
    .map(each => each.keywordId)
  const keepAll = (ids: number[]) => {
    run('keep', ids)
    setKeptNow(new Set([...keptNow, ...ids]))
  }
  const toggle = (id: number) => {
    const next = new Set(chosen)
    if (!next.delete(id)) next.add(id)
    setChosen(next)
  }
  const { address } = found
  const own = address !== null && isOnSite(address, site.domain)
  return (
    <>
      <p>
        Of {plural(longer.length, 'longer keyword')} this page says{' '}
        <b>{longer.filter(each => each.cover === 'phrase').length}</b> whole, has the words of{' '}
        <b>{longer.filter(each => each.cover === 'words').length}</b> and lacks <b>{missing.length || 'none'}</b>
        {missing.length > 0 && (
          <>
            , which are searched <b>{formatWhole(searchesOf(missing))}</b> times a month
            {unknown ? `, ${formatWhole(unknown)} unknown` : ''}; the keyword itself{' '}
            {known(found.headSearches, formatWhole)} times
          </>
        )}
        .
      </p>
      <div style={{ display: 'flex', gap: 14, flexWrap: 'wrap', alignItems: 'center' }}>
        <span className="quiet">{formatWhole(marked.length)} marked:</span>
        <button type="button" className="link" disabled={!unkept.length} onClick={() => keepAll(unkept)}>
          Keep
        </button>
        <button
          type="button"
          className="link"
          disabled={!marked.length}
          onClick={() => run('plan', marked, { page: own ? { address, title: found.title } : undefined })}
        >
          {own ? "Put on this page's plan" : 'Put on a page'}
        </button>
      </div>
      <table className="results" style={{ margin: '6px 0 14px' }}>
        <thead>
          <tr>
            <th style={{ width: 24 }}>
              <span className="hidden">Marked</span>
            </th>
            <th>Longer keyword</th>
            <th className="n" title="Searches a month">
              searches
            </th>
            <th className="n">CPC</th>
            <th className="n" title="Difficulty, 0–100; order counts an unknown one as 50">
              difficulty
            </th>
          </tr>
        </thead>
        <tbody>
          {(all ? longer : longer.slice(0, shownFirst)).map(each => (
            <tr key={each.keywordId}>
              <td style={{ maxWidth: 'none', padding: '0 4px' }}>
                <input
                  type="checkbox"
                  checked={chosen.has(each.keywordId)}
                  onChange={() => toggle(each.keywordId)}
                  aria-label={`Mark ${each.phrase}`}
                />
              </td>
              <td
                title={`${each.phrase}: ${coverWords[each.cover]}${each.kept || keptNow.has(each.keywordId) ? ', kept' : ''}`}
              >
                {each.phrase} <small className={each.cover === 'no' ? 'fall' : 'quiet'}>{coverWords[each.cover]}</small>
              </td>
              <td className="n">{known(each.searches, formatWhole)}</td>
              <td className="n">{known(each.cpc, formatMoney)}</td>
              <td className="n">{known(each.difficulty, value => String(Math.round(value)))}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {longer.length > shownFirst && (
        <button type="button" className="link" onClick={() => setAll(!all)} style={{ marginTop: 4 }}>
          {all ? 'Show fewer' : `Show all ${formatWhole(longer.length)}`}
        </button>
      )}
    </>
  )
}
