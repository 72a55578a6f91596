import { type LinkFigures, readLinkFigures } from '@dew-trail/contract/link-lists'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { Waiting } from '../../api/Waiting.tsx'
import { colourOf, type useCompared } from '../../compared/use-compared.ts'
import { formatDay, formatShare, formatWhole, plural } from '../../ui/format.ts'
import { JobLine } from '../../ui/JobLine.tsx'
import { ScreenTitle } from '../../ui/ScreenTitle.tsx'
import { setParam, useAddress } from '../../ui/use-address.ts'
import { BandPicture } from './BandPicture.tsx'
import { LinkGrowth } from './LinkGrowth.tsx'
import { LinksBar } from './LinksBar.tsx'
import { MakeupStrips } from './MakeupStrips.tsx'
import { Neighbourhood } from './Neighbourhood.tsx'
import { NoLinks } from './NoLinks.tsx'
import { SideBySide } from './SideBySide.tsx'
import { LinkKinds } from './LinkKinds.tsx'
import { ageWords, useLinks } from './use-links.ts'

/** How strong, from whom, how natural and how growing the links to a site are; the compared ones stand beside. */
export function ProfileTab({ targets, setRivals }: ReturnType<typeof useCompared>) {
  const { scope, age, days, sources } = useLinks(targets)
  const { data, error } = useEndpoint(readLinkFigures, { ...scope, targets: [...targets] }, { keep: true })
  const first = data?.figures[0]
  const says = [
    age === 'there' ? '' : `Links ${ageWords(age, days)}`,
    sources.length ? 'of some sources only' : '',
    data?.madeAt ? `standing as of ${formatDay(data.madeAt.slice(0, 10))}` : '',
  ]
  return (
    <main className="screen whole">
      <ScreenTitle title="Links" />
      <div className="main">
        <LinksBar targets={targets} see="profile" says={says.filter(Boolean).join(' · ')} setRivals={setRivals} />
        {!data || !first ? (
          <Waiting error={error} />
        ) : !first.known && data.figures.every(each => !each.known) ? (
          <div className="empty" style={{ flex: 1 }}>
            <NoLinks target={targets[0]!} />
          </div>
        ) : (
          <div className="links-profile">
            <div className="links-head">
              <Sums figures={first} />
              <section className="links-growth" aria-label="Growth">
                <LinkGrowth figures={data.figures} />
                <Bursts figures={first} />
              </section>
              <MakeupStrips figures={first} beside={data.figures.slice(1)} />
            </div>
            <div className="links-head" style={{ gridTemplateColumns: '1fr 1fr' }}>
              <BandPicture figures={data.figures} />
              <Subjects figures={data.figures} />
            </div>
            {first.known && <LinkKinds targets={data.figures.filter(each => each.known).map(each => each.target)} />}
            {data.figures.length > 1 && <SideBySide figures={data.figures} />}
            {first.known && <Neighbourhood target={first.target} />}
          </div>
        )}
        <div className="foot">
          <span>{first?.known ? `${plural(first.linkingSites, 'linking site')} of ${first.target}` : ''}</span>
          <JobLine />
        </div>
      </div>
    </main>
  )
}

const unknown = (why: string) => (
  <span className="unknown" title={why}>
    unknown
  </span>
)

