import { type Beside, type FirstPage, putPageBeside } from '@dew-trail/contract/weigh'
import { useState } from 'react'
import { call } from '../../api/call.ts'
import { formatChance, formatOne, formatWhole, plural } from '../../ui/format.ts'
import { useSite } from '../../ui/site-context.ts'
import { useChange } from '../../ui/use-change.ts'
import { LongerKeywords } from './LongerKeywords.tsx'
import { Figure } from '../../keywords/FirstPageFigures.tsx'
import { likelyText } from '../../keywords/likely-text.ts'

const matchWords: Record<string, string> = {
  phrase: 'whole phrase',
  near: 'all words close together',
  all: 'all words',
  some: 'some words',
  none: 'no word of it',
}
const wants: Record<string, string> = {
  title: 'The whole phrase in the title',
  address: 'The phrase in the address',
  description: 'The phrase in the description',
  headings: 'The phrase in a heading',
  text: 'The whole phrase in the text',
}

/** Puts a page, by address or as a draft, beside the results: where it would stand, and what it lacks. */
export function BesidePanel({ page }: { page: FirstPage }) {
  const { site, market } = useSite()
  const [way, setWay] = useState<'address' | 'draft'>('address')
  const [url, setUrl] = useState(page.ownPage?.url ?? '')
  const [draft, setDraft] = useState('')
  const [state, setState] = useState<{ error: string | null; found: Beside | null }>({ error: null, found: null })
  const { run, pending } = useChange()
  const judge = async () => {
    setState({ ...state, error: null })
    try {
      const found = await call(putPageBeside, {
        siteId: site.id,
        keywordId: page.keywordId,
        marketId: market.id,
        ...(way === 'address' ? { url: url.trim() } : { draft }),
      })
      setState({ error: null, found })
    } catch (error) {
      // What was found before stays, and so does what was typed.
      setState({ ...state, error: (error as Error).message })
    }
  }
  return (
    <section aria-labelledby="beside-title">
      <h2 id="beside-title">Put a page beside it</h2>
      <form
        onSubmit={event => {
          event.preventDefault()
          void run(judge)
        }}
      >
        <div style={{ display: 'flex', gap: 6, marginBottom: 8 }} role="group" aria-label="What to put beside">
          <button type="button" className="choice" aria-pressed={way === 'address'} onClick={() => setWay('address')}>
            A page
          </button>
          <button type="button" className="choice" aria-pressed={way === 'draft'} onClick={() => setWay('draft')}>
            A draft
          </button>
        </div>
        {way === 'address' ? (
          <input
            className="plain-input"
            aria-label="Address of the page"
            placeholder={`https://${site.domain}/…`}
            value={url}
            onChange={event => setUrl(event.target.value)}
            style={{ width: '100%' }}
          />
        ) : (
          <textarea
            className="plain-input"
            aria-label="Draft"
            placeholder="Paste text, its first line the title, or HTML"
            rows={7}
            value={draft}
            onChange={event => setDraft(event.target.value)}
            style={{ width: '100%', resize: 'vertical' }}
          />
        )}
        <button
          type="submit"
          className="link"
          disabled={pending || !(way === 'address' ? url : draft).trim()}
          style={{ marginTop: 6 }}
        >
          {pending ? 'Reading' : 'Judge it'}
        </button>
      </form>
      {state.error && (
        <p role="alert" className="fall">
          {state.error}.
        </p>
      )}
      {state.found && <Judged found={state.found} />}
    </section>
  )
}

