import { isoOf, monthIso, monthOf } from '../calendar.ts'
import { unit } from '../random.ts'
import { trunk, understand } from '../rank/understand.ts'
import { advertisersOf } from '../world/advertisers.ts'
import { trueSearches } from '../world/demand.ts'
import type { Keyword } from '../world/keywords.ts'
import { type Language, places } from '../world/vocabulary.ts'
import { addressOf, type World } from '../world/world.ts'

const idle = new Set([
  'a',
  'an',
  'the',
  'for',
  'in',
  'of',
  'with',
  'to',
  'is',
  'are',
  'on',
  'für',
  'der',
  'die',
  'das',
  'in',
  'und',
])

/** Bands that the service rounds to: two leading figures, about 22 % apart. */
const bands = Array.from({ length: 60 }, (_, k) => {
  const value = 10 * 1.22 ** k
  const step = 10 ** Math.max(1, Math.floor(Math.log10(value)) - 1)
  return Math.round(value / step) * step
}).filter((value, i, list) => list.indexOf(value) === i)
/** The band nearest by ratio, by bisection. */
const toBand = (value: number): number => {
  if (value < 7) return 0
  let low = 0
  let high = bands.length - 1
  while (high - low > 1) {
    const middle = (low + high) >> 1
    if (bands[middle]! <= value) low = middle
    else high = middle
  }
  return value / bands[low]! < bands[high]! / value ? bands[low]! : bands[high]!
}

/** What the service takes for close variants of one keyword: the same words whatever their order, number and ending. */
export const familyOf = (phrase: string, language: Language): string =>
  `${language}:${[
    ...new Set(
      phrase
        .split(' ')
        .filter(word => !idle.has(word))
        .map(trunk),
    ),
  ]
    .sort()
    .join(' ')}`

/** A phrase of the world with a space at either end, so that whole words are found in it. */
type Holder = { keyword: Keyword; text: string }