/** The figures of the first site that say how strong its links are, each leading to its list. */
function Sums({ figures: f }: { figures: LinkFigures }) {
  const [, change] = useAddress()
  const to = (see: string) => () => change(setParam('see', see), true)
  const topics = f.subjects?.slice(0, 3).map(each => each.words.slice(0, 2).join(' ')) ?? []
  if (!f.known)
    return (
      <section aria-label="Sums">
        <p>No link to {f.target} is known. That is not zero: none was loaded yet.</p>
      </section>
    )
  return (
    <section aria-label="Sums" style={{ display: 'grid', gap: 6, alignContent: 'start' }}>
      <p style={{ margin: 0 }}>
        <button type="button" className="big-figure plain" onClick={to('sites')}>
          {formatWhole(f.linkingSites)}
        </button>{' '}
        linking {f.linkingSites === 1 ? 'site' : 'sites'}
      </p>
      <span>
        <b>{formatWhole(f.links)}</b> links from <b>{formatWhole(f.linkingPages)}</b> pages
      </span>
      <span title={`Known of ${f.addressed} of the ${f.linkingSites} linking sites`}>
        {f.addressed ? (
          <>
            <b>{formatWhole(f.addresses)}</b> addresses, <b>{formatWhole(f.subnets)}</b> subnets
          </>
        ) : (
          <>addresses {unknown('No source tells the addresses of the linking sites')}</>
        )}
      </span>
      <span>
        <b>{f.standing === null ? unknown('Standing was not computed yet') : Math.round(f.standing)}</b> standing
        {f.position !== null && (
          <span className="quiet">
            , place {formatWhole(f.position)} of {formatWhole(f.ofSites)}
          </span>
        )}
        {f.popularity !== null && <span className="quiet">, {formatWhole(f.popularity)} in popularity</span>}
      </span>
      <span>
        <b>{f.trust === null ? unknown('Trust was not computed yet') : Math.round(f.trust)}</b> trust
      </span>
      <span className="quiet">
        {plural(f.institutions, 'school or public body', 'schools and public bodies')},{' '}
        {plural(f.directories, 'vetted directory', 'vetted directories')}
      </span>
      {topics.length > 0 && (
        <span className="quiet">
          Known for <b>{topics[0]}</b>
          {topics.length > 1 && `, ${topics.slice(1).join(', ')}`}
        </span>
      )}
    </section>
  )
}

/** Weeks that brought far more linking sites than usual, with the page and the sites that made them. */
function Bursts({ figures: f }: { figures: LinkFigures }) {
  const recent = f.bursts.slice(-3)
  if (!recent.length) return f.known ? <p className="quiet">In no week far more sites linked anew than usual.</p> : null
  return (
    <ul style={{ margin: '6px 0 0', paddingLeft: 18 }}>
      {recent.map(burst => (
        <li key={burst.week}>
          <b>{burst.sites}</b> sites linked anew in the week of {formatDay(burst.week)}, where {burst.usual} are usual
          {burst.page && (
            <>
              : {burst.pageSites === burst.sites ? 'all' : `${burst.pageSites} of these sites`} to{' '}
              <a className="link" href={burst.page} target="_blank" rel="noreferrer">
                {burst.page.replace(/^https?:\/\/[^/]+/, '') || '/'}
              </a>
            </>
          )}
          {burst.from.length > 0 && <span className="quiet"> ({burst.from.join(', ')})</span>}
        </li>
      ))}
    </ul>
  )
}

/** From which topics the standing of each site comes. */
function Subjects({ figures }: { figures: readonly LinkFigures[] }) {
  return (
    <section aria-label="Topics">
      <h2 style={{ margin: '0 0 8px' }}>Where the standing comes from</h2>
      <table className="results whole-cells">
        <tbody>
          {figures.map((each, i) => (
            <tr key={each.target}>
              <th scope="row" style={{ borderLeft: `3px solid ${colourOf(i)}`, paddingLeft: 8, width: 180 }}>
                {each.target}
              </th>
              <td>
                {each.subjects === null
                  ? unknown('Topics were not computed, or no site with a topic links to it')
                  : each.subjects.length === 0
                    ? 'no topic with a twentieth of it or more'
                    : shown(each.subjects)
                        .map(subject => `${subject.words.slice(0, 3).join(' ')} ${formatShare(subject.share)}`)
                        .join(', ')}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  )
}
/** As many topics as hold nine tenths of the standing, the largest first. */
function shown(subjects: NonNullable<LinkFigures['subjects']>): NonNullable<LinkFigures['subjects']> {
  let sum = 0
  return subjects.filter(each => {
    const wanted = sum < 0.9
    sum += each.share
    return wanted
  })
}
