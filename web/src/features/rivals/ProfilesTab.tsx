import { startGathering } from '@dew-trail/contract/gather'
import { listRivalMonths, type RivalMonth, type RivalProfile, readRivalProfiles } from '@dew-trail/contract/rivals'
import type { ReactNode } from 'react'
import { Link } from 'react-router'
import { call } from '../../api/call.ts'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { Waiting } from '../../api/Waiting.tsx'
import { MonthBars } from '../../pictures/MonthBars.tsx'
import { ActButton } from '../../ui/ActButton.tsx'
import { formatShare, formatWhole, plural } from '../../ui/format.ts'
import { JobLine } from '../../ui/JobLine.tsx'
import { ScreenTitle } from '../../ui/ScreenTitle.tsx'
import { useSite } from '../../ui/site-context.ts'
import { CompareBar } from './CompareBar.tsx'
import { coverageText } from './coverage-text.ts'
import { colourOf, type useCompared } from '../../compared/use-compared.ts'

type Figure = {
  label: string
  explain: string
  value(profile: RivalProfile): number | null
  show?(value: number): string
  /** How many keywords have no such figure and are not in it. */
  unknown?(profile: RivalProfile): number
  /** Whether more of it is better: the best is marked by its weight. */
  best?: boolean
  /** It does not come from results, so that it may be known where these are not. */
  elsewhere?: boolean
}
const nothingKnown = ({ within, left }: RivalProfile): boolean => !within[100] && !left
const figures: Figure[] = [
  { label: 'First', explain: 'Keywords for which it stands first', value: p => p.within[1], best: true },
  { label: 'Within 3', explain: 'Keywords within the first three positions', value: p => p.within[3], best: true },
  { label: 'Within 10', explain: 'Keywords on the first page', value: p => p.within[10], best: true },
  { label: 'Within 30', explain: 'Keywords within thirty', value: p => p.within[30], best: true },
  {
    label: 'Keywords',
    explain: 'All keywords for which it stands within a hundred',
    value: p => p.within[100],
    best: true,
  },
  {
    label: 'Visits a month',
    explain: 'Searches × share of clicks at its position, over keywords with known searches',
    value: p => p.visits,
    unknown: p => p.visitsUnknown,
    best: true,
  },
  {
    label: 'Worth a month',
    explain: 'What these visits would cost as advertisements, over keywords with a known CPC',
    value: p => p.worth,
    unknown: p => p.worthUnknown,
    best: true,
  },
  {
    label: 'Brand share',
    explain: 'Of its visits, those by keywords that name it',
    value: p => p.brandShare,
    show: formatShare,
  },
  {
    label: 'Keywords paid for',
    explain: 'Keywords on which its site advertised in the newest month that the ads data was asked for',
    value: p => p.paid?.keywords ?? null,
    elsewhere: true,
  },
  {
    label: 'Spends a month',
    explain: 'What its site spent on them in that month, by the ads data',
    value: p => p.paid?.spend ?? null,
    elsewhere: true,
  },
  { label: 'Pages that stand', explain: 'Pages of it that stand for a keyword', value: p => p.pages },
  {
    label: 'Entered',
    explain: 'Keywords for which it did not stand in the results before, of those of which earlier results are known',
    value: p => p.entered,
  },
  {
    label: 'Left',
    explain: 'Keywords for which it stood in the results before and stands no more',
    value: p => p.left,
  },
  {
    label: 'Standing',
    explain: 'Weight of the links to its site, 0 to 100',
    value: p => p.standing,
    best: true,
    elsewhere: true,
  },
  {
    label: 'Linking sites',
    explain: 'Sites with links to its site',
    value: p => p.linkingSites,
    best: true,
    elsewhere: true,
  },
]

