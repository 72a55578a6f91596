import { Stream } from '../random.ts'
import { FavouriteSites } from './favourites.ts'
import { lowerBound, type Page } from './pages.ts'
import type { Head } from './keywords.ts'
import type { Site } from './sites.ts'

export const linkRel = { follow: 0, nofollow: 1, sponsored: 2, ugc: 3 } as const
export const linkKind = { text: 0, image: 1, redirect: 2, frame: 3 } as const
export const linkRegion = { content: 0, footer: 1, sidebar: 2, comment: 3, list: 4 } as const
/** How the anchor is worded: the site's name, the page's phrase, part of it, its address, an empty phrase, its title. */
export const linkWording = { brand: 0, exact: 1, partial: 2, bare: 3, generic: 4, title: 5 } as const

/** What made a link: one of a link on every page, a network of sites, a campaign, or what people link of their own accord. */
export const linkCause = { people: 0, everyPage: 1, network: 2, campaign: 3, bought: 4 } as const

/** Links between sites as parallel arrays; `died` is 0 while the link stands. The other columns hold the codes above. */
export type Links = {
  count: number
  source: Int32Array
  target: Int32Array
  born: Int32Array
  died: Int32Array
  rel: Uint8Array
  kind: Uint8Array
  region: Uint8Array
  wording: Uint8Array
  cause: Uint8Array
}

export const emptyLinks = (capacity: number): Links => ({
  count: 0,
  source: new Int32Array(capacity),
  target: new Int32Array(capacity),
  born: new Int32Array(capacity),
  died: new Int32Array(capacity),
  rel: new Uint8Array(capacity),
  kind: new Uint8Array(capacity),
  region: new Uint8Array(capacity),
  wording: new Uint8Array(capacity),
  cause: new Uint8Array(capacity),
})

type Traits = Partial<Record<'rel' | 'kind' | 'region' | 'wording' | 'died' | 'cause', number>>

/** How readily a kind of site links to others. */
const generous: Record<Site['kind'], number> = {
  own: 1,
  rival: 1,
  shop: 1,
  magazine: 8,
  blog: 9,
  forum: 9,
  directory: 8,
  school: 4,
  public: 3,
  marketplace: 0.6,
  studio: 3,
  network: 2,
  news: 7,
  parked: 0,
}

/**
 * All links up to the day `until`, by processes that leave the traces they leave in life: relations that put one link on every
 * page, a network that links itself and its customers, campaigns whose links come in bursts and partly go again, bought
 * links, directories, posts of users; and for the rest editors who mostly link what others already link (copying model
 * of Kleinberg et al. 1999), day by day, so that what is linked much gets linked more.
 */