function Judged({ found }: { found: Beside }) {
  const missing = found.terms.filter(term => !term.mine)
  const shared = found.terms.filter(term => term.mine)
  return (
    <div aria-live="polite" style={{ marginTop: 8 }}>
      <p style={{ overflowWrap: 'anywhere' }}>
        <b style={{ fontWeight: 540 }}>{found.title ?? 'A page without a title'}</b>{' '}
        <small className="quiet">
          {found.address ? found.address.replace(/^https?:\/\//, '') : 'draft'}, {plural(found.words, 'word')}
        </small>
      </p>
      <div style={{ display: 'flex', gap: 26, marginBottom: 8 }}>
        <Figure
          value={`about ${Math.round(found.position)}`}
          label="expected place"
          title={`One more than the results likely to be put above it, among ${found.results}${found.ranksAt === null ? '' : `. It stands at ${found.ranksAt} now`}`}
        />
        <Figure
          value={found.chances ? formatChance(found.chances['10']!) : 'unknown'}
          label="chance, first page"
          title="From its strength against the results"
        />
        <Figure value={likelyText(found.likelyFrom, found.likelyTo)} label="likely place" title="Six times in ten" />
        <Figure
          value={String(Math.round(found.level))}
          label="strength"
          title="As the level that the site of a new, well-fitting page would need to match it"
        />
      </div>
      {found.ranksAt !== null && (
        <p>
          It stands at <b className="own">{found.ranksAt}</b> now.
          {Math.abs(found.position - found.ranksAt) > 3 &&
            ` The engine sees ${found.position > found.ranksAt ? 'more' : 'less'} in it than what is known here.`}
        </p>
      )}
      <table className="results" style={{ marginBottom: 12 }}>
        <thead>
          <tr>
            <th style={{ width: 90 }}>Field</th>
            <th>Has</th>
          </tr>
        </thead>
        <tbody>
          {found.fields.map(({ field, match, text }) => (
            <tr key={field}>
              <td style={{ maxWidth: 90 }}>{field}</td>
              <td title={text ?? undefined}>
                {text === null ? <span className="unknown">none</span> : matchWords[match]}
                {text && field !== 'text' && <small className="quiet"> {text}</small>}
              </td>
            </tr>
          ))}
          <tr>
            <td style={{ maxWidth: 90 }}>links</td>
            <td>
              {found.linkingSites === null ? (
                <span className="unknown">unknown how many sites link to it</span>
              ) : (
                `${plural(found.linkingSites, 'linking site')}${found.assumedLinks ? ', taken for a new page' : ''}`
              )}
            </td>
          </tr>
        </tbody>
      </table>
      <h2>What would help</h2>
      {found.lacks.length ? (
        <ol className="prose-list">
          {found.lacks.map(lack => (
            <li key={lack.what}>
              {lack.what === 'links'
                ? `${lack.want} linking sites, as the middle of the first page has`
                : lack.what === 'sharedPhrase'
                  ? `the words “${lack.want}”, as most results say it, in what an engine shows of the page`
                  : wants[lack.what]}
              :{' '}
              {lack.positions === null ? (
                <span className="unknown">gain unknown, since the results’ own was not read</span>
              ) : (
                <b>about {positionsText(lack.positions)}</b>
              )}
            </li>
          ))}
        </ol>
      ) : (
        <p>Nothing that strengths know of. What is left is standing and time.</p>
      )}
      {found.terms.length > 0 && (
        <>
          <h2>Terms of the results</h2>
          <p className="quiet" style={{ margin: '0 0 6px' }}>
            From titles and snippets of {found.results} results, against those of your other keywords; with the number
            of results that have it.
          </p>
          <p>
            {missing.length ? (
              missing.map(term => (
                <span key={term.term} className="term">
                  {term.term} <small>{formatWhole(term.pages)}</small>
                </span>
              ))
            ) : (
              <span className="quiet">This page has all of them.</span>
            )}
          </p>
          {shared.length > 0 && (
            <p className="quiet">
              Here already: {shared.map(term => `${term.term} ${formatWhole(term.pages)}`).join(', ')}.
            </p>
          )}
        </>
      )}
      <h2>Longer keywords</h2>
      <LongerKeywords key={`${found.address} ${found.words}`} found={found} />
      {found.questions.length > 0 && (
        <>
          <h2>Questions on the result page</h2>
          <ul className="prose-list">
            {found.questions.map(({ question, mine }) => (
              <li key={question}>
                {question} <small className="quiet">{mine ? 'its words are here' : 'not spoken of here'}</small>
              </li>
            ))}
          </ul>
        </>
      )}
      {found.unknown.map(why => (
        <p key={why} className="unknown">
          {why}
        </p>
      ))}
    </div>
  )
}

const positionsText = (positions: number): string =>
  positions < 0.95 ? `${formatOne(positions)} of a place` : plural(Math.round(positions), 'place')
