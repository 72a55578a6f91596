import type { FirstPage } from '@dew-trail/contract/weigh'
import { PhraseStrip } from '../charts/PhraseStrip.tsx'
import { formatDay, formatOne, formatShortDay, formatWhole } from '../format.ts'
import { featureNames } from './feature-names.ts'

/** Where results stood on an earlier day. */
export type Before = { day: string; places: ReadonlyMap<string, number> }

function movedText(before: number | undefined, now: number) {
  if (before === undefined) return <b style={{ fontWeight: 540 }}>new</b>
  if (before === now) return <span className="quiet">same</span>
  return before > now ? `up ${before - now}` : <span className="fall">down {now - before}</span>
}

/** The results of a first page with all figures; with an earlier day also how each moved since. */
export function ResultsTable({ page, before }: { page: FirstPage; before?: Before | undefined }) {
  return (
    <table className="results">
      <thead>
        <tr>
          <th className="n">#</th>
          {before && (
            <th title={`Place on ${formatDay(before.day)}, and since then`}>since {formatShortDay(before.day)}</th>
          )}
          <th>Result</th>
          <th className="n" title="The site standing that a new, well-fitting page would need to match this result">
            strength
          </th>
          <th className="n" title="Standing of the site, from its linking sites">
            site
          </th>
          <th className="n" title="Sites linking to this page">
            sites linking
          </th>
          <th className="n" title="Years since the site was registered">
            age
          </th>
          <th className="n" title="Phrase in title, address, description">
            phrase in
          </th>
        </tr>
      </thead>
      <tbody>
        {page.results.map(result => (
          <tr key={result.place} className={result.own ? 'own-result' : ''}>
            <td className="n quiet">{result.place}</td>
            {before && (
              <td style={{ width: 90, maxWidth: 90 }}>{movedText(before.places.get(result.url), result.place)}</td>
            )}
            <td title={`${result.title}\n${result.url}\n\n${result.snippet}`}>
              <b style={{ fontWeight: 540 }}>{result.title}</b>{' '}
              <small className={result.own ? 'own' : 'quiet'}>{result.url.replace(/^https?:\/\//, '')}</small>
            </td>
            <td
              className="n"
              title={`Level ${formatOne(result.level)} =\n${result.parts.map(part => `${featureNames[part.feature] ?? part.feature} ${part.value === null ? 'unknown' : formatOne(part.value)}: ${part.adds >= 0 ? '+' : ''}${part.adds.toFixed(2)}`).join('\n')}\n(${page.model})`}
            >
              <b style={{ fontWeight: 640 }} className={result.opening ? 'own' : ''}>
                {Math.round(result.level)}
              </b>
            </td>
            <td
              className="n"
              title={
                result.siteLinkingSites === null
                  ? 'Unknown: the link feed has nothing about the site'
                  : `100 · ln(1 + ${formatWhole(result.siteLinkingSites)} linking sites) / ln(1 + ${formatWhole(page.referenceSites)})`
              }
            >
              {result.siteStanding === null ? (
                <span className="unknown">unknown</span>
              ) : (
                Math.round(result.siteStanding)
              )}
            </td>
            <td
              className="n"
              title={result.links === null ? undefined : `${formatWhole(result.links)} links to this page`}
            >
              {result.linkingSites === null ? (
                <span className="unknown" title="The link feed does not know this page">
                  unknown
                </span>
              ) : (
                formatWhole(result.linkingSites)
              )}
            </td>
            <td className="n">
              {result.ageYears === null ? (
                <span className="unknown" title="The registry did not say">
                  unknown
                </span>
              ) : (
                formatOne(result.ageYears)
              )}
            </td>
            <td className="n">
              <PhraseStrip matches={result.matches} />
            </td>
          </tr>
        ))}
      </tbody>
    </table>
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