/** Up to ten sites side by side, a row a figure, the best of each marked. */
export function ProfilesTab({ targets, setRivals }: ReturnType<typeof useCompared>) {
  const { site, market } = useSite()
  const { data, error } = useEndpoint(
    readRivalProfiles,
    { siteId: site.id, marketId: market.id, targets: [...targets] },
    { keep: true },
  )
  const { data: months } = useEndpoint(
    listRivalMonths,
    { siteId: site.id, marketId: market.id, targets: [...targets] },
    { keep: true },
  )
  const at = (see: string, target: string): string =>
    `/${site.id}/rivals?${new URLSearchParams({ market: String(market.id), with: targets.slice(1).join(','), see, of: target })}`
  const unknown = data?.profiles.filter(nothingKnown) ?? []
  return (
    <main className="screen whole">
      <ScreenTitle title="Rivals" />
      <div className="main">
        <CompareBar targets={targets} see="profiles" coverage={coverageText(data?.coverage)} setRivals={setRivals} />
        {!data && <Waiting error={error} />}
        {data && !data.coverage.keywords && !data.coverage.fed && <NoResults />}
        {data && data.coverage.keywords + data.coverage.fed > 0 && (
          <div style={{ overflow: 'auto', padding: '12px 16px', minHeight: 0 }}>
            <table className="results whole-cells profiles">
              <thead>
                <tr>
                  <th>
                    <span className="hidden">Figure</span>
                  </th>
                  {data.profiles.map((profile, i) => (
                    <th
                      key={profile.target}
                      className="n"
                      scope="col"
                      style={{ borderBottom: `3px solid ${colourOf(i)}` }}
                    >
                      <Link
                        className="link cut"
                        to={at('keywords', profile.target)}
                        title={`Keywords of ${profile.target}`}
                      >
                        {profile.own && profile.kind === 'site' ? 'you' : profile.target}
                      </Link>
                    </th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {figures.map(figure => (
                  <FigureRow key={figure.label} figure={figure} profiles={data.profiles} />
                ))}
                {months && months.months.length > 0 && (
                  <tr>
                    <th scope="row" title="By the rankings feed on the first of each month, of the whole site">
                      Visits by month
                    </th>
                    {data.profiles.map(profile => (
                      <td key={profile.target} className="n">
                        <MonthsOf domain={profile.domain} months={months.months} />
                      </td>
                    ))}
                  </tr>
                )}
                <tr>
                  <th
                    scope="row"
                    title="Words in the keywords that bring it most visits, by the searches of those keywords"
                  >
                    Subjects
                  </th>
                  {data.profiles.map(profile => (
                    <td key={profile.target} className="n" style={{ whiteSpace: 'normal', maxWidth: 140 }}>
                      {profile.subjects.length ? (
                        <span className="subjects">
                          {profile.subjects.map(subject => (
                            <Link
                              key={subject.word}
                              className="link"
                              to={`${at('keywords', profile.target)}&where=${encodeURIComponent(`phrase:has:${subject.word}`)}`}
                              title={`${formatWhole(subject.searches)} searches a month`}
                            >
                              {subject.word}
                            </Link>
                          ))}
                        </span>
                      ) : (
                        <span className="unknown">unknown</span>
                      )}
                    </td>
                  ))}
                </tr>
                <tr>
                  <th scope="row" title="The keywords its site spends most on">
                    Advertises on
                  </th>
                  {data.profiles.map(profile => (
                    <td key={profile.target} className="n" style={{ whiteSpace: 'normal', maxWidth: 140 }}>
                      {profile.paid === null ? (
                        <span className="unknown">unknown</span>
                      ) : profile.paid.most.length ? (
                        <span className="subjects">
                          {profile.paid.most.map(each => (
                            <Link
                              key={each.phrase}
                              className="link"
                              to={at('paid', profile.target)}
                              title={`${formatWhole(each.spend)} a month`}
                            >
                              {each.phrase}
                            </Link>
                          ))}
                        </span>
                      ) : (
                        <span className="quiet">nothing</span>
                      )}
                    </td>
                  ))}
                </tr>
                <tr>
                  <th scope="row">Go on</th>
                  {data.profiles.map(profile => (
                    <td key={profile.target} className="n">
                      <Link className="link" to={at('keywords', profile.target)}>
                        Keywords
                      </Link>{' '}
                      <Link className="link" to={at('pages', profile.target)}>
                        Pages
                      </Link>{' '}
                      <Link className="link" to={at('paid', profile.target)}>
                        Advertising
                      </Link>
                    </td>
                  ))}
                </tr>
              </tbody>
            </table>
            {unknown.map(each => (
              <p key={each.target} style={{ display: 'flex', gap: 12, alignItems: 'center' }}>
                <span>
                  Nothing is known of <b>{each.target}</b>: none of the {plural(data.coverage.keywords, 'keyword')}{' '}
                  whose results are known has it.
                </span>
                {each.kind === 'site' && (
                  <ActButton
                    onAct={async () => {
                      await call(startGathering, { siteId: site.id, marketId: market.id, seeds: [each.domain] })
                      return { say: `Gathering keywords of ${each.domain}: weigh some of them to see where it stands` }
                    }}
                  >
                    Gather its keywords
                  </ActButton>
                )}
              </p>
            ))}
          </div>
        )}
        <div className="foot" style={{ marginTop: 'auto' }}>
          <div className="foot-end">
            <JobLine />
          </div>
        </div>
      </div>
    </main>
  )
}

const mostMonths = 24
/** Visits of a site by month, up to two years; a month that was not loaded is a gap. */
function MonthsOf({ domain, months }: { domain: string; months: readonly RivalMonth[] }) {
  const all = [...new Set(months.map(each => each.month))].sort().slice(-mostMonths)
  const visits = all.map(month => months.find(each => each.domain === domain && each.month === month)?.visits ?? null)
  if (visits.every(each => each === null)) return <span className="unknown">unknown</span>
  return (
    <span style={{ display: 'inline-block' }}>
      <MonthBars months={visits} end={all.at(-1)!.slice(0, 7)} of="Visits" />
    </span>
  )
}

function FigureRow({ figure, profiles }: { figure: Figure; profiles: readonly RivalProfile[] }) {
  // Of a site that stands for nothing that is known, its figures are not zero but unknown.
  const values = profiles.map(profile => (figure.elsewhere || !nothingKnown(profile) ? figure.value(profile) : null))
  const most = figure.best ? Math.max(...values.map(value => value ?? Number.NEGATIVE_INFINITY)) : Number.NaN
  const cell = (profile: RivalProfile, value: number | null): ReactNode => {
    if (value === null) return <span className="unknown">unknown</span>
    const text = (figure.show ?? formatWhole)(value)
    const missing = figure.unknown?.(profile) ?? 0
    return (
      <>
        {value === most && profiles.length > 1 ? <b>{text}</b> : text}
        {missing > 0 && (
          <span
            className="unknown"
            title={`${formatWhole(missing)} of its keywords have no such figure and are not in it`}
          >
            +?
          </span>
        )}
      </>
    )
  }
  return (
    <tr>
      <th scope="row" title={figure.explain}>
        {figure.label}
      </th>
      {profiles.map((profile, i) => (
        <td key={profile.target} className="n">
          {cell(profile, values[i]!)}
        </td>
      ))}
    </tr>
  )
}

/** What to do where no results are known at all. */
export function NoResults() {
  const { site, market } = useSite()
  return (
    <div className="empty">
      <h2>No results are known in this market yet</h2>
      <p>
        Who stands where is read from result pages. Keep keywords and weigh them, or track some and check their
        positions: every page of results that is fetched counts here.
      </p>
      <Link className="link" to={`/${site.id}/weigh?market=${market.id}`}>
        Go to Weigh
      </Link>
    </div>
  )
}
