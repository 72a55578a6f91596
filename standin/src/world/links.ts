import { Stream } from '../random.ts'
import type { Page } from './pages.ts'
import type { Site } from './sites.ts'

/** Links between sites as parallel arrays; `died` is 0 while the link stands. `rel`: 0 follow, 1 nofollow, 2 paid, 3 by users. */
export type Links = {
  count: number
  source: Int32Array
  target: Int32Array
  born: Int32Array
  died: Int32Array
  rel: Uint8Array
}

/**
 * Preferential attachment: a new link goes to a site with a chance that grows with its appeal and with what it already
 * has, on a page of the linking page's subject where there is one. The network links itself and its customers.
 */
export function makeLinks(seed: number, count: number, sites: Site[], pages: Page[], today: number): Links {
  const links: Links = {
    count: 0,
    source: new Int32Array(count),
    target: new Int32Array(count),
    born: new Int32Array(count),
    died: new Int32Array(count),
    rel: new Uint8Array(count),
  }
  const stream = new Stream(seed, 91)
  const pagesOf = sites.map(site => pages.filter(page => page.site === site.id))
  const byHead = new Map<string, Page[]>()
  for (const page of pages) {
    const key = `${page.site}:${page.head}`
    byHead.set(key, [...(byHead.get(key) ?? []), page])
  }
  // An urn of site ids: each link puts its target back once more.
  const urn = new Int32Array(count + sites.length * 48)
  let inUrn = 0
  for (const site of sites) for (let i = 0; i < 1 + Math.round(6 * site.appeal); i++) urn[inUrn++] = site.id
  const generous: Record<Site['kind'], number> = {
    own: 1,
    rival: 1,
    shop: 1,
    magazine: 8,
    blog: 9,
    forum: 9,
    directory: 12,
    school: 4,
    public: 3,
    marketplace: 0.6,
    studio: 3,
    network: 9,
    news: 7,
    parked: 0,
  }
  const sources = pages.filter(page => generous[sites[page.site]!.kind] > 0)
  const cumulative = new Float64Array(sources.length)
  let sum = 0
  sources.forEach((page, i) => {
    sum += generous[sites[page.site]!.kind]
    cumulative[i] = sum
  })
  const network = sites.filter(site => site.kind === 'network')
  const customers = sites.filter(site =>
    ['potteryparcel.example', 'kilnsupply.example', 'scheibenhaus.example'].includes(site.domain),
  )
  // Whom a site links to at all: few sites link to everybody. The set grows with the size of the web, drawn by appeal.
  const favourites = sites.map(from => {
    const size = Math.round((4 + generous[from.kind] * 1.6) * (0.6 + 0.8 * stream.next()))
    const set: Site[] = []
    for (let tries = 0; set.length < size && tries < size * 60; tries++) {
      const drawn = stream.chance(0.3) ? stream.pick(sites) : sites[urn[stream.int(inUrn)]!]!
      if (drawn.id === from.id || drawn.kind === 'parked' || set.includes(drawn)) continue
      const same = drawn.language === from.language ? 1 : 0.08
      if (stream.next() < drawn.appeal ** 1.6 * same * (drawn.kind === 'network' ? 0.2 : 1)) {
        set.push(drawn)
        urn[inUrn++] = drawn.id
      }
    }
    return set
  })
  while (links.count < count) {
    const at = stream.next() * sum
    let low = 0
    let high = sources.length - 1
    while (low < high) {
      const mid = (low + high) >> 1
      if (cumulative[mid]! < at) low = mid + 1
      else high = mid
    }
    const source = sources[low]!
    const from = sites[source.site]!
    let to: Site | undefined
    if (from.kind === 'network' && stream.chance(0.8))
      to = stream.chance(0.55) ? stream.pick(network) : stream.pick(customers)
    else {
      const set = favourites[from.id]!
      // The first of its favourites gets most of a site's links.
      to = set[Math.floor(set.length * stream.next() ** 1.6)]
    }
    if (!to || to.id === from.id) continue
    const subject = byHead.get(`${to.id}:${source.head}`)
    const own = pagesOf[to.id]!
    const target =
      stream.chance(0.4) || !own.length
        ? own[0]!
        : subject && stream.chance(0.75)
          ? stream.pick(subject)
          : own[Math.floor(own.length * stream.next() ** 2)]!
    const earliest = Math.max(source.born, target.born)
    const born = Math.floor(earliest + (today - 2 - earliest) * stream.next() ** 0.85)
    const i = links.count++
    links.source[i] = source.id
    links.target[i] = target.id
    links.born[i] = born
    if (stream.chance(0.18)) links.died[i] = Math.min(today + 400, born + 30 + stream.int(900))
    links.rel[i] =
      from.kind === 'forum' || from.kind === 'marketplace'
        ? stream.chance(0.7)
          ? 3
          : 0
        : stream.chance(0.14)
          ? 1
          : stream.chance(0.03)
            ? 2
            : 0
    urn[inUrn++] = to.id
  }
  return links
}

/** Indexes of links by target page, as offsets into `order`. */
export function indexByTarget(links: Links, pageCount: number): { offsets: Int32Array; order: Int32Array } {
  const offsets = new Int32Array(pageCount + 1)
  for (let i = 0; i < links.count; i++) offsets[links.target[i]! + 1]!++
  for (let p = 0; p < pageCount; p++) offsets[p + 1]! += offsets[p]!
  const order = new Int32Array(links.count)
  const next = offsets.slice()
  for (let i = 0; i < links.count; i++) order[next[links.target[i]!]!++] = i
  return { offsets, order }
}
