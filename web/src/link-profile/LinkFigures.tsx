import { bandEnds, type LinkProfile } from '@dew-trail/contract/link-profile'
import type { AnchorClass } from '@dew-trail/core/links/anchor-class'
import { formatDay, formatShare, formatWhole, plural } from '../ui/format.ts'

const classNames: Record<AnchorClass, string> = {
  brand: 'the name',
  exact: 'the keyword',
  partial: 'part of the keyword',
  address: 'bare address',
  generic: 'no subject',
  image: 'a picture',
  other: 'other words',
}
const weekWidth = 5
const growthHeight = 44

/** Sums, linking sites by standing, anchors, topic and growth of the links to a page or site. */
export function LinkFigures({ profile, phrase }: { profile: LinkProfile; phrase: string | undefined }) {
  const { anchors, topic, bands } = profile
  const mostInBand = Math.max(1, ...(bands ?? []))
  return (
    <div className="link-figures">
      <section aria-label="Sums">
        <p style={{ margin: '0 0 6px' }}>
          <b className="big-figure">{formatWhole(profile.linkingSites)}</b> linking{' '}
          {profile.linkingSites === 1 ? 'site' : 'sites'}
        </p>
        <p className="quiet" style={{ margin: 0 }}>
          {plural(profile.linkingPages, 'page')}, {plural(profile.there, 'link')} there now, of which{' '}
          {formatWhole(profile.follow)} followed
          {profile.links > profile.there ? `; ${formatWhole(profile.links - profile.there)} gone` : ''}
        </p>
        {topic && topic.looked > 0 && (
          <p
            style={{ margin: '8px 0 0' }}
            title={`Anchor, words around the link or title of its page have a word of the keyword. Looked at ${plural(topic.looked, 'link')}; of ${formatWhole(topic.unknown)} neither words around nor title are known.`}
          >
            {formatWhole(topic.on)} of {formatWhole(topic.looked)} looked at are on topic
            {phrase ? ` (${phrase})` : ''}
            {topic.unknown ? <span className="unknown">, {formatWhole(topic.unknown)} unknown</span> : null}
          </p>
        )}
        {profile.subjects && profile.subjects.length > 0 && (
          <div
            style={{ marginTop: 10 }}
            title="Sites are sorted into topics by the words of their pages. The standing that this site has through links is traced back to the topics of the sites it begins at."
          >
            <span className="quiet">Topics behind the site's standing</span>
            {profile.subjects.slice(0, 3).map(({ words, share }) => (
              <div key={words.join()} style={{ display: 'flex', gap: 8 }}>
                <span style={{ minWidth: 32, textAlign: 'right' }}>{formatShare(share)}</span>
                <span>{words.join(', ')}</span>
              </div>
            ))}
          </div>
        )}
      </section>
      <section aria-labelledby="band-title">
        <h2 id="band-title">Linking sites by standing</h2>
        {bands ? (
          <table className="bands">
            <tbody>
              {bandEnds.map((end, i) => (
                <tr key={end}>
                  <th scope="row">
                    {end - 20}–{end}
                  </th>
                  <td>
                    <i style={{ width: `${(100 * bands[i]!) / mostInBand}%` }} />
                  </td>
                  <td className="n">{formatWhole(bands[i]!)}</td>
                </tr>
              ))}
            </tbody>
          </table>
        ) : (
          <p className="unknown">Unknown until standing was computed</p>
        )}
      </section>
      <section aria-labelledby="anchor-title">
        <h2 id="anchor-title">Anchors</h2>
        <p style={{ margin: '0 0 4px' }} className="quiet">
          {Object.entries(anchors.classes)
            .sort((a, b) => b[1] - a[1])
            .map(([key, links]) => `${classNames[key as AnchorClass]} ${formatShare(links / anchors.looked)}`)
            .join(', ')}
        </p>
        <table className="results">
          <tbody>
            {anchors.list.slice(0, 6).map(each => (
              <tr key={`${each.text} ${each.kind}`}>
                <td style={{ maxWidth: 0, width: '80%' }} title={each.text}>
                  {each.text || <span className="quiet">no words</span>}
                </td>
                <td className="n">{formatWhole(each.links)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </section>
      <section aria-labelledby="gained-title">
        <h2 id="gained-title">New linking sites by week</h2>
        <Growth profile={profile} />
      </section>
    </div>
  )
}

function Growth({ profile }: { profile: LinkProfile }) {
  const { gained, bursts, undated } = profile
  const most = Math.max(1, ...gained.map(each => each.sites))
  const inBurst = new Set(bursts.map(burst => burst.week))
  const total = gained.reduce((sum, each) => sum + each.sites, 0)
  return (
    <>
      <svg
        width={gained.length * weekWidth}
        height={growthHeight}
        role="img"
        aria-label={`${formatWhole(total)} linking sites first seen in the last 52 weeks, at most ${formatWhole(most)} in a week`}
      >
        {gained.map(({ week, sites }, i) => (
          <rect
            key={week}
            x={i * weekWidth}
            width={weekWidth - 1}
            y={growthHeight - 1 - (sites / most) * (growthHeight - 2)}
            height={1 + (sites / most) * (growthHeight - 2)}
            fill={`var(--mui-palette-dew-${inBurst.has(week) ? 'own' : 'scale2'})`}
          >
            <title>{`Week of ${formatDay(week)}: ${formatWhole(sites)}`}</title>
          </rect>
        ))}
      </svg>
      <p className="quiet" style={{ margin: '2px 0 0', fontSize: 12 }}>
        {formatWhole(total)} in the last 52 weeks
        {undated ? `; of ${formatWhole(undated)} the day is unknown` : ''}.
        {bursts.map(burst => (
          <span key={burst.week}>
            {' '}
            Burst in the week of {formatDay(burst.week)}: {formatWhole(burst.sites)}, usual{' '}
            {formatWhole(Math.round(burst.usual))}.
          </span>
        ))}
      </p>
    </>
  )
}
