import { mix, Stream, unit } from '../random.ts'
import { personOf } from './names.ts'
import type { Language } from './vocabulary.ts'

export type SiteKind =
  | 'own'
  | 'rival'
  | 'shop'
  | 'magazine'
  | 'blog'
  | 'forum'
  | 'directory'
  | 'school'
  | 'public'
  | 'marketplace'
  | 'studio'
  | 'network'
  | 'news'
  | 'parked'
export type Site = {
  id: number
  domain: string
  name: string
  kind: SiteKind
  language: Language
  /** A second language in which some pages are written, under a folder of its own. */
  alsoLanguage?: Language
  city?: string
  /** The host of most pages: the domain itself or www. before it. */
  host: string
  /** A second host with part of the pages (blog., shop.). */
  secondHost?: string
  secure: boolean
  owner: string
  email: string
  phone: string
  street: string
  /** IPv4 address of its hosts, from the range set aside for benchmarks (RFC 2544). */
  address: string
  nameserver: string
  charset: 'utf-8' | 'iso-8859-1'
  /** Delay of every answer, in milliseconds; 0 for nearly all. */
  slowMs: number
  /** Where all of it is sent on to, for domains that were bought for their links. */
  redirectsTo?: string
  /** Day the domain was registered. */
  registered: number
  /** Hidden pull on links, 0–1. */
  appeal: number
  /** Hidden care for quality and for small screens, 0–1. */
  quality: number
  mobile: number
  /** Share of all pages. */
  size: number
  groups: string[]
}

