import { Stream, unit } from '../random.ts'
import { type Aspect, fillForm, goesWith, type Head, matesOf, otherOf } from './keywords.ts'
import type { Site } from './sites.ts'
import { type Language, vocabulary } from './vocabulary.ts'

export type PageKind = 'home' | 'category' | 'product' | 'article' | 'thread' | 'listing'
export type Page = {
  id: number
  site: number
  kind: PageKind
  language: Language
  /** −1 on home pages. */
  head: number
  aspect: number
  /** Further aspects that the text covers. */
  also: number[]
  /** 1 when it lies on the site's second host. */
  onSecondHost: boolean
  path: string
  /** The wording of the need that the page is written around. */
  phrase: string
  title: string
  description: string
  born: number
  updated: number
  /** Day it was taken down (404 or 410 from then on), 0 while it stands. */
  gone: number
  /** An older path that is redirected here. */
  oldPath?: string
  quality: number
  /** The page whose text this one repeats with small changes, −1 for own text. */
  copyOf: number
  /** The same page in the other language. */
  twin?: number
  /** Text of a page that was published through the truth port. */
  text?: string
}

export const upper = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1)
export const slug = (text: string): string =>
  text
    .normalize('NFKD')
    .replace(/ß/g, 'ss')
    .replace(/[^\x20-\x7e]/g, '')
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-|-$/g, '')

/** Which needs a kind of site writes about: weights of learn, compare, buy, go to a site, find nearby. */
const taste: Record<Site['kind'], number[]> = {
  own: [0.5, 0.5, 1, 0, 0.5],
  rival: [0.5, 0.5, 1, 0, 0.2],
  shop: [0.3, 0.4, 1, 0, 0.1],
  magazine: [0.9, 0.9, 0.05, 0, 0.1],
  blog: [1, 0.5, 0.02, 0, 0.05],
  forum: [1, 0.6, 0.1, 0, 0.1],
  directory: [0, 0.2, 0.2, 0, 1],
  school: [1, 0.1, 0, 0, 0.4],
  public: [1, 0, 0, 0, 0.4],
  marketplace: [0, 0.2, 1, 0, 0.1],
  studio: [0.3, 0.05, 0.2, 0.2, 1],
  network: [0.1, 0.8, 0.8, 0, 0.1],
  news: [0.4, 0.2, 0, 0, 0.7],
  parked: [0, 0, 0, 0, 0],
}
const kindOf = (site: Site, intent: number[]): PageKind => {
  if (site.kind === 'forum') return 'thread'
  if (site.kind === 'directory') return 'listing'
  if (['magazine', 'blog', 'school', 'public', 'news', 'network'].includes(site.kind)) return 'article'
  if (intent[0]! > 0.5) return 'article'
  return intent[2]! > 0.65 ? 'product' : 'category'
}
const folder: Record<Language, Record<PageKind, string>> = {
  en: { home: '', category: 'shop', product: 'item', article: 'guides', thread: 't', listing: 'list' },
  de: {
    home: '',
    category: 'sortiment',
    product: 'artikel',
    article: 'ratgeber',
    thread: 'thema',
    listing: 'verzeichnis',
  },
}
const tails: Record<Language, string[]> = {
  en: ['a plain guide', 'what to know', 'from our bench', 'tried and noted'],
  de: ['Ratgeber', 'im Überblick', 'aus der Werkstatt'],
}
/** Titles that name the subject but not the need, as many editors like them. */
const loose: Record<Language, string[]> = {
  en: ['Everything we know about {h}', '{h}: notes from the bench', 'Living with {h}', 'A closer look at {h}'],
  de: ['Alles über {h}', '{h}: Notizen aus der Werkstatt', 'Ein genauer Blick auf {h}'],
}
const descriptions: Record<Language, string[]> = {
  en: [
    'what matters, what it costs and what we learnt at the bench.',
    'notes from years of clay under the nails.',
    'sizes, prices and honest advice.',
    'step by step, with the mistakes left in.',
    'compared side by side, with pictures of the results.',
    'questions that beginners ask, answered in plain words.',
  ],
  de: [
    'was zählt, was es kostet und was wir in der Werkstatt gelernt haben.',
    'Größen, Preise und ehrlicher Rat.',
    'Schritt für Schritt, mit allen Fehlern.',
  ],
}