export function makeLinks(
  seed: number,
  count: number,
  sites: Site[],
  pages: Page[],
  heads: Head[],
  until: number,
): Links {
  const links = emptyLinks(count)
  const stream = new Stream(seed, 91)
  const pagesOf: Page[][] = sites.map(() => [])
  const byHead = new Map<number, Page[]>()
  for (const page of pages) {
    pagesOf[page.site]!.push(page)
    const key = page.site * 16_384 + page.head
    const list = byHead.get(key)
    if (list) list.push(page)
    else byHead.set(key, [page])
  }
  const favourites = new FavouriteSites(sites, generous, stream)
  const seen = new Set<number>()
  const add = (source: Page, target: Page, born: number, traits: Traits = {}): boolean => {
    if (links.count >= count || source.site === target.site || born > until) return false
    if (born < source.born || born < target.born || (target.gone && target.gone <= born)) return false
    const key = source.id * pages.length + target.id
    if (seen.has(key)) return false
    seen.add(key)
    const i = links.count++
    links.source[i] = source.id
    links.target[i] = target.id
    links.born[i] = born
    links.died[i] = traits.died ?? (stream.chance(0.18) ? born + 30 + stream.int(900) : 0)
    links.rel[i] = traits.rel ?? (stream.chance(0.1) ? linkRel.nofollow : linkRel.follow)
    links.kind[i] =
      traits.kind ??
      (target.oldPath && stream.chance(0.3)
        ? linkKind.redirect
        : stream.chance(0.08)
          ? linkKind.image
          : stream.chance(0.004)
            ? linkKind.frame
            : linkKind.text)
    links.region[i] = traits.region ?? linkRegion.content
    links.cause[i] = traits.cause ?? linkCause.people
    links.wording[i] = traits.wording ?? stream.weighted([36, 10, 14, 12, 10, 14])
    return true
  }
  const pageAt = (site: Site, day: number): Page | undefined => {
    const own = pagesOf[site.id]!
    const page = own[Math.floor(own.length * stream.next() ** 2)]!
    return page.born <= day ? page : own[0]!.born <= day ? own[0] : undefined
  }
  const dayAfter = (day: number, late = 0.85): number => Math.floor(day + (until - 2 - day) * stream.next() ** late)

  // One link on every page of a site: footers, blog rolls, partners.
  const rooms = sites.filter(site => generous[site.kind] > 0 && site.kind !== 'marketplace')
  for (let tries = 0; links.count < count * 0.06 && tries < count; tries++) {
    const from = stream.pick(rooms)
    const to = favourites.of(from, stream)
    if (!to || to.id === from.id || pagesOf[from.id]!.length > 60 + count / 400) continue
    const target = stream.chance(0.6) ? pagesOf[to.id]![0]! : pageAt(to, until)!
    const start = dayAfter(Math.max(pagesOf[from.id]![0]!.born, target.born))
    const end = stream.chance(0.3) ? start + 100 + stream.int(700) : 0
    const region = stream.chance(0.5) ? linkRegion.footer : linkRegion.sidebar
    for (const page of pagesOf[from.id]!) {
      const born = Math.max(start, page.born)
      if (!end || born < end)
        add(page, target, born, {
          region,
          died: end,
          wording: linkWording.brand,
          kind: linkKind.text,
          cause: linkCause.everyPage,
        })
    }
  }
  // The network: among itself and to three customers, with the anchor that is to rank.
  const network = sites.filter(site => site.kind === 'network')
  const customers = sites.filter(site =>
    ['potteryparcel.example', 'kilnsupply.example', 'scheibenhaus.example'].includes(site.domain),
  )
  for (let made = 0, tries = 0; made < count * 0.035 && tries < count; tries++) {
    const source = stream.pick(pagesOf[stream.pick(network).id]!)
    const to = stream.chance(0.55) ? stream.pick(network) : stream.pick(customers)
    const target = pageAt(to, until)
    if (
      target &&
      // Soon after the page is made: that is what it is made for.
      add(source, target, Math.max(source.born, target.born) + Math.floor(60 * stream.next()), {
        rel: 0,
        wording: stream.chance(0.7) ? 1 : 2,
        cause: linkCause.network,
      })
    )
      made++
  }
  const writers = pages.filter(page => ['blog', 'magazine', 'news', 'forum'].includes(sites[page.site]!.kind))
  const sellers = sites.filter(site => ['own', 'rival', 'shop', 'magazine', 'marketplace'].includes(site.kind))
  // Campaigns: one page gains many links within weeks, and loses a third of them within months.
  for (let campaign = 0; campaign < Math.max(4, Math.round(count / 5_000)); campaign++) {
    const target = stream.pick(pagesOf[stream.pick(sellers).id]!)
    const start = Math.floor(Math.max(target.born + 5, until - 365 * 5 * stream.next()))
    const size = 30 + stream.int(70)
    for (let i = 0; i < size; i++) {
      const born = start + Math.floor(-Math.log(1 - stream.next()) * 7)
      const source = stream.pick(writers)
      if (source.language !== target.language) continue
      add(source, target, born, {
        died: stream.chance(0.33) ? born + 40 + stream.int(200) : 0,
        wording: stream.weighted([30, 4, 6, 10, 10, 40]),
        cause: linkCause.campaign,
      })
    }
  }
  // Bought links: steady, exact, marked as bought less than half the time.
  const buyers = sites.filter(site => site.kind === 'rival' || site.kind === 'shop').filter(() => stream.chance(0.5))
  for (let made = 0, tries = 0; buyers.length && made < count * 0.02 && tries < count; tries++) {
    const source = stream.pick(writers)
    const own = pagesOf[stream.pick(buyers).id]!
    const target = stream.pick(own.slice(0, 12))
    if (
      source.language === target.language &&
      add(source, target, dayAfter(Math.max(source.born, target.born)), {
        rel: stream.chance(0.4) ? linkRel.sponsored : linkRel.follow,
        wording: stream.chance(0.75) ? linkWording.exact : linkWording.partial,
        cause: linkCause.bought,
      })
    )
      made++
  }

  // The rest day by day: who links when is drawn first, what is linked then in the order of days.
  const sources = pages.filter(page => generous[sites[page.site]!.kind] > 0)
  const weights = Float64Array.from(sources, page => generous[sites[page.site]!.kind])
  for (let i = 1; i < weights.length; i++) weights[i]! += weights[i - 1]!
  const total = weights.at(-1) ?? 0
  const earlier = new Map<string, number[]>()
  for (let batch = 0; links.count < count && batch < 12; batch++) {
    const events = Array.from({ length: Math.ceil((count - links.count) * 1.15) }, () => {
      const source = sources[lowerBound(weights, stream.next() * total)]!
      return { source, day: dayAfter(source.born) }
    }).sort((a, b) => a.day - b.day || a.source.id - b.source.id)
    for (const { source, day } of events) {
      const from = sites[source.site]!
      const key = `${source.language}:${source.head < 0 ? 'home' : heads[source.head]!.group}`
      let history = earlier.get(key)
      if (!history) earlier.set(key, (history = []))
      const kind = from.kind
      let target: Page | undefined
      if (history.length && stream.chance(kind === 'directory' ? 0.2 : 0.56)) {
        const copied = pages[history[stream.int(history.length)]!]!
        if (copied.site !== source.site && (favourites.has(from, copied.site) || stream.chance(0.2))) target = copied
      }
      if (!target) {
        const to = favourites.of(from, stream)
        if (!to || to.id === from.id) continue
        const subject = byHead.get(to.id * 16_384 + source.head)?.filter(page => page.born <= day)
        target =
          stream.chance(kind === 'directory' ? 0.6 : 0.09) || !pagesOf[to.id]!.length
            ? pagesOf[to.id]![0]
            : subject?.length && stream.chance(0.8)
              ? subject[Math.floor(subject.length * stream.next() ** 1.5)]
              : pageAt(to, day)
      }
      if (!target) continue
      const traits: Traits =
        kind === 'forum' || kind === 'marketplace'
          ? {
              rel: stream.chance(0.7) ? linkRel.ugc : linkRel.follow,
              region: linkRegion.comment,
              wording: stream.weighted([12, 4, 10, 45, 14, 15]),
            }
          : kind === 'directory'
            ? { region: linkRegion.list, wording: stream.chance(0.85) ? linkWording.brand : linkWording.bare }
            : {}
      if (add(source, target, day, traits)) history.push(target.id)
    }
  }
  return links
}

/** Indexes of links by one end, as offsets into `order`. */
export function indexLinks(
  ends: Int32Array,
  count: number,
  pageCount: number,
): { offsets: Int32Array; order: Int32Array } {
  const offsets = new Int32Array(pageCount + 1)
  for (let i = 0; i < count; i++) offsets[ends[i]! + 1]!++
  for (let p = 0; p < pageCount; p++) offsets[p + 1]! += offsets[p]!
  const order = new Int32Array(count)
  const next = offsets.slice()
  for (let i = 0; i < count; i++) order[next[ends[i]!]!++] = i
  return { offsets, order }
}