export class AdsData {
  readonly #holders = new Map<string, Holder[]>()
  readonly #means = new Map<number, Float64Array>()
  readonly #families = new Map<string, Keyword[]>()
  readonly #orders = new Map<string, Array<[number, number]>>()
  readonly #world: World
  constructor(world: World) {
    this.#world = world
    for (const keyword of world.keywords) {
      const key = familyOf(keyword.phrase, keyword.language)
      this.#families.set(key, [...(this.#families.get(key) ?? []), keyword])
      for (const word of new Set(keyword.phrase.split(' '))) {
        const wordKey = `${keyword.language}:${word}`
        const list = this.#holders.get(wordKey)
        const holder = { keyword, text: ` ${keyword.phrase} ` }
        if (list) list.push(holder)
        else this.#holders.set(wordKey, [holder])
      }
    }
  }
  /** Mean true searches of every keyword over the twelve months up to one, in the country of its language. */
  #meansTo(last: number): Float64Array {
    let means = this.#means.get(last)
    if (!means) {
      means = new Float64Array(this.#world.keywords.length)
      for (const [i, keyword] of this.#world.keywords.entries())
        for (let month = last - 11; month <= last; month++) means[i]! += trueSearches(this.#world, keyword, month) / 12
      this.#means.set(last, means)
    }
    return means
  }
  /** Searches of phrases that hold a text, by how they hold it. */
  #match(text: string, language: Language, last: number, share: number): object {
    const means = this.#meansTo(last)
    const words = text.split(' ').map(word => this.#holders.get(`${language}:${word}`) ?? [])
    const rarest = words.reduce((best, list) => (list.length < best.length ? list : best))
    const parts = text.split(' ').map(word => ` ${word} `)
    const total = { exact: 0, phrase: 0, broad: 0 }
    for (const { keyword, text: whole } of rarest) {
      if (!parts.every(part => whole.includes(part))) continue
      const searches = means[keyword.id]! * share
      total.broad += searches
      if (whole.includes(` ${text} `)) total.phrase += searches
      if (whole === ` ${text} `) total.exact += searches
    }
    return { exact: toBand(total.exact), phrase: toBand(total.phrase), broad: toBand(total.broad) }
  }
  /** Figures of one keyword as the service would give them, or null where it has none. Members of a family get one figure. */
  figures(phrase: string, place: string, language: Language, day: number): object | null {
    const text = phrase.toLowerCase().replace(/\s+/g, ' ').trim()
    const family = this.#families.get(familyOf(text, language))
    if (!family || !this.#world.byPhrase.has(text)) return null
    const lead = family.reduce((best, keyword) => (keyword.base > best.base ? keyword : best))
    if (unit(this.#world.seed, lead.id, 101) < 0.06) return null
    const share = places.find(candidate => candidate.code === place && candidate.language === language)?.share ?? 0
    if (!share) return null
    const last = monthOf(day) - 1
    const unseen = unit(this.#world.seed, lead.id, 102) < 0.04
    const monthly = Array.from({ length: 48 }, (_, i) => last - 47 + i).map(month => {
      const truth = family.reduce((sum, keyword) => sum + trueSearches(this.#world, keyword, month), 0) * share
      return { month: monthIso(month), searches: unseen ? 0 : toBand(truth) }
    })
    const year = monthly.slice(-12)
    const average = Math.round(year.reduce((sum, item) => sum + item.searches, 0) / 12)
    // People abroad search in this language too: a little for most subjects, as much again for a few.
    const abroad = 1 + unit(this.#world.seed, lead.head, 104) ** 3
    const everywhere = average ? Math.max(average, toBand((average / share) * abroad)) : 0
    const bid = Math.max(0.05, lead.cpc)
    return {
      text,
      average,
      monthly,
      competition: lead.competition > 0.66 ? 'HIGH' : lead.competition > 0.33 ? 'MEDIUM' : 'LOW',
      competition_index: Math.round(lead.competition * 100),
      cpc_micros: Math.round(bid * 1e6),
      low_bid_micros: Math.round(bid * 0.55 * 1e6),
      high_bid_micros: Math.round(bid * 1.7 * 1e6),
      mobile_share: Math.round(100 * (0.45 + 0.27 * unit(this.#world.seed, lead.head, 103))) / 100,
      worldwide: everywhere,
      match: unseen ? null : this.#match(text, language, last, share),
      as_of: isoOf(day),
    }
  }

  /** Who advertised on a keyword in a month, best place first. */
  advertisers(phrase: string, language: Language, month: number): object {
    const text = phrase.toLowerCase().replace(/\s+/g, ' ').trim()
    const keyword = this.#world.byPhrase.get(text)
    return {
      text,
      month: monthIso(month),
      advertisers:
        keyword?.language === language
          ? advertisersOf(this.#world, keyword, month).map(({ site, position, share, bid }) => ({
              domain: site.domain,
              position,
              impression_share: Math.round(share * 100) / 100,
              bid_micros: Math.round(bid * 1e6),
              title: `${text.charAt(0).toUpperCase()}${text.slice(1)} | ${site.name}`,
              url: addressOf(this.#world, this.#world.pagesOfSite[site.id]![0]!),
            }))
          : [],
    }
  }

  /** On what a site advertised in a month, most searched first, with what it spent on each. */
  advertised(domain: string, language: Language, month: number): Array<{ text: string; spend_micros: number }> {
    const rows: Array<{ text: string; position: number; impression_share: number; spend_micros: number }> = []
    const site = this.#world.byDomain.get(domain)
    if (!site) return rows
    for (const keyword of this.#world.keywords) {
      if (keyword.language !== language || keyword.competition < 0.05) continue
      const own = advertisersOf(this.#world, keyword, month).find(each => each.site === site)
      if (!own) continue
      const clicks = trueSearches(this.#world, keyword, month) * own.share * 0.06 * (5 / (4 + own.position))
      rows.push({
        text: keyword.phrase,
        position: own.position,
        impression_share: Math.round(own.share * 100) / 100,
        spend_micros: Math.round(clicks * own.bid * 1e6),
      })
    }
    return rows.sort((a, b) => b.spend_micros - a.spend_micros || (a.text < b.text ? -1 : 1))
  }

  /** Keywords near the seeds, best first; kept for the next page of the same question. */
  #order(seeds: string[], language: Language): Array<[number, number]> {
    const key = JSON.stringify([seeds, language])
    const known = this.#orders.get(key)
    if (known) return known
    const world = this.#world
    const near = new Map<number, number>()
    for (const seed of seeds) {
      const query = understand(world, seed, language)
      if (!query) continue
      const head = world.heads[query.head]!
      const stems = new Set(query.words.map(trunk))
      for (const keyword of world.keywords) {
        if (keyword.language !== language) continue
        const other = world.heads[keyword.head]!
        let closeness = other.id === head.id ? 3 : other.group === head.group ? 1.2 : 0
        for (const word of keyword.phrase.split(' ')) if (stems.has(trunk(word))) closeness += 0.6
        if (closeness > 0.5)
          near.set(keyword.id, Math.max(near.get(keyword.id) ?? 0, closeness + 0.15 * Math.log1p(keyword.base)))
      }
    }
    const order: Array<[number, number]> = [...near].sort((a, b) => b[1] - a[1] || a[0] - b[0])
    this.#orders.set(key, order)
    if (this.#orders.size > 40) this.#orders.delete(this.#orders.keys().next().value!)
    return order
  }

  /** Ideas near the seeds, nearest and most searched first. */
  ideas(seeds: string[], language: Language, offset: number, size: number): { phrases: string[]; next: number | null } {
    const order = this.#order(seeds, language)
    return {
      phrases: order.slice(offset, offset + size).map(([id]) => this.#world.keywords[id]!.phrase),
      next: offset + size < order.length ? offset + size : null,
    }
  }
}
