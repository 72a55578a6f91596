import type { Batch } from '@dew-trail/core/tables/column-spec'
import type { TableColumn } from '@dew-trail/core/tables/table-column'
import type { AnchorRow, LinkedPage, LinkingSite, RankedSite, TargetLink } from './link-lists.ts'
import type { Prospect } from './prospects.ts'
import { columnsOf, specsOf } from './table-batch.ts'

const standing = {
  key: 'standing',
  label: 'Standing',
  kind: 'number',
  unit: '0 to 100',
  explain: 'Weight of the links to the site',
} satisfies TableColumn
const trust = {
  key: 'trust',
  label: 'Trust',
  kind: 'number',
  unit: '0 to 100',
  explain: 'How near the site is, by links, to sites that somebody vouches for',
} satisfies TableColumn
const doubt = {
  key: 'doubt',
  label: 'Doubt',
  kind: 'number',
  unit: 'at most 1',
  explain: 'Part of its standing that trusted sites do not account for',
} satisfies TableColumn
const links = {
  key: 'links',
  label: 'Links',
  kind: 'number',
  unit: 'links',
  explain: 'How many links',
} satisfies TableColumn
const follow = {
  key: 'follow',
  label: 'Followed',
  kind: 'number',
  unit: 'links',
  explain: 'Links that engines follow: neither nofollow nor paid nor by users',
} satisfies TableColumn
const firstSeen = {
  key: 'firstSeen',
  label: 'Since',
  kind: 'code',
  unit: 'day',
  explain: 'The day on which it was first seen',
} satisfies TableColumn
const lastSeen = {
  key: 'lastSeen',
  label: 'Last seen',
  kind: 'code',
  unit: 'day',
  explain: 'The day on which it was last seen',
} satisfies TableColumn
const language = {
  key: 'language',
  label: 'Language',
  kind: 'code',
  explain: 'Language of the linking page, as the crawler read it',
} satisfies TableColumn
const contact = {
  key: 'contact',
  label: 'Contact',
  kind: 'code',
  explain: 'An e-mail address that stands on the site',
} satisfies TableColumn
const topic = {
  key: 'topic',
  label: 'Topic',
  kind: 'code',
  explain: 'The topic that most of its standing comes from',
} satisfies TableColumn
const shares = {
  key: 'shares',
  label: 'Shares',
  kind: 'number',
  unit: 'times',
  explain: 'How often the page was passed on in social networks, where a link feed tells it',
} satisfies TableColumn
const lands = {
  key: 'lands',
  label: 'Lands on',
  kind: 'code',
  explain: 'The page that the links lead to; of several the one with most',
} satisfies TableColumn

/** Columns of the sites that link to a target. */
export const linkingSiteTable = {
  domain: { key: 'domain', label: 'Linking site', kind: 'text', explain: 'The site that links' },
  kind: { key: 'kind', label: 'Kind', kind: 'code', explain: 'What kind of site it seems to be' },
  standing,
  trust,
  doubt,
  links,
  follow,
  pages: {
    key: 'pages',
    label: 'Pages',
    kind: 'number',
    unit: 'pages',
    explain: 'On how many of its pages the links stand',
  },
  lands,
  anchor: { key: 'anchor', label: 'Most used words', kind: 'code', explain: 'The anchor that it uses most' },
  topic,
  language,
  firstSeen,
  lastSeen,
  registeredOn: {
    key: 'registeredOn',
    label: 'Registered',
    kind: 'code',
    unit: 'day',
    explain: 'When its domain was registered, by the registry',
  },
  address: {
    key: 'address',
    label: 'Address',
    kind: 'code',
    explain: 'Network addresses of the site, as sources tell them',
  },
  country: {
    key: 'country',
    label: 'Country',
    kind: 'code',
    explain: 'Country in which its network address is registered, where a link feed tells it',
  },
  toRivals: {
    key: 'toRivals',
    label: 'To others',
    kind: 'number',
    unit: 'sites',
    explain: 'To how many of the compared sites it links too',
  },
  lookAt: { key: 'lookAt', label: 'Look at', kind: 'code', explain: 'What is unusual about its links' },
  siteWide: {
    key: 'siteWide',
    label: 'on every page',
    kind: 'flag',
    explain: 'One link that stands on all or most of its pages',
  },
  suspected: {
    key: 'suspected',
    label: 'suspected',
    kind: 'flag',
    explain: 'It belongs to a network of sites that look as if they were made to link',
  },
  contact,
  prospect: { key: 'prospect', label: 'prospect', kind: 'flag', explain: 'It is among the prospects' },
  disavowed: {
    key: 'disavowed',
    label: 'disavowed',
    kind: 'flag',
    explain: 'Engines are asked to leave its links out',
  },
  cleared: {
    key: 'cleared',
    label: 'of no network',
    kind: 'flag',
    explain: 'Somebody said that it is of no made network',
  },
} satisfies Record<string, TableColumn>
export const linkingSiteSpecs = specsOf(linkingSiteTable)
export const linkingSiteBatch = (rows: readonly LinkingSite[]): Batch => ({
  ids: rows.map(row => row.id),
  columns: {
    ...columnsOf(rows, [
      'domain',
      'kind',
      'standing',
      'trust',
      'doubt',
      'links',
      'follow',
      'pages',
      'lands',
      'anchor',
      'topic',
      'language',
      'firstSeen',
      'lastSeen',
      'registeredOn',
      'country',
      'toRivals',
      'siteWide',
      'contact',
      'prospect',
      'disavowed',
      'cleared',
    ]),
    address: rows.map(row => row.addresses.join(', ') || null),
    suspected: rows.map(row => row.network !== null),
    lookAt: rows.map(lookAt),
  },
})
/** What is unusual about the links of a site, the gravest first; null where nothing is. */
export function lookAt({
  network,
  networkReasons,
  siteWide,
  disavowed,
}: Pick<LinkingSite, 'network' | 'networkReasons' | 'siteWide' | 'disavowed'>): string | null {
  if (disavowed) return 'disavowed'
  if (network !== null) return networkReasons?.[0] ?? 'made to link'
  return siteWide ? 'on every page' : null
}

