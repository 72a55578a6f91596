import { Stream } from '../random.ts'
import { type Aspect, goesWith, type Head, plural } from './keywords.ts'
import type { Site } from './sites.ts'
import { vocabulary } from './vocabulary.ts'

export type PageKind = 'home' | 'category' | 'product' | 'article' | 'thread' | 'listing'
export type Page = {
  id: number
  site: number
  kind: PageKind
  /** −1 on home pages. */
  head: number
  aspect: number
  /** Further aspects that the text covers. */
  also: number[]
  path: string
  title: string
  description: string
  born: number
  updated: number
  quality: number
  /** How the title words the need: which of the aspect's forms. */
  form: number
}

const upper = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1)
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
const folder: Record<PageKind, string> = {
  home: '',
  category: 'shop',
  product: 'item',
  article: 'guides',
  thread: 't',
  listing: 'list',
}

export function makePages(
  seed: number,
  count: number,
  sites: Site[],
  heads: Head[],
  aspects: Aspect[],
  today: number,
): Page[] {
  const pages: Page[] = []
  const total = sites.reduce((sum, site) => sum + site.size, 0)
  for (const site of sites) {
    const stream = new Stream(seed, site.id, 81)
    const words = vocabulary[site.language]
    pages.push({
      id: pages.length,
      site: site.id,
      kind: 'home',
      head: -1,
      aspect: -1,
      also: [],
      path: '/',
      title: `${site.name} – ${site.language === 'de' ? 'Keramik' : 'pottery'}`,
      description: `${site.name}: ${site.groups.join(', ')}`,
      born: site.registered + 20,
      updated: today - stream.int(60),
      quality: site.quality,
      form: 0,
    })
    const topics = heads.filter(head => head.language === site.language && site.groups.includes(head.group))
    const wanted = Math.max(1, Math.round((count * site.size) / total)) - 1
    if (!topics.length) continue
    const weights = topics.map(head => head.weight ** 0.45 * (0.3 + stream.next()))
    const weightSum = weights.reduce((a, b) => a + b, 0)
    const used = new Set<string>()
    for (let made = 0, tries = 0; made < wanted && tries < wanted * 6; tries++) {
      let at = stream.next() * weightSum
      const topic = topics[weights.findIndex(weight => (at -= weight) < 0)] ?? topics[0]!
      const fitting = aspects.filter(aspect => goesWith(topic, aspect))
      const likes = fitting.map(
        aspect => aspect.intent.reduce((sum, share, i) => sum + share * taste[site.kind][i]!, 0) * aspect.share ** 0.5,
      )
      let draw = stream.next() * likes.reduce((a, b) => a + b, 0)
      const aspect = fitting[likes.findIndex(like => (draw -= like) < 0)]
      if (!aspect) continue
      const key = `${topic.id}:${aspect.id}`
      if (used.has(key) && site.kind !== 'forum' && site.kind !== 'marketplace') continue
      used.add(key)
      const form = stream.int(aspect.forms.length)
      const mates = topics.filter(other => other.group === topic.group && other.id !== topic.id)
      const other = mates.length ? mates[(topic.id * 7 + aspect.id) % mates.length]!.name : 'clay'
      const city = site.city?.replace('-', ' ') ?? stream.pick(words.cities)
      const phrase = aspect.forms[form]!.replaceAll('{s}', plural(topic.name))
        .replaceAll('{o}', other)
        .replaceAll('{c}', city)
        .replaceAll('{b}', stream.pick(words.brands))
        .replaceAll('{}', topic.name)
      const kind = kindOf(site, aspect.intent)
      const tail = stream.pick(
        site.language === 'de'
          ? ['Ratgeber', 'im Überblick', 'aus der Werkstatt', site.name]
          : ['a plain guide', 'what to know', 'from our bench', 'tried and noted', site.name, site.name],
      )
      // Some pages treat one need, others half the subject.
      const coverage = 0.12 + 0.6 * stream.next() ** 1.2
      const born = Math.floor(today - 20 - (today - site.registered - 30) * stream.next() ** 0.8)
      pages.push({
        id: pages.length,
        site: site.id,
        kind,
        head: topic.id,
        aspect: aspect.id,
        form,
        also: fitting
          .filter(candidate => candidate.id !== aspect.id && stream.chance(coverage))
          .map(candidate => candidate.id),
        path: `/${folder[kind]}/${slug(phrase)}${used.has(`${key}:${phrase}`) || kind === 'thread' || site.kind === 'marketplace' ? `-${pages.length}` : ''}`,
        title: `${upper(phrase)} – ${tail}`,
        description:
          site.language === 'de'
            ? `${upper(phrase)}: was zählt, was es kostet und was wir in der Werkstatt gelernt haben.`
            : `${upper(phrase)}: ${stream.pick(['what matters, what it costs and what we learnt at the bench.', 'notes from years of clay under the nails.', 'sizes, prices and honest advice.', 'step by step, with the mistakes left in.'])}`,
        born,
        updated: Math.min(today - 1, born + Math.floor((today - born) * stream.next())),
        quality: Math.min(1, Math.max(0.05, site.quality + 0.16 * stream.normal())),
      })
      used.add(`${key}:${phrase}`)
      made++
    }
  }
  return pages
}
