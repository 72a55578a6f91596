import {
  anchorTable,
  linkedPageTable,
  linkingSiteTable,
  linkTable,
  prospectTable,
  rankingTable,
} from '@dew-trail/contract/link-tables'
import { prospectStates, type ProspectState } from '@dew-trail/contract/prospects'
import { anchorClasses } from '@dew-trail/core/links/anchor-class'
import { linkKinds, linkRegions } from '@dew-trail/core/links/link-codes'
import { siteKinds } from '@dew-trail/core/links/site-kind'
import type { Row } from '../../rows/row-source.ts'
import type { SheetColumn } from '../../sheet/columns.ts'
import { formatDay, formatDoubt, formatShare, formatWhole } from '../../ui/format.ts'

const right = { align: 'right' as const }
const unknown = (why: string) => (
  <span className="unknown" title={why}>
    unknown
  </span>
)
const whole = (key: string, why: string) => (row: Row) =>
  row[key] === null ? unknown(why) : formatWhole(Number(row[key]))
const text = (key: string) => (row: Row) => (
  <span className="cut" style={{ display: 'block', maxWidth: 'none' }} title={String(row[key] ?? '')}>
    {String(row[key] ?? '')}
  </span>
)
const maybeText = (key: string, why: string) => (row: Row) => (row[key] === null ? unknown(why) : text(key)(row))
const day = (key: string, why: string) => (row: Row) => (row[key] === null ? unknown(why) : formatDay(String(row[key])))
const short = (address: string): string => address.replace(/^https?:\/\//, '')
const inSite = (address: string): string => address.replace(/^https?:\/\/[^/]+/, '') || '/'
/** An address outside, opened beside the program. */
const outside = (key: string, show: (address: string) => string) => (row: Row) =>
  row[key] === null ? null : (
    <a
      className="link cut"
      href={String(row[key])}
      target="_blank"
      rel="noreferrer"
      tabIndex={-1}
      title={String(row[key])}
      style={{ fontWeight: 400, display: 'block', maxWidth: 'none' }}
    >
      {show(String(row[key]))}
    </a>
  )
const ranks = 'Standing was not computed since it came in'
const weights = (key: 'standing' | 'trust' | 'pull') => (row: Row) => {
  const value = row[key]
  if (value === null) return unknown(ranks)
  return (
    <span className="weight">
      <i style={{ width: `${Math.round(Number(value) * 0.44)}px` }} />
      {Math.round(Number(value))}
    </span>
  )
}
const doubt = (row: Row) => (row.doubt === null ? unknown(ranks) : formatDoubt(Number(row.doubt)))
const values = (of: readonly string[]) => of.map(value => ({ value, label: value }))
const flag = (key: string): Pick<SheetColumn, 'width' | 'conditionOnly' | 'render'> => ({
  width: 60,
  conditionOnly: true,
  render: row => (row[key] ? 'yes' : ''),
})

export const linkingSiteColumns: SheetColumn[] = [
  {
    ...linkingSiteTable.domain,
    width: 200,
    fixed: true,
    render: row => (
      <>
        <span className="keyword-name" title={String(row.domain)}>
          {String(row.domain)}
        </span>
        {row.prospect ? <small title="It is among the prospects">prospect</small> : null}
      </>
    ),
  },
  { ...linkingSiteTable.kind, width: 88, values: values(siteKinds), render: text('kind') },
  { ...linkingSiteTable.standing, ...right, width: 96, render: weights('standing') },
  { ...linkingSiteTable.trust, ...right, width: 96, render: weights('trust') },
  { ...linkingSiteTable.doubt, ...right, width: 70, hidden: true, render: doubt },
  { ...linkingSiteTable.links, ...right, width: 58, render: whole('links', '') },
  { ...linkingSiteTable.follow, ...right, width: 76, render: whole('follow', '') },
  { ...linkingSiteTable.pages, ...right, width: 64, hidden: true, render: whole('pages', '') },
  { ...linkingSiteTable.lands, width: 150, render: outside('lands', inSite) },
  { ...linkingSiteTable.anchor, width: 140, render: text('anchor') },
  {
    ...linkingSiteTable.topic,
    width: 150,
    hidden: true,
    render: maybeText('topic', 'No topic of its standing is known'),
  },
  { ...linkingSiteTable.language, width: 84, hidden: true, render: maybeText('language', 'Its pages were not read') },
  { ...linkingSiteTable.firstSeen, width: 92, render: day('firstSeen', 'No source tells since when') },
  { ...linkingSiteTable.lastSeen, width: 92, hidden: true, render: day('lastSeen', 'No source tells') },
  {
    ...linkingSiteTable.registeredOn,
    width: 100,
    hidden: true,
    render: day('registeredOn', 'The registry was not asked, or does not say'),
  },
  { ...linkingSiteTable.country, width: 76, hidden: true, render: maybeText('country', 'No source tells it') },
  { ...linkingSiteTable.address, width: 120, hidden: true, render: maybeText('address', 'No source tells it') },
  { ...linkingSiteTable.toRivals, ...right, width: 78, render: whole('toRivals', '') },
  {
    ...linkingSiteTable.lookAt,
    width: 190,
    render: row => (
      <span className={row.suspected ? 'fall' : 'quiet'} title={String(row.lookAt ?? '')}>
        {String(row.lookAt ?? '')}
      </span>
    ),
  },
  { ...linkingSiteTable.contact, width: 160, hidden: true, render: maybeText('contact', 'None was read on its pages') },
  { ...linkingSiteTable.siteWide, ...flag('siteWide') },
  { ...linkingSiteTable.suspected, ...flag('suspected') },
  { ...linkingSiteTable.prospect, ...flag('prospect') },
  { ...linkingSiteTable.disavowed, ...flag('disavowed') },
  { ...linkingSiteTable.cleared, ...flag('cleared') },
]

export const linkColumns: SheetColumn[] = [
  { ...linkTable.source, width: 250, fixed: true, render: outside('source', short) },
  { ...linkTable.title, width: 180, hidden: true, render: maybeText('title', 'The page was not read') },
  { ...linkTable.domain, width: 150, hidden: true, render: text('domain') },
  {
    ...linkTable.anchor,
    width: 170,
    render: row =>
      row.anchor ? (
        text('anchor')(row)
      ) : (
        <span className="quiet">{row.kind === 'image' ? 'a picture' : 'no words'}</span>
      ),
  },
  { ...linkTable.around, width: 190, render: maybeText('around', 'The page was not read') },
  { ...linkTable.lands, width: 150, render: outside('lands', inSite) },
  { ...linkTable.standing, ...right, width: 96, render: weights('standing') },
  {
    ...linkTable.pull,
    ...right,
    width: 86,
    render: row => (row.rel === 'follow' ? weights('pull')(row) : <span className="quiet">none</span>),
  },
  { ...linkTable.rel, width: 90, values: values(['follow', 'nofollow', 'sponsored', 'ugc']), render: text('rel') },
  { ...linkTable.kind, width: 74, hidden: true, values: values(linkKinds), render: text('kind') },
  {
    ...linkTable.region,
    width: 90,
    hidden: true,
    values: values(linkRegions),
    render: maybeText('region', 'The page was not read'),
  },
  {
    ...linkTable.linkedAround,
    ...right,
    width: 104,
    hidden: true,
    render: row =>
      row.linkedAround === null ? unknown('The page was not read') : formatShare(Number(row.linkedAround)),
  },
  { ...linkTable.language, width: 84, hidden: true, render: maybeText('language', 'The page was not read') },
  { ...linkTable.shares, ...right, width: 72, hidden: true, render: whole('shares', 'No source tells it') },
  { ...linkTable.linksOut, ...right, width: 84, hidden: true, render: whole('linksOut', 'The page was not read') },
  { ...linkTable.firstSeen, width: 92, render: day('firstSeen', 'No source tells since when') },
  { ...linkTable.lastSeen, width: 92, hidden: true, render: day('lastSeen', 'No source tells') },
  {
    ...linkTable.goneOn,
    width: 92,
    hidden: true,
    render: row => (row.goneOn === null ? '' : formatDay(String(row.goneOn))),
  },
  { ...linkTable.verifiedOn, width: 92, render: day('verifiedOn', 'Our crawler has not read the page') },
  { ...linkTable.sources, ...right, width: 82, hidden: true, render: whole('sources', '') },
  { ...linkTable.ofSite, ...right, width: 86, hidden: true, render: whole('ofSite', '') },
  { ...linkTable.contact, width: 160, hidden: true, render: maybeText('contact', 'None was read on the page') },
]

/** What anchors say, in words. */
export const anchorWords: Record<(typeof anchorClasses)[number], string> = {
  brand: 'the name',
  exact: 'a keyword',
  partial: 'part of a keyword',
  address: 'bare address',
  generic: 'no subject',
  image: 'a picture',
  other: 'other words',
}
export const anchorColumns: SheetColumn[] = [
  {
    ...anchorTable.text,
    width: 230,
    fixed: true,
    render: row => (
      <span className="keyword-name" title={String(row.text)}>
        {String(row.text) || <span className="quiet">no words</span>}
      </span>
    ),
  },
  {
    ...anchorTable.kind,
    width: 130,
    values: anchorClasses.map(value => ({ value, label: anchorWords[value] })),
    render: row => anchorWords[row.kind as keyof typeof anchorWords],
  },
  { ...anchorTable.sites, ...right, width: 70, render: whole('sites', '') },
  { ...anchorTable.sitesShare, ...right, width: 96, render: row => formatShare(Number(row.sitesShare)) },
  { ...anchorTable.links, ...right, width: 70, render: whole('links', '') },
  { ...anchorTable.follow, ...right, width: 86, render: whole('follow', '') },
  { ...anchorTable.lands, width: 150, render: outside('lands', inSite) },
  {
    ...anchorTable.odd,
    width: 330,
    render: row => (
      <span className="fall" title={String(row.odd ?? '')}>
        {String(row.odd ?? '')}
      </span>
    ),
  },
]

export const linkedPageColumns: SheetColumn[] = [
  { ...linkedPageTable.url, width: 300, fixed: true, render: outside('url', short) },
  { ...linkedPageTable.sites, ...right, width: 100, render: whole('sites', '') },
  { ...linkedPageTable.links, ...right, width: 70, render: whole('links', '') },
  { ...linkedPageTable.follow, ...right, width: 86, render: whole('follow', '') },
  { ...linkedPageTable.standing, ...right, width: 96, render: weights('standing') },
  { ...linkedPageTable.topAnchor, width: 180, render: text('topAnchor') },
  {
    ...linkedPageTable.next,
    width: 290,
    render: row => (
      <span className="fall" title={String(row.next ?? '')}>
        {String(row.next ?? '')}
      </span>
    ),
  },
  {
    ...linkedPageTable.status,
    ...right,
    width: 76,
    render: row => row.status ?? unknown('Our crawler has not asked for it'),
  },
  { ...linkedPageTable.redirectTo, width: 200, hidden: true, render: outside('redirectTo', short) },
  { ...linkedPageTable.shares, ...right, width: 72, hidden: true, render: whole('shares', 'No source tells it') },
  { ...linkedPageTable.readOn, width: 92, hidden: true, render: day('readOn', 'Our crawler has not asked for it') },
  { ...linkedPageTable.firstSeen, width: 92, render: day('firstSeen', 'No source tells') },
]

/** `marked`: domains of the compared sites, the own one first. */
export const rankingColumns = (marked: readonly string[]): SheetColumn[] => [
  { ...rankingTable.position, ...right, width: 76, fixed: true, render: whole('position', '') },
  {
    ...rankingTable.domain,
    width: 260,
    render: row => {
      const at = marked.indexOf(String(row.domain))
      return (
        <span className={at === 0 ? 'keyword-name own' : 'keyword-name'} style={at > 0 ? { fontWeight: 700 } : {}}>
          {String(row.domain)}
        </span>
      )
    },
  },
  { ...rankingTable.standing, ...right, width: 96, render: weights('standing') },
  { ...rankingTable.trust, ...right, width: 96, render: weights('trust') },
  { ...rankingTable.doubt, ...right, width: 74, render: doubt },
  {
    ...rankingTable.popularity,
    ...right,
    width: 92,
    hidden: true,
    render: whole('popularity', 'Not on the list of popular sites, or none was imported'),
  },
  { ...rankingTable.linkingSites, ...right, width: 104, render: whole('linkingSites', '') },
  { ...rankingTable.linksToSites, ...right, width: 84, render: whole('linksToSites', '') },
  { ...rankingTable.topic, width: 220, render: maybeText('topic', 'No topic of its standing is known') },
  { ...rankingTable.ending, width: 90, hidden: true, render: text('ending') },
]

export const stateWords: Record<ProspectState, string> = {
  toAsk: 'to ask',
  asked: 'asked',
  promised: 'promised',
  placed: 'placed',
  refused: 'refused',
}
export const prospectColumns: SheetColumn[] = [
  {
    ...prospectTable.domain,
    width: 220,
    fixed: true,
    render: row => (
      <span className="keyword-name" title={String(row.domain)}>
        {String(row.domain)}
      </span>
    ),
  },
  {
    ...prospectTable.state,
    width: 90,
    values: prospectStates.map(value => ({ value, label: stateWords[value] })),
    render: row => stateWords[row.state as ProspectState],
  },
  {
    ...prospectTable.nextDay,
    width: 112,
    render: row =>
      row.nextDay === null ? '' : <span className={row.late ? 'fall' : ''}>{formatDay(String(row.nextDay))}</span>,
  },
  { ...prospectTable.standing, ...right, width: 96, render: weights('standing') },
  { ...prospectTable.contact, width: 190, render: maybeText('contact', 'None is known yet') },
  { ...prospectTable.target, width: 170, render: text('target') },
  { ...prospectTable.anchor, width: 150, render: text('anchor') },
  { ...prospectTable.page, width: 170, hidden: true, render: outside('page', short) },
  { ...prospectTable.remarks, width: 240, render: text('remarks') },
  { ...prospectTable.owner, width: 120, render: maybeText('owner', 'Nobody looks after it yet') },
  {
    ...prospectTable.linksToOwn,
    width: 110,
    render: row => (row.linksToOwn ? <b className="kept-row">links to you</b> : ''),
  },
  { ...prospectTable.addedOn, width: 92, hidden: true, render: day('addedOn', '') },
  { ...prospectTable.late, ...flag('late') },
]
