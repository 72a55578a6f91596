import type { LinkFigures } from '@dew-trail/contract/link-lists'
import { colourOf } from '../../compared/use-compared.ts'
import { formatDoubt, formatShare, formatWhole } from '../../ui/format.ts'

type Figure = {
  label: string
  explain: string
  value(figures: LinkFigures): number | null
  show?(value: number): string
  /** Whether more of it is better: the best is marked by its weight. */
  best?: boolean
  /** It is of the site, known or not without links. */
  ofSite?: boolean
}
const within = (figures: LinkFigures, weeks: number): number =>
  figures.weeks.slice(-weeks).reduce((sum, week) => sum + week.gained - week.lost, 0)
const share = (part: number, all: number): number | null => (all ? part / all : null)
const signed = (value: number): string => (value > 0 ? `+${formatWhole(value)}` : formatWhole(value))
const figuresShown: Figure[] = [
  { label: 'Linking sites', explain: 'Sites with a link to it', value: f => f.linkingSites, best: true },
  {
    label: 'With followed links',
    explain: 'Of these, those with links that engines follow',
    value: f => f.followSites,
    best: true,
  },
  { label: 'Links', explain: 'All links', value: f => f.links },
  { label: 'Linking pages', explain: 'Pages with a link to it', value: f => f.linkingPages },
  {
    label: 'Links a site',
    explain: 'Links by linking site: many mean site-wide links',
    value: f => share(f.links, f.linkingSites),
    show: value => value.toFixed(1),
  },
  {
    label: 'Followed',
    explain: 'Share of the links that engines follow',
    value: f => share(f.follow, f.links),
    show: formatShare,
  },
  {
    label: 'Subnets',
    explain: 'Parts of the network that the linking sites are in, where a source tells',
    value: f => (f.addressed ? f.subnets : null),
    best: true,
  },
  {
    label: 'Schools and public bodies',
    explain: 'Linking sites that are such, and vetted',
    value: f => f.institutions,
    best: true,
  },
  { label: 'Directories', explain: 'Linking sites that are vetted directories', value: f => f.directories },
  {
    label: 'In 13 weeks',
    explain: 'Linking sites that came, less those that went',
    value: f => within(f, 13),
    show: signed,
    best: true,
  },
  {
    label: 'In a year',
    explain: 'Linking sites that came, less those that went',
    value: f => within(f, 52),
    show: signed,
    best: true,
  },
  {
    label: 'Standing',
    explain: 'Weight of the links to its site, 0 to 100',
    value: f => f.standing,
    show: value => String(Math.round(value)),
    best: true,
    ofSite: true,
  },
  {
    label: 'Trust',
    explain: 'How near its site is to sites that somebody vouches for, 0 to 100',
    value: f => f.trust,
    show: value => String(Math.round(value)),
    best: true,
    ofSite: true,
  },
  {
    label: 'Doubt',
    explain: 'Part of its standing that trusted sites do not account for',
    value: f => f.doubt,
    show: formatDoubt,
    ofSite: true,
  },
  {
    label: 'Popularity',
    explain: 'Rank of its site in the list of popular sites that you imported under Sources: 1 is the most popular',
    value: f => f.popularity,
    ofSite: true,
  },
  {
    label: 'Place',
    explain: 'Place of its site among all known sites by standing',
    value: f => f.position,
    ofSite: true,
  },
  { label: 'Known pages', explain: 'Pages of it that our graph knows', value: f => f.knownPages },
]

/** The figures of up to ten sites, a row a figure, the best of each by its weight. */
export function SideBySide({ figures }: { figures: readonly LinkFigures[] }) {
  return (
    <section aria-label="Side by side">
      <h2 style={{ margin: '0 0 8px' }}>Side by side</h2>
      <table className="results whole-cells profiles">
        <thead>
          <tr>
            <th>
              <span className="hidden">Figure</span>
            </th>
            {figures.map((each, i) => (
              <th
                key={each.target}
                className="n"
                title={each.target}
                style={{ borderBottom: `3px solid ${colourOf(i)}` }}
              >
                <span className="cut" style={{ display: 'block', maxWidth: 170, marginLeft: 'auto' }}>
                  {each.target}
                </span>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {figuresShown.map(({ label, explain, value, show = formatWhole, best = false, ofSite = false }) => {
            const values = figures.map(each => (each.known || ofSite ? value(each) : null))
            const most = Math.max(...values.map(each => each ?? Number.NEGATIVE_INFINITY))
            return (
              <tr key={label}>
                <th scope="row" title={explain}>
                  {label}
                </th>
                {values.map((each, i) => (
                  <td key={figures[i]!.target} className="n">
                    {each === null ? (
                      <span className="unknown">unknown</span>
                    ) : best && each === most && figures.length > 1 ? (
                      <b>{show(each)}</b>
                    ) : (
                      show(each)
                    )}
                  </td>
                ))}
              </tr>
            )
          })}
        </tbody>
      </table>
    </section>
  )
}