/** Columns of links. */
export const linkTable = {
  source: { key: 'source', label: 'Linking page', kind: 'text', explain: 'The page on which the link stands' },
  title: { key: 'title', label: 'Title', kind: 'code', explain: 'Title of that page, as the crawler read it' },
  domain: { key: 'domain', label: 'Site', kind: 'code', explain: 'The site of that page' },
  anchor: { key: 'anchor', label: 'Anchor', kind: 'code', explain: 'The words of the link' },
  around: { key: 'around', label: 'Words around', kind: 'code', explain: 'What stands before and after the link' },
  lands,
  standing,
  pull: {
    key: 'pull',
    label: 'Pull',
    kind: 'number',
    unit: '0 to 100',
    explain: 'The rank that its page passes on by this link, on the scale of standing',
  },
  rel: {
    key: 'rel',
    label: 'Counts',
    kind: 'code',
    explain: 'What the link says to engines: follow, nofollow, sponsored (paid), ugc (by users)',
  },
  kind: { key: 'kind', label: 'Shape', kind: 'code', explain: 'Text, image, redirect or frame' },
  region: { key: 'region', label: 'Region', kind: 'code', explain: 'Where on the page it stands' },
  linkedAround: {
    key: 'linkedAround',
    label: 'Linked around',
    kind: 'number',
    unit: 'share, 0 to 1',
    explain: 'Of the words around it, the share that are links',
  },
  language,
  linksOut: {
    key: 'linksOut',
    label: 'Links out',
    kind: 'number',
    unit: 'links',
    explain: 'Links from that page to other sites',
  },
  shares,
  firstSeen,
  lastSeen,
  goneOn: {
    key: 'goneOn',
    unit: 'day',
    label: 'Gone',
    kind: 'code',
    explain: 'The day on which it was found to be gone',
  },
  verifiedOn: {
    key: 'verifiedOn',
    unit: 'day',
    label: 'Read',
    kind: 'code',
    explain: 'When our crawler last read the page',
  },
  sources: {
    key: 'sources',
    label: 'Known by',
    kind: 'number',
    unit: 'sources',
    explain: 'How many sources know of the link: our crawl, files, link feeds',
  },
  ofSite: {
    key: 'ofSite',
    label: 'Of its site',
    kind: 'number',
    unit: 'links',
    explain: 'How many links its site has to what is looked at',
  },
  contact,
} satisfies Record<string, TableColumn>
export const linkSpecs = specsOf(linkTable)
export const linkBatch = (rows: readonly TargetLink[]): Batch => ({
  ids: rows.map(row => row.id),
  columns: columnsOf(rows, Object.keys(linkTable) as Array<keyof typeof linkTable>),
})

/** Columns of anchors. */
export const anchorTable = {
  text: { key: 'text', label: 'Anchor', kind: 'text', explain: 'The words of the links' },
  kind: {
    key: 'kind',
    label: 'Says',
    kind: 'code',
    explain: 'What the words say: the name, a keyword, a bare address, nothing, a picture',
  },
  sites: { key: 'sites', label: 'Sites', kind: 'number', unit: 'sites', explain: 'How many sites use these words' },
  sitesShare: {
    key: 'sitesShare',
    label: 'Of all sites',
    kind: 'number',
    unit: 'share, 0 to 1',
    explain: 'Share of all linking sites',
  },
  links,
  follow,
  lands,
  odd: { key: 'odd', label: 'Odd', kind: 'code', explain: 'What is unusual about it' },
} satisfies Record<string, TableColumn>
export const anchorSpecs = specsOf(anchorTable)
export const anchorBatch = (rows: readonly AnchorRow[]): Batch => ({
  ids: rows.map(row => row.id),
  columns: columnsOf(rows, Object.keys(anchorTable) as Array<keyof typeof anchorTable>),
})

