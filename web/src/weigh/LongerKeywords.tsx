import type { Beside } from '@dew-trail/contract/weigh'
import { useState } from 'react'
import { formatMoney, formatWhole, plural } from '../format.ts'
import { useKeywordActions } from '../gather/use-keyword-actions.ts'

const coverWords = { phrase: 'whole phrase', words: 'all words', no: 'not covered' } as const
const shownFirst = 12
const known = (value: number | null, format: (value: number) => string) =>
  value === null ? <span className="unknown">unknown</span> : format(value)

/** Which longer forms of the keyword a page covers, what those it does not are worth, and ways to go on with them. */
export function LongerKeywords({ found }: { found: Beside }) {
  const { keep } = useKeywordActions()
  const [all, setAll] = useState(false)
  const [keptNow, setKeptNow] = useState<ReadonlySet<number>>(new Set())
  const { longer } = found
  if (!longer.length)
    return (
      <p className="quiet">
        No longer form of this keyword has been gathered yet. Gather from it (G on its row) to see them.
      </p>
    )
  const missing = longer.filter(each => each.cover === 'no')
  const searchesOf = (list: typeof longer): number => list.reduce((sum, each) => sum + (each.searches ?? 0), 0)
  const unknown = missing.filter(each => each.searches === null).length
  const keepAll = (ids: number[]) => {
    void keep(ids, true)
    setKeptNow(new Set([...keptNow, ...ids]))
  }
  const unkept = missing.filter(each => !each.kept && !keptNow.has(each.keywordId)).map(each => each.keywordId)
  return (
    <>
      <p>
        Of {plural(longer.length, 'longer keyword')} this page says{' '}
        <b>{longer.filter(each => each.cover === 'phrase').length}</b> whole, has the words of{' '}
        <b>{longer.filter(each => each.cover === 'words').length}</b> and lacks <b>{missing.length}</b>, which are
        searched <b>{formatWhole(searchesOf(missing))}</b> times a month
        {unknown ? `, ${formatWhole(unknown)} unknown` : ''}; the keyword itself{' '}
        {known(found.headSearches, formatWhole)} times.
      </p>
      {unkept.length > 0 && (
        <button type="button" className="link" onClick={() => keepAll(unkept)}>
          Keep the {plural(unkept.length, 'keyword')} it lacks
        </button>
      )}
      <table className="results" style={{ marginTop: 6 }}>
        <thead>
          <tr>
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