type Maker = { seed: number; heads: Head[]; aspects: Aspect[]; mates: Head[][]; until: number; pages: Page[] }

/** All pages of the world up to the day `until`, site by site: a home page, then pages about needs that the site likes and people search for. */
export function makePages(
  seed: number,
  count: number,
  sites: Site[],
  heads: Head[],
  aspects: Aspect[],
  until: number,
): Page[] {
  const maker: Maker = { seed, heads, aspects, mates: matesOf(heads), until, pages: [] }
  const total = sites.reduce((sum, site) => sum + site.size, 0)
  for (const site of sites) {
    const stream = new Stream(seed, site.id, 81)
    maker.pages.push(homePage(maker.pages.length, site, until - stream.int(60)))
    const wanted = Math.max(1, Math.round((count * site.size) / total)) - 1
    const foreign = site.alsoLanguage ? Math.round(wanted * 0.18) : 0
    fillSite(maker, site, site.language, wanted - foreign, stream)
    if (site.alsoLanguage) fillSite(maker, site, site.alsoLanguage, foreign, stream)
  }
  copyTexts(maker, sites)
  return maker.pages
}

const homePage = (id: number, site: Site, updated: number): Page => ({
  id,
  site: site.id,
  kind: 'home',
  language: site.language,
  head: -1,
  aspect: -1,
  also: [],
  onSecondHost: false,
  path: '/',
  phrase: site.name,
  title: `${site.name} – ${site.language === 'de' ? 'Keramik' : 'pottery'}`,
  description:
    site.language === 'de'
      ? `${site.name}: alles rund um Ton, Glasur und Ofen.`
      : `${site.name}: ${site.groups.join(', ')}`,
  born: site.registered + 20,
  updated,
  gone: 0,
  quality: site.quality,
  copyOf: -1,
})

function fillSite(maker: Maker, site: Site, language: Language, wanted: number, stream: Stream): void {
  const { heads, aspects, pages, until } = maker
  const topics = heads.filter(
    head => head.language === language && head.site === undefined && site.groups.includes(head.group),
  )
  if (!topics.length || wanted <= 0) return
  const weights = Float64Array.from(topics, head => head.weight ** 0.8 * (0.25 + stream.next()))
  for (let i = 1; i < weights.length; i++) weights[i]! += weights[i - 1]!
  const fittingOf = new Map<number, { fitting: Aspect[]; likes: number[] }>()
  const used = new Set<string>()
  const first = pages.length
  for (let made = 0, tries = 0; made < wanted && tries < wanted * 8; tries++) {
    const topic = topics[lowerBound(weights, stream.next() * weights.at(-1)!)]!
    let choice = fittingOf.get(topic.id)
    if (!choice) {
      const fitting = aspects.filter(aspect => goesWith(topic, aspect))
      const likes = fitting.map(
        aspect => aspect.intent.reduce((sum, share, i) => sum + share * taste[site.kind][i]!, 0) * aspect.share ** 0.75,
      )
      fittingOf.set(topic.id, (choice = { fitting, likes }))
    }
    const aspect = choice.fitting[stream.weighted(choice.likes)]
    if (!aspect) continue
    const key = `${topic.id}:${aspect.id}`
    if (used.has(key) && site.kind !== 'forum' && site.kind !== 'marketplace') continue
    used.add(key)
    const page = onePage(maker, site, topic, aspect, choice.fitting, stream)
    if (used.has(page.path) || page.kind === 'thread' || site.kind === 'marketplace') page.path += `-${page.id}`
    used.add(page.path)
    pages.push(page)
    made++
  }
  if (language === site.alsoLanguage) pairTwins(maker, site, first)
  // A page that was taken down some day, and pages that were moved.
  for (const page of pages.slice(first)) {
    const age = until - page.born
    if (stream.chance(site.kind === 'own' ? 0.01 : 0.05) && age > 200)
      page.gone = page.born + 100 + stream.int(age - 100)
    if (stream.chance(0.06)) page.oldPath = `/old/${page.id}.html`
  }
}

