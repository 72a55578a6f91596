import type { FirstPage, WeighedResult } from '@dew-trail/contract/weigh'
import type { ReactNode } from 'react'
import { PhraseStrip } from '../pictures/PhraseStrip.tsx'
import { scaleWords } from '../ui/own-levels.ts'
import { formatDay, formatOne, formatSigned, formatWhole, plural } from '../ui/format.ts'
import { featureNames } from './feature-names.ts'

/** A figure of a result: `why` is said where the pointer rests. */
export type ResultColumn = {
  key: string
  label: string
  explain: string
  hidden?: boolean
  render(result: WeighedResult): ReactNode
  why?(result: WeighedResult, page: FirstPage): string | undefined
  /** The figure counts keywords of the result's site or page: it opens their list. */
  list?: 'site' | 'page'
}

const unknown = (why: string) => (
  <span className="unknown" title={why}>
    unknown
  </span>
)
const figure = <T,>(value: T | null, format: (value: T) => string, why: string): ReactNode =>
  value === null ? unknown(why) : format(value)
const round = (value: number): string => String(Math.round(value))
const ofFeature = (result: WeighedResult, feature: string): number | null =>
  result.parts.find(part => part.feature === feature)?.value ?? null
const addsOf = (result: WeighedResult, feature: string): number | null =>
  result.parts.find(part => part.feature === feature)?.adds ?? null
const notKept = 'Weigh again: sites were not kept with these pages'
const noFeed = 'The link feed has nothing about it'
const noPage = 'The link graph does not know the page yet: Sources loads links'
const noPageTrust =
  'No page of a vetted site is known, or standing was computed before pages had trust: Sources computes it'
const notRead = 'Our crawler has not read it: Sources crawls sites'
const noKind = 'The link graph does not know the site yet: Sources loads links and crawls sites'
const noGraph = 'The link graph does not know the site yet: Sources loads links'

/** Keywords and visits of a result's site or of its page. */
const reachColumns = (
  of: 'site' | 'page',
  reachOf: (result: WeighedResult) => WeighedResult['siteReach'],
): ResultColumn[] => [
  {
    key: `${of}Keywords`,
    label: of === 'site' ? 'site keywords' : 'page keywords',
    explain: `Keywords of this market in whose fetched results the ${of} stands; Rivals lists them`,
    hidden: true,
    render: result => figure(reachOf(result)?.keywords ?? null, formatWhole, notKept),
    list: of,
    why: (result, page) => {
      const reach = reachOf(result)
      return reach === null
        ? undefined
        : `${formatWhole(reach.keywords)} of ${formatWhole(page.weighedKeywords)} weighed here`
    },
  },
  {
    key: `${of}Visits`,
    label: of === 'site' ? 'site visits' : 'page visits',
    explain: `Visits a month the ${of} gets from those keywords, by place and your click curve, features of their first pages left aside`,
    hidden: true,
    render: result =>
      figure(
        reachOf(result)?.visits ?? null,
        formatWhole,
        reachOf(result) === null ? notKept : 'The searches of those keywords are not known',
      ),
    why: result => {
      const unknown = reachOf(result)?.unknown ?? 0
      return unknown ? `Without ${plural(unknown, 'keyword')} whose searches are unknown` : undefined
    },
  },
]

/** The value that a part of strength comes from; site effects are what they add, and come from none. */
const partValue = ({ feature, value }: WeighedResult['parts'][number]): string =>
  feature === 'siteEffect' || feature === 'neighbours' ? '' : value === null ? ' unknown' : ` ${formatOne(value)}`