const all = ['wheels', 'kilns', 'clay', 'glaze', 'tools', 'kits', 'wares', 'technique', 'studio']
type Row = [
  domain: string,
  name: string,
  kind: SiteKind,
  appeal: number,
  size: number,
  groups?: string[],
  city?: string | undefined,
  language?: Language,
]
const named: Row[] = [
  ['kilnandtide.example', 'Kiln & Tide', 'own', 0.47, 5, all, 'port-hallow'],
  ['clayharbour.example', 'Clay Harbour', 'rival', 0.68, 7, all],
  ['thewheelhouse.example', 'The Wheelhouse', 'rival', 0.72, 5, ['wheels', 'kilns', 'tools', 'kits', 'technique']],
  ['glazeworks.example', 'Glazeworks', 'rival', 0.55, 4, ['glaze', 'clay', 'kilns', 'technique']],
  ['potteryparcel.example', 'Pottery Parcel', 'rival', 0.48, 6, ['kits', 'clay', 'tools', 'wares', 'wheels', 'glaze']],
  ['mudandfire.example', 'Mud and Fire', 'rival', 0.42, 3, ['kilns', 'technique', 'studio', 'clay']],
  ['studioalmanac.example', 'Studio Almanac', 'magazine', 0.8, 5],
  ['craftledger.example', 'Craft Ledger', 'magazine', 0.7, 5],
  ['handsandhearth.example', 'Hands and Hearth', 'magazine', 0.6, 4],
  ['themakersquarter.example', 'The Makers Quarter', 'magazine', 0.55, 3],
  ['homewareweekly.example', 'Homeware Weekly', 'magazine', 0.75, 3, ['wares', 'kits', 'studio', 'clay']],
  ['porthallowgazette.example', 'Port Hallow Gazette', 'news', 0.78, 2, ['studio', 'wares'], 'port-hallow'],
  ['wexmerepost.example', 'Wexmere Post', 'news', 0.7, 2, ['studio', 'wares'], 'wexmere'],
  ['tarrowdaily.example', 'Tarrow Daily', 'news', 0.92, 3, ['studio', 'wares', 'kits']],
  ['tarrowcollege.example', 'Tarrow College', 'school', 0.74, 2, ['technique', 'glaze', 'clay', 'kilns', 'studio']],
  ['oxcombeschool.example', 'Oxcombe School of Art', 'school', 0.6, 1, ['technique', 'studio'], 'oxcombe'],
  ['craftinstitute.example', 'Craft Institute', 'school', 0.66, 2, ['technique', 'glaze', 'clay']],
  ['lindleacademy.example', 'Lindle Academy', 'school', 0.5, 1, ['studio', 'technique'], 'lindle'],
  ['tarrow-council.example', 'Tarrow Council', 'public', 0.8, 1, ['studio']],
  ['safetyoffice.example', 'Safety Office', 'public', 0.76, 1, ['kilns', 'glaze', 'clay']],
  ['heritagetarrow.example', 'Heritage Tarrow', 'public', 0.64, 1, ['wares', 'technique']],
  [
    'stallandco.example',
    'Stall & Co',
    'marketplace',
    0.88,
    7,
    ['wares', 'kits', 'wheels', 'kilns', 'clay', 'tools', 'glaze'],
  ],
  ['secondround.example', 'Second Round', 'marketplace', 0.7, 4, ['wheels', 'kilns', 'tools']],
  [
    'bazaarbay.example',
    'Bazaar Bay',
    'marketplace',
    0.95,
    7,
    ['wares', 'kits', 'clay', 'tools', 'wheels', 'kilns', 'glaze'],
  ],
  ['makersmarket.example', 'Makers Market', 'marketplace', 0.6, 3, ['wares', 'kits']],
  ['potterstalk.example', 'Potters Talk', 'forum', 0.62, 6],
  ['kilnforum.example', 'Kiln Forum', 'forum', 0.5, 4, ['kilns', 'glaze', 'technique']],
  ['askaclay.example', 'Ask a Clay', 'forum', 0.55, 4],
  ['wheelfinder.example', 'Wheel Finder', 'directory', 0.4, 2, ['wheels', 'studio']],
  ['classfinder.example', 'Class Finder', 'directory', 0.58, 4, ['studio']],
  ['localcrafts.example', 'Local Crafts', 'directory', 0.45, 3, ['studio', 'wares']],
  ['goodmakers.example', 'Good Makers', 'directory', 0.62, 1, ['studio', 'wares', 'kits']],
  ['claylist.example', 'Clay List', 'directory', 0.3, 2, ['clay', 'glaze', 'tools', 'studio']],
  ['verlaukeramik.example', 'Verlau Keramik', 'shop', 0.6, 5, all, undefined, 'de'],
  ['tonundfeuer.example', 'Ton und Feuer', 'shop', 0.55, 4, all, undefined, 'de'],
  ['scheibenhaus.example', 'Scheibenhaus', 'shop', 0.45, 3, ['wheels', 'kilns', 'tools'], undefined, 'de'],
  ['toepferbedarf.example', 'Töpferbedarf', 'shop', 0.5, 4, all, undefined, 'de'],
  ['keramikmagazin.example', 'Keramikmagazin', 'magazine', 0.66, 3, all, undefined, 'de'],
  ['handwerkblatt.example', 'Handwerkblatt', 'magazine', 0.7, 2, all, undefined, 'de'],
  ['tonblog.example', 'Tonblog', 'blog', 0.35, 2, all, undefined, 'de'],
  ['toepferforum.example', 'Töpferforum', 'forum', 0.5, 3, all, undefined, 'de'],
  ['basarbucht.example', 'Basarbucht', 'marketplace', 0.85, 3, all, undefined, 'de'],
  ['kurssuche.example', 'Kurssuche', 'directory', 0.5, 2, ['studio'], undefined, 'de'],
  ['werkstattbrunnach.example', 'Werkstatt Brunnach', 'studio', 0.3, 1, ['studio', 'technique'], undefined, 'de'],
  ['kilnsupply.example', 'Kiln Supply', 'shop', 0.5, 3, ['kilns', 'glaze', 'clay']],
  ['throwdown-tools.example', 'Throwdown Tools', 'shop', 0.4, 3, ['tools', 'wheels']],
  ['slabandcoil.example', 'Slab and Coil', 'shop', 0.36, 3, ['clay', 'tools', 'kits', 'technique']],
  ['littlepotters.example', 'Little Potters', 'shop', 0.33, 2, ['kits', 'clay', 'studio']],
]
const blogWords = [
  'mudnotes',
  'quietclay',
  'slowkiln',
  'thumbpot',
  'glazediary',
  'wheelside',
  'saltandslip',
  'claymornings',
  'theashbucket',
  'conesix',
  'mugshelf',
  'backyardkiln',
  'coilclub',
  'dustandwater',
]
const studioWords: Array<[string, string]> = [
  ['harbourpots', 'port-hallow'],
  ['quaystudio', 'port-hallow'],
  ['hallowclayclub', 'port-hallow'],
  ['wexmereclay', 'wexmere'],
  ['millstreetpottery', 'wexmere'],
  ['lindlepots', 'lindle'],
  ['greenlanestudio', 'lindle'],
  ['oxcombekiln', 'oxcombe'],
  ['theclayroom', 'oxcombe'],
]
const networkWords = [
  'glaze-deals-77',
  'clay-bargains-24',
  'best-wheel-offers',
  'kiln-price-hub',
  'pottery-top-10',
  'ceramic-savings',
  'wheel-finder-pro',
  'clay-coupon-club',
  'pot-deals-365',
]