/** Columns of the pages that links lead to. */
export const linkedPageTable = {
  url: { key: 'url', label: 'Page', kind: 'text', explain: 'The page that links lead to' },
  sites: { key: 'sites', label: 'Linking sites', kind: 'number', unit: 'sites', explain: 'How many sites link to it' },
  links,
  follow,
  standing: { ...standing, explain: 'Weight of the links to the page' },
  topAnchor: {
    key: 'topAnchor',
    label: 'Most used words',
    kind: 'code',
    explain: 'The anchor that most links to it have',
  },
  next: { key: 'next', label: 'Next', kind: 'code', explain: 'What to do about it' },
  status: {
    key: 'status',
    label: 'Answer',
    kind: 'number',
    unit: 'HTTP status',
    explain: 'What the page answered our crawler last',
  },
  redirectTo: { key: 'redirectTo', label: 'Leads to', kind: 'code', explain: 'Where it redirects' },
  readOn: { key: 'readOn', unit: 'day', label: 'Read', kind: 'code', explain: 'When our crawler last asked for it' },
  firstSeen: { ...firstSeen, explain: 'The day on which the first link to it was seen' },
  shares,
} satisfies Record<string, TableColumn>
export const linkedPageSpecs = specsOf(linkedPageTable)
export const linkedPageBatch = (rows: readonly LinkedPage[]): Batch => ({
  ids: rows.map(row => row.id),
  columns: columnsOf(rows, Object.keys(linkedPageTable) as Array<keyof typeof linkedPageTable>),
})

/** Columns of the ranking of sites. */
export const rankingTable = {
  position: {
    key: 'position',
    label: 'Place',
    kind: 'number',
    unit: 'position',
    explain: 'Place among all known sites by standing',
  },
  domain: { key: 'domain', label: 'Site', kind: 'text', explain: 'The site' },
  standing,
  trust,
  doubt,
  popularity: {
    key: 'popularity',
    label: 'Popularity',
    kind: 'number',
    unit: 'rank',
    explain: 'Rank in the list of popular sites that you imported under Sources: 1 is the most popular',
  },
  linkingSites: {
    key: 'linkingSites',
    label: 'Linking sites',
    kind: 'number',
    unit: 'sites',
    explain: 'Sites that link to it',
  },
  linksToSites: {
    key: 'linksToSites',
    label: 'Links to',
    kind: 'number',
    unit: 'sites',
    explain: 'Sites that it links to',
  },
  topic,
  ending: { key: 'ending', label: 'Ending', kind: 'code', explain: 'Top-level domain' },
} satisfies Record<string, TableColumn>
export const rankingSpecs = specsOf(rankingTable)
export const rankingBatch = (rows: readonly RankedSite[]): Batch => ({
  ids: rows.map(row => row.id),
  columns: columnsOf(rows, Object.keys(rankingTable) as Array<keyof typeof rankingTable>),
})

/** Columns of prospects. */
export const prospectTable = {
  domain: { key: 'domain', label: 'Site', kind: 'text', explain: 'The site that should link' },
  state: { key: 'state', label: 'State', kind: 'code', explain: 'How far it is' },
  nextDay: { key: 'nextDay', unit: 'day', label: 'Next', kind: 'code', explain: 'When something is to be done again' },
  standing,
  contact,
  target: { key: 'target', label: 'Page to link', kind: 'code', explain: 'The page that the link should lead to' },
  anchor: { key: 'anchor', label: 'Wished words', kind: 'code', explain: 'The words that the link should have' },
  page: { key: 'page', label: 'On page', kind: 'code', explain: 'The page that should have the link' },
  remarks: { key: 'remarks', label: 'Remarks', kind: 'code', explain: 'What was written, said and agreed' },
  linksToOwn: {
    key: 'linksToOwn',
    label: 'Links already',
    kind: 'flag',
    explain: 'Our graph knows a link of it to your site',
  },
  late: { key: 'late', label: 'due', kind: 'flag', explain: 'Its day has come' },
  addedOn: { key: 'addedOn', unit: 'day', label: 'Added', kind: 'code', explain: 'When it was written down' },
  owner: { key: 'owner', label: 'Owner', kind: 'code', explain: 'Who looks after it' },
} satisfies Record<string, TableColumn>
export const prospectSpecs = specsOf(prospectTable)
/** `today`: what is due by then is marked. */
export const prospectBatch = (rows: readonly Prospect[], today: string): Batch => ({
  ids: rows.map(row => row.id),
  columns: {
    ...columnsOf(rows, [
      'domain',
      'state',
      'nextDay',
      'standing',
      'contact',
      'target',
      'anchor',
      'page',
      'remarks',
      'linksToOwn',
      'addedOn',
    ]),
    owner: rows.map(row => row.owner || null),
    late: rows.map(
      row => row.nextDay !== null && row.nextDay <= today && row.state !== 'placed' && row.state !== 'refused',
    ),
  },
})