/** All figures of a result, in the order of the table. */
export const resultColumns: ResultColumn[] = [
  {
    key: 'visits',
    label: 'visits/mo',
    explain:
      'Visits a month it gets from this keyword: searches × share of clicks at its place, by what the page shows',
    render: result => figure(result.visits, formatWhole, 'The searches of this keyword are not known'),
  },
  {
    key: 'strength',
    label: 'strength',
    explain: 'The level that the site of a new, well-fitting page would need to match this result',
    render: result => (
      <b style={{ fontWeight: 640 }} className={result.opening ? 'own' : ''}>
        {Math.round(result.level)}
      </b>
    ),
    why: (result, page) =>
      `Level ${formatOne(result.level)} =\n${result.parts
        .map(part => `${featureNames[part.feature] ?? part.feature}${partValue(part)}: ${formatSigned(part.adds)}`)
        .join('\n')}\n(${page.model})`,
  },
  {
    key: 'site',
    label: 'site',
    explain:
      'Level of the site: of 100 sites of this market, how many have fewer sites that link to them. Its standing, in Links, also weighs who links',
    render: result => figure(result.siteLevel, round, noFeed),
    why: (result, page) =>
      result.siteLevel === null
        ? undefined
        : `${result.siteLinkingSites === null ? 'No link to it is known' : `${plural(result.siteLinkingSites, 'site')} ${result.siteLinkingSites === 1 ? 'links' : 'link'} to it`}; of 100 sites ${Math.round(result.siteLevel)} have fewer. The scale rests on ${scaleWords(page.scale)}.`,
  },
  {
    key: 'siteKind',
    label: 'kind',
    explain: 'What the site is, as its name, texts and addresses look: a shop, a magazine, a forum, a public body …',
    hidden: true,
    render: result => figure(result.siteKind, kind => kind, noKind),
  },
  {
    key: 'followedLinks',
    label: 'followed',
    explain: 'Followed links to this page that the link graph knows to be there',
    hidden: true,
    render: result => figure(result.followedLinks, formatWhole, noPage),
  },
  {
    key: 'trust',
    label: 'trust',
    explain: 'Trust of the site, 0–100, from the link graph, beginning with vetted sites',
    hidden: true,
    render: result =>
      result.network ? (
        <span className="fall" title="The site is one of a suspected link network: Sources says why">
          network
        </span>
      ) : (
        figure(result.siteTrust, round, noGraph)
      ),
  },
  {
    key: 'siteLinks',
    label: 'sites to site',
    explain: 'Sites linking to the site',
    hidden: true,
    render: result => figure(result.siteLinkingSites, formatWhole, noFeed),
  },
  {
    key: 'allLinks',
    label: 'links to site',
    explain: 'Links to all pages of the site, several of a site counted each',
    hidden: true,
    render: result => figure(result.siteLinks, formatWhole, noFeed),
  },
  {
    key: 'institutions',
    label: 'schools, public',
    explain: 'Vetted schools and public bodies that link to the site; Sources lists them',
    hidden: true,
    render: result => figure(result.institutions?.length ?? null, formatWhole, noGraph),
    why: result => result.institutions?.join('\n') || undefined,
  },
  {
    key: 'directories',
    label: 'directories',
    explain: 'Vetted directories that list the site; you name them in Sources',
    hidden: true,
    render: result => figure(result.directories?.length ?? null, formatWhole, noGraph),
    why: result => result.directories?.join('\n') || undefined,
  },
  ...reachColumns('site', result => result.siteReach),
  ...reachColumns('page', result => result.pageReach),
  {
    key: 'pageStanding',
    label: 'page',
    explain: 'Standing of this very page, 0–100, from the link graph',
    hidden: true,
    render: result => figure(result.pageStanding, round, noPage),
  },
  {
    key: 'pageTrust',
    label: 'page trust',
    explain: 'Trust of this very page, 0–100: standing that comes from pages of vetted sites',
    hidden: true,
    render: result => figure(result.pageTrust, round, result.pageStanding === null ? noPage : noPageTrust),
  },
  {
    key: 'linkingSites',
    label: 'sites linking',
    explain: 'Sites linking to this page',
    render: result => figure(result.linkingSites, formatWhole, noFeed),
    why: result => (result.links === null ? undefined : `${formatWhole(result.links)} links to this page`),
  },
  {
    key: 'links',
    label: 'links',
    explain: 'Links to this page, several of a site counted each',
    hidden: true,
    render: result => figure(result.links, formatWhole, noFeed),
  },
  {
    key: 'age',
    label: 'age',
    explain: 'Years since the site was registered',
    render: result => figure(result.ageYears, formatOne, 'The registry did not say'),
  },
  {
    key: 'read',
    label: 'read',
    explain: 'When our crawler last read the page',
    hidden: true,
    render: result => figure(result.readOn, formatDay, notRead),
  },
  {
    key: 'fit',
    label: 'fit',
    explain:
      'How the keyword stands in title, address and snippet, 0–100; what a result page does not show counts as 80',
    hidden: true,
    render: result => figure(result.fit, round, 'Nothing of the page was seen'),
  },
  {
    key: 'coverage',
    label: 'words covered',
    explain: 'The keyword’s words that it has, 0–100, each counted by how many results have it',
    hidden: true,
    render: result => figure(ofFeature(result, 'coverage'), round, 'Nothing of the page was seen'),
  },
  {
    key: 'similarity',
    label: 'similarity',
    explain: 'How much title and snippet speak of what the other results speak of; 50 as the first ten do on average',
    hidden: true,
    render: result => figure(ofFeature(result, 'similarity'), round, 'Nothing of the page was seen'),
  },
  {
    key: 'sharedPhrase',
    label: 'shared phrase',
    explain:
      'How far title and snippet say a phrase about the keyword that the other results say too, such as “kiln price” for “kiln cost”; 100 as the best of the first ten',
    hidden: true,
    render: result =>
      figure(ofFeature(result, 'sharedPhrase'), round, 'No two results share a phrase about the keyword'),
  },
  {
    key: 'pathType',
    label: 'page type',
    explain:
      'How many of the others stand where it does in its site (home page, a shop, guides); 50 as the first ten do on average',
    hidden: true,
    render: result => figure(ofFeature(result, 'pathType'), round, 'Nothing of the page was seen'),
  },
  {
    key: 'subject',
    label: 'subject',
    explain:
      'How much of the keyword’s subject title and snippet name, 0–100: those of its words that a quarter of the first twenty titles have',
    hidden: true,
    render: result =>
      figure(ofFeature(result, 'subject'), round, 'No word of the keyword is in a quarter of the first twenty titles'),
  },
  {
    key: 'neighbours',
    label: 'at similar keywords',
    explain:
      'What it showed at similar keywords, those whose first results are much the same: by how much it stood stronger (+) or weaker (−) there than its figures tell, on the scale of strength',
    hidden: true,
    render: result =>
      figure(
        addsOf(result, 'neighbours'),
        formatSigned,
        'Not seen at a similar keyword, or strengths are not learnt yet',
      ),
  },
  {
    key: 'modifiers',
    label: 'modifier words',
    explain:
      'How far title and beginning of the snippet answer the words beside the subject, such as “ideas” in “ash glaze ideas”, also in other words; 50 as the first ten do on average',
    hidden: true,
    render: result =>
      figure(
        ofFeature(result, 'modifiers'),
        round,
        'No word stands beside the subject, or strengths are not learnt yet',
      ),
  },
  {
    key: 'phrase',
    label: 'phrase in',
    explain: `Phrase in title, headings, text, address and description; headings and text of pages that our crawler read`,
    render: result => <PhraseStrip matches={result.matches} />,
  },
]
export const usualColumns: readonly string[] = resultColumns.filter(each => !each.hidden).map(each => each.key)