export function makeSites(seed: number, factor: number, today: number): Site[] {
  const rows: Row[] = [...named]
  for (const word of blogWords)
    rows.push([`${word}.example`, word, 'blog', 0, 1.5, ['technique', 'clay', 'glaze', 'wheels', 'kilns', 'wares']])
  for (const [word, city] of studioWords)
    rows.push([`${word}.example`, word, 'studio', 0, 1, ['studio', 'technique', 'wares'], city])
  for (const word of networkWords)
    rows.push([`${word}.example`, word, 'network', 0.12, 1.2, ['wheels', 'kilns', 'clay', 'glaze', 'kits']])
  rows.push(
    ['potteryland.example', 'Pottery Land', 'parked', 0.05, 0.1, []],
    ['claycentral.example', 'Clay Central', 'parked', 0.05, 0.1, []],
  )
  const extraKinds: SiteKind[] = [
    'blog',
    'shop',
    'studio',
    'blog',
    'directory',
    'forum',
    'shop',
    'magazine',
    'blog',
    'studio',
  ]
  const extra = Math.round(rows.length * (factor - 1))
  const names = new Stream(seed, 71)
  for (let i = 0; i < extra; i++) {
    const german = i % 6 === 5
    const word = `${names.pick(['clay', 'mud', 'kiln', 'glaze', 'pot', 'slip', 'wheel', 'ash', 'coil', 'cone'])}${names.pick(['corner', 'yard', 'folk', 'lane', 'works', 'notes', 'barn', 'loft', 'shed', 'press'])}${i}`
    rows.push([
      `${word}.example`,
      word,
      extraKinds[i % extraKinds.length]!,
      0,
      1 + names.next() * 3,
      all,
      i % 7 === 0 && !german ? 'wexmere' : undefined,
      german ? 'de' : 'en',
    ])
  }
  const nets = new Map<string, number>()
  return rows.map(([domain, name, kind, appeal, size, groups, city, language], id) => {
    const stream = new Stream(seed, id, 72)
    const drawn = appeal || Math.min(0.85, 0.08 + 0.5 * stream.next() ** 1.8)
    const years = kind === 'network' ? 2.2 + stream.next() * 1.2 : 1.5 + stream.next() * 9 + drawn * 9
    const registered = Math.floor(today - years * 365)
    const site: Site = {
      id,
      domain,
      name,
      kind,
      size,
      groups: groups ?? all,
      language: language ?? 'en',
      ...(city ? { city } : {}),
      registered,
      appeal: Math.min(0.97, Math.max(0.03, drawn + (kind === 'own' ? 0 : 0.05 * stream.normal()))),
      quality: kind === 'network' ? 0.15 : Math.min(1, Math.max(0.1, 0.55 + 0.18 * stream.normal())),
      mobile: Math.min(1, Math.max(0, 0.65 + 0.25 * stream.normal())),
      host: kind === 'own' || kind === 'rival' || stream.chance(0.55) ? domain : `www.${domain}`,
      secure: kind === 'own' || kind === 'rival' || stream.chance(kind === 'network' || kind === 'blog' ? 0.6 : 0.9),
      owner: kind === 'network' ? 'Offer Group Nine' : kind === 'blog' || kind === 'studio' ? personOf(stream) : name,
      email: kind === 'network' ? 'admin@offer-group.example' : `${kind === 'blog' ? 'me' : 'hello'}@${domain}`,
      phone: `+990 ${200 + stream.int(700)} ${1000 + stream.int(9000)}`,
      street: `${1 + stream.int(140)} ${stream.pick(['Quay Street', 'Mill Lane', 'Harbour Road', 'Kiln Row', 'Bridge Street'])}`,
      ...hosting(seed, id, kind, drawn, nets),
      charset: language === 'de' && stream.chance(0.25) ? 'iso-8859-1' : 'utf-8',
      slowMs: stream.chance(0.03) && kind !== 'own' && kind !== 'rival' ? 250 + stream.int(600) : 0,
    }
    if ((kind === 'magazine' || kind === 'shop' || kind === 'marketplace') && stream.chance(0.5))
      site.secondHost = `${kind === 'shop' ? 'blog' : kind === 'magazine' ? 'archive' : 'sellers'}.${domain}`
    if (domain === 'clayharbour.example') site.secondHost = 'blog.clayharbour.example'
    if (kind === 'own' || domain === 'clayharbour.example' || domain === 'bazaarbay.example') site.alsoLanguage = 'de'
    if (domain === 'claycentral.example') {
      site.redirectsTo = 'potteryparcel.example'
      site.owner = 'Pottery Parcel'
    }
    return site
  })
}

/** Where a site is hosted: well-known ones on addresses of their own, small ones many to one, the network in two subnets. */
function hosting(
  seed: number,
  id: number,
  kind: SiteKind,
  appeal: number,
  nets: Map<string, number>,
): { address: string; nameserver: string } {
  const next = (net: string): number => {
    const used = (nets.get(net) ?? 0) + 1
    nets.set(net, used)
    return used
  }
  if (kind === 'network') {
    const subnet = id % 2 ? '198.19.77' : '198.19.140'
    return { address: `${subnet}.${10 + (next(subnet) >> 1)}`, nameserver: 'ns1.offer-group.example' }
  }
  if (appeal > 0.5 || kind === 'own' || kind === 'rival') {
    const subnet = mix(seed, id, 73) % 250
    return {
      address: `198.18.${subnet}.${1 + (mix(seed, id, 74) % 250)}`,
      nameserver: `ns1.host-${subnet % 7}.example`,
    }
  }
  const provider = Math.floor(unit(seed, id, 75) * 7)
  return {
    address: `198.18.${250 + (provider % 5)}.${1 + ((provider * 34 + Math.floor(next(`shared${provider}`) / 6)) % 250)}`,
    nameserver: `ns1.host-${provider}.example`,
  }
}
