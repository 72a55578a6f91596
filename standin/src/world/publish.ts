import { needsIn, understand } from '../rank/understand.ts'
import { indexLinks, type Links, linkKind, linkRegion, linkRel, linkWording } from './links.ts'
import { type Page, type PageKind, slug } from './pages.ts'
import { addressOf, placePage, type World } from './world.ts'

/** A page that somebody puts on a site of the world. `links` are addresses of pages that link to it from its first day. */
export type Publication = {
  site: string
  title: string
  text: string
  description?: string
  kind?: PageKind
  links?: string[]
  /** Day number of its first day. */
  day: number
}

const grown = <T extends Int32Array | Uint8Array>(old: T, size: number): T => {
  const larger = new (old.constructor as new (size: number) => T)(size)
  larger.set(old as never)
  return larger
}
function roomFor(links: Links, more: number): void {
  const size = links.count + more
  if (size <= links.source.length) return
  for (const name of ['source', 'target', 'born', 'died'] as const) links[name] = grown(links[name], size + 1_000)
  for (const name of ['rel', 'kind', 'region', 'wording', 'cause'] as const)
    links[name] = grown(links[name], size + 1_000)
}

/** What pages and links there were before anything was published. */
const originals = new WeakMap<World, { pages: number; links: number }>()

/** Puts pages on sites; the engines rank them from their day on by what their title and text speak of. Gives their addresses. */
export function publish(world: World, publications: Publication[]): string[] {
  if (!originals.has(world)) originals.set(world, { pages: world.pages.length, links: world.links.count })
  const made = publications.map(publication => {
    const site = world.byDomain.get(publication.site)
    if (!site) throw new Error(`There is no site ${publication.site}`)
    const language = site.language
    const meant = understand(world, publication.title, language)
    if (!meant) throw new Error(`The engines make nothing of the title "${publication.title}"`)
    const sources = (publication.links ?? []).map(address => {
      const source = world.pageByAddress.get(address)
      if (!source) throw new Error(`There is no page ${address} to link from`)
      return source
    })
    return { publication, site, language, meant, sources }
  })
  const addresses = made.map(({ publication, site, language, meant, sources }) => {
    const { links } = world
    const words = publication.text.split(/\s+/).length
    const page: Page = {
      id: world.pages.length,
      site: site.id,
      kind: publication.kind ?? (meant.intent[2]! > 0.65 ? 'product' : meant.intent[0]! > 0.5 ? 'article' : 'category'),
      language,
      head: meant.head,
      aspect: meant.aspect,
      also: needsIn(world, publication.text, meant.head, language).filter(id => id !== meant.aspect),
      onSecondHost: false,
      path: `/new/${slug(publication.title)}-${world.pages.length}`,
      phrase: meant.phrase,
      title: publication.title,
      description: publication.description ?? publication.text.slice(0, 150),
      born: publication.day,
      updated: publication.day,
      gone: 0,
      // A thin text is a poor page, wherever it stands.
      quality: site.quality * Math.min(1, 0.35 + words / 500),
      copyOf: -1,
      text: publication.text,
    }
    world.pages.push(page)
    placePage(world, page)
    roomFor(links, sources.length)
    for (const source of sources) {
      const i = links.count++
      links.source[i] = source.id
      links.target[i] = page.id
      links.born[i] = Math.max(publication.day, source.born)
      links.died[i] = 0
      links.rel[i] = linkRel.follow
      links.kind[i] = linkKind.text
      links.region[i] = linkRegion.content
      links.wording[i] = linkWording.title
    }
    return addressOf(world, page)
  })
  reindex(world)
  return addresses
}

/** Takes down everything that was published. */
export function unpublish(world: World): void {
  const before = originals.get(world)
  if (!before) return
  for (const page of world.pages.splice(before.pages)) {
    world.pageByAddress.delete(addressOf(world, page))
    for (const list of [world.pagesOfSite[page.site]!, world.pagesOfHead[page.head]!]) {
      const at = list.indexOf(page)
      if (at >= 0) list.splice(at, 1)
    }
  }
  world.links.count = before.links
  reindex(world)
}

function reindex(world: World): void {
  const { links, pages } = world
  world.linksByTarget = indexLinks(links.target, links.count, pages.length)
  world.linksBySource = indexLinks(links.source, links.count, pages.length)
  world.edition++
}