function onePage(maker: Maker, site: Site, topic: Head, aspect: Aspect, fitting: Aspect[], stream: Stream): Page {
  const { pages, until } = maker
  const { language } = topic
  const words = vocabulary[language]
  const phrase = fillForm(
    stream.pick(aspect.forms),
    topic,
    otherOf(maker.mates[topic.id]!, topic, aspect),
    language === site.language && site.city ? site.city.replace('-', ' ') : stream.pick(words.cities),
    stream.pick(words.brands),
  )
  const kind = kindOf(site, aspect.intent)
  const tail = stream.chance(0.4) ? site.name : stream.pick(tails[language])
  // Some pages treat one need, others half the subject.
  const coverage = 0.12 + 0.55 * stream.next() ** 1.3
  const born = Math.floor(until - 20 - (until - site.registered - 30) * stream.next() ** 0.8)
  const onSecondHost =
    site.secondHost !== undefined && language === site.language && (kind === 'article' || stream.chance(0.2))
  const stem = `${language === site.language ? '' : `/${language}`}/${folder[language][kind]}/${slug(phrase)}`
  const title = stream.chance(site.kind === 'magazine' || site.kind === 'blog' ? 0.3 : 0.12)
    ? stream.pick(loose[language]).replace('{h}', topic.name)
    : stream.chance(0.12)
      ? `${upper(topic.name)} – ${tail}`
      : `${upper(phrase)} – ${tail}`
  return {
    id: pages.length,
    site: site.id,
    kind,
    language,
    head: topic.id,
    aspect: aspect.id,
    also: fitting
      .filter(candidate => candidate.id !== aspect.id && stream.chance(coverage))
      .map(candidate => candidate.id),
    onSecondHost,
    path: stem,
    phrase,
    title: upper(title),
    description: `${upper(phrase)}: ${stream.pick(descriptions[language])}`,
    born,
    updated: Math.min(until - 1, born + Math.floor((until - born) * stream.next())),
    gone: 0,
    quality: Math.min(1, Math.max(0.05, site.quality + 0.16 * stream.normal())),
    copyOf: -1,
  }
}

/** Ties pages of the second language to those in the first about the same thing and need, for hreflang. */
function pairTwins(maker: Maker, site: Site, first: number): void {
  const { pages, heads, aspects } = maker
  const other = new Map(Object.entries(vocabulary.de.pairs ?? {}).map(([en, de]) => [de, en]))
  const own = new Map<string, Page>()
  for (let i = first - 1; i >= 0 && pages[i]!.site === site.id; i--) {
    const page = pages[i]!
    if (page.head >= 0) own.set(`${heads[page.head]!.name}:${aspects[page.aspect]!.name}`, page)
  }
  for (const page of pages.slice(first)) {
    const twin = own.get(`${other.get(heads[page.head]!.name) ?? ''}:${aspects[page.aspect]!.name}`)
    if (!twin || twin.twin !== undefined) continue
    page.twin = twin.id
    twin.twin = page.id
  }
}

/** True near-duplicates: the network repeats itself, marketplaces repeat shops' product texts. Nowhere else. */
function copyTexts({ seed, pages }: Maker, sites: Site[]): void {
  const originals = new Map<string, Page>()
  for (const page of pages) {
    const kind = sites[page.site]!.kind
    if (page.head < 0 || (kind !== 'shop' && kind !== 'network')) continue
    if (kind === 'shop' && page.kind !== 'product') continue
    const key = `${kind}:${page.head}`
    const original = originals.get(key)
    if (!original) originals.set(key, page)
    else if (kind === 'network' && original.site !== page.site && unit(seed, page.id, 84) < 0.6)
      page.copyOf = original.id
  }
  for (const page of pages)
    if (page.kind === 'product' && sites[page.site]!.kind === 'marketplace' && unit(seed, page.id, 85) < 0.18)
      page.copyOf = originals.get(`shop:${page.head}`)?.id ?? -1
}

/** First index whose value is at least `wanted`, in a rising list. */
export function lowerBound(values: ArrayLike<number>, wanted: number): number {
  let low = 0
  let high = values.length - 1
  while (low < high) {
    const mid = (low + high) >> 1
    if (values[mid]! < wanted) low = mid + 1
    else high = mid
  }
  return low
}
