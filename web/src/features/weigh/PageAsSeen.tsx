import type { FirstPage } from '@dew-trail/contract/weigh'
import { plural } from '../../ui/format.ts'

/** The result page as a searcher saw it: title, address and snippet of each result with the words the engine marked, and what stood around them. */
export function PageAsSeen({ page }: { page: FirstPage }) {
  const { ads, answer, map, shopping, images, questions } = page.features
  const above = [
    ads ? plural(ads, 'ad') : '',
    answer ? 'an answer box' : '',
    map ? `a map with ${plural(map, 'place')}` : '',
    shopping ? plural(shopping, 'shopping offer') : '',
  ].filter(Boolean)
  return (
    <div className="as-seen">
      {above.length > 0 && <p className="quiet">Around the results: {above.join(', ')}.</p>}
      <ol>
        {page.results.map(result => (
          <li key={result.position} value={result.position} className={result.own ? 'own-result' : ''}>
            <a className="link" href={result.url} target="_blank" rel="noreferrer">
              {result.title}
            </a>
            <small className={result.own ? 'own' : 'quiet'}>{result.url}</small>
            <span>{withMarks(result.snippet, result.marked)}</span>
          </li>
        ))}
      </ol>
      {images && <p className="quiet">A row of images stood between the results.</p>}
      {questions.length > 0 && <p>Questions shown: {questions.join(' · ')}</p>}
    </div>
  )
}

/** A snippet with the marked words in bold. */
function withMarks(snippet: string, marked: readonly string[]) {
  if (!marked.length) return snippet
  const words = [...marked].sort((a, b) => b.length - a.length).map(word => word.replace(/[.*+?^${}()|[\]\\]/g, '\\$&'))
  const parts = snippet.split(new RegExp(`(${words.join('|')})`, 'gi'))
  return parts.map((part, i) => (i % 2 ? <b key={i}>{part}</b> : part))
}
