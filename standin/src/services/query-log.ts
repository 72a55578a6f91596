import { setImmediate as breathe } from 'node:timers/promises'
import { isoOf, monthOf } from '../calendar.ts'
import { Stream } from '../random.ts'
import { type Plan, planRanking } from '../rank/candidates.ts'
import { clickShare, seenShare } from '../rank/clicks.ts'
import { positionsOfSite } from '../rank/rank.ts'
import { understand } from '../rank/understand.ts'
import { trueSearches } from '../world/demand.ts'
import type { Keyword } from '../world/keywords.ts'
import type { Device } from '../world/vocabulary.ts'
import { addressOf, type World } from '../world/world.ts'
import { featuresOf } from './features.ts'

export const logDimensions = ['day', 'query', 'page', 'country', 'device'] as const
export type LogDimension = (typeof logDimensions)[number]
export type LogRow = Partial<Record<LogDimension, string>> & { clicks: number; impressions: number; position: number }
/** `last_day`: the last one whose figures are complete. */
export type LogProperty = { id: string; name: string; language: string; country: string | null; last_day: string }

/** One query seen on one day on one device with one own page. */
type Fact = {
  keyword: number
  device: Device
  page: number
  day: number
  clicks: number
  impressions: number
  position: number
  withheld: boolean
  /** False for the lower of two own pages on one result page. */
  first: boolean
}
type Entry = { keyword: Keyword; device: Device; plan: Plan; withheld: boolean }

const deviceShare: Record<Device, number> = { desktop: 0.42, mobile: 0.58 }
/** Days until the figures of a day are complete. */
export const logDelayDays = 2
/** Queries that bring the site fewer impressions a day are left out altogether. */
const leastDaily = 0.08
const slice = 150

/** A Poisson draw; for large means the normal stands in. */
function poisson(mean: number, stream: Stream): number {
  if (mean <= 0) return 0
  if (mean > 30) return Math.max(0, Math.round(mean + Math.sqrt(mean) * stream.normal()))
  let left = Math.exp(-mean)
  let draw = stream.next()
  let count = 0
  while (draw > left && count < 200) {
    draw -= left
    count++
    left *= mean / count
  }
  return count
}

/** How many of `count` do what each does with chance `share`; for large counts the normal stands in. */
function binomial(count: number, share: number, stream: Stream): number {
  if (share >= 1) return count
  if (count > 60)
    return Math.min(
      count,
      Math.max(0, Math.round(count * share + Math.sqrt(count * share * (1 - share)) * stream.normal())),
    )
  let hits = 0
  for (let i = 0; i < count; i++) if (stream.chance(share)) hits++
  return hits
}

/**
 * The own site's query log of the engine Lantern. Impressions follow from the true demand of the month, the place the site's
 * pages truly held that day and how many searchers look so far; clicks from the true click behaviour. Queries that hardly
 * anybody asks are withheld: they count in totals but are not named.
 */
export class QueryLog {
  readonly #world: World
  #entries: { edition: number; list: Promise<Entry[]> } | undefined
  readonly #days = new Map<number, Fact[]>()
  constructor(world: World) {
    this.#world = world
  }

  properties(): LogProperty[] {
    const { domain } = this.#world.own
    const last_day = isoOf(this.#world.today - logDelayDays)
    return [
      { id: `domain:${domain}`, name: 'The whole domain', language: 'en', country: null, last_day },
      { id: `https://${domain}/guides/`, name: 'Guides', language: 'en', country: null, last_day },
      { id: `https://${domain}/de/`, name: 'German pages', language: 'de', country: null, last_day },
    ]
  }

  /** Keywords for which the site may be seen at all; the much-searched 8,000 of them at most. */
  #strong(): Promise<Entry[]> {
    const world = this.#world
    if (this.#entries?.edition === world.edition) return this.#entries.list
    this.#days.clear()
    const find = async (): Promise<Entry[]> => {
      const { own } = world
      const wanted = world.keywords
        .filter(keyword => {
          const head = world.heads[keyword.head]!
          return keyword.base > 30.4 * leastDaily && (own.groups.includes(head.group) || head.site === own.id)
        })
        .sort((a, b) => b.base - a.base || a.id - b.id)
        .slice(0, 8_000)
      const found: Entry[] = []
      for (const [i, keyword] of wanted.entries()) {
        if (i % slice === 0) await breathe()
        const query = understand(world, keyword.phrase, keyword.language)!
        const place = keyword.language === 'de' ? 'verlau' : 'tarrow'
        const planned = (device: Device): Plan => planRanking(world, query, { engine: 'lantern', device, place })
        const plan = planned('desktop')
        const position = positionsOfSite(world, plan, world.today, own.id, true)[0]?.position ?? 200
        for (const device of ['desktop', 'mobile'] as const) {
          const daily = (keyword.base / 30.4) * deviceShare[device] * seenShare(position, device)
          if (daily > leastDaily)
            found.push({
              keyword,
              device,
              plan: device === 'desktop' ? plan : planned(device),
              withheld: daily * 60 < 18,
            })
        }
      }
      return found
    }
    const list = find()
    this.#entries = { edition: world.edition, list }
    return list
  }

  async #factsOf(day: number): Promise<Fact[]> {
    const ready = this.#days.get(day)
    if (ready) return ready
    const world = this.#world
    const facts: Fact[] = []
    const month = monthOf(day)
    const entries = await this.#strong()
    for (const [i, { keyword, device, plan, withheld }] of entries.entries()) {
      if (i % slice === 0) await breathe()
      const stream = new Stream(world.seed, keyword.id, day, device === 'mobile' ? 211 : 212)
      const searches = poisson(
        (trueSearches(world, keyword, month) / 30.4) * deviceShare[device] * weekday(day),
        stream,
      )
      if (!searches) continue
      const features = featuresOf(world, plan.query, 'lantern', day)
      let first = true
      for (const { position, page } of positionsOfSite(world, plan, day, world.own.id)) {
        if (position > 100) continue
        const impressions = binomial(searches, seenShare(position, device), stream)
        if (!impressions) continue
        const share = clickShare(position, device, plan.query, features) / seenShare(position, device)
        const clicks = binomial(impressions, share, stream)
        facts.push({
          keyword: keyword.id,
          device,
          page: page.id,
          day,
          clicks,
          impressions,
          position,
          withheld,
          first,
        })
        first = false
      }
    }
    this.#days.set(day, facts)
    if (this.#days.size > 100) this.#days.delete(this.#days.keys().next().value!)
    return facts
  }

  /** Days of the log that are complete, in order. */
  #daysBetween(from: number, to: number): number[] {
    const last = Math.min(to, this.#world.today - logDelayDays)
    return Array.from({ length: Math.max(0, last - from + 1) }, (_, i) => from + i)
  }

  #within(property: string): ((fact: Fact) => boolean) | undefined {
    const world = this.#world
    if (property === `domain:${world.own.domain}`) return () => true
    if (!this.properties().some(each => each.id === property)) return undefined
    return fact => addressOf(world, world.pages[fact.page]!).startsWith(property)
  }

  /**
   * Rows summed over what is not asked for, most clicks first; `position` is the mean over impressions. A search that shows
   * two pages of the site is one impression, unless pages are asked for. Undefined for a property that does not exist.
   */
  async rows(
    property: string,
    from: number,
    to: number,
    dimensions: readonly LogDimension[],
  ): Promise<LogRow[] | undefined> {
    const within = this.#within(property)
    if (!within) return undefined
    const world = this.#world
    const sums = new Map<string, { row: LogRow; weighted: number }>()
    for (const day of this.#daysBetween(from, to))
      for (const fact of await this.#factsOf(day)) {
        if (!within(fact) || (fact.withheld && dimensions.includes('query'))) continue
        const keyword = world.keywords[fact.keyword]!
        const values: Record<LogDimension, string> = {
          day: isoOf(fact.day),
          query: keyword.phrase,
          page: dimensions.includes('page') ? addressOf(world, world.pages[fact.page]!) : '',
          country: keyword.language === 'de' ? 'verlau' : 'tarrow',
          device: fact.device,
        }
        const key = dimensions.map(each => values[each]).join('\t')
        let sum = sums.get(key)
        if (!sum) {
          const row = Object.fromEntries(dimensions.map(each => [each, values[each]]))
          sums.set(key, (sum = { row: { ...row, clicks: 0, impressions: 0, position: 0 }, weighted: 0 }))
        }
        sum.row.clicks += fact.clicks
        // Who sees two pages of a site has seen the site once, at its higher place.
        if (!fact.first && !dimensions.includes('page')) continue
        sum.row.impressions += fact.impressions
        sum.weighted += fact.impressions * fact.position
      }
    return [...sums.values()]
      .map(({ row, weighted }) => ({
        ...row,
        position: Math.round((100 * weighted) / Math.max(1, row.impressions)) / 100,
      }))
      .sort((a, b) => b.clicks - a.clicks || b.impressions - a.impressions)
  }

  /** The log as a CSV file, day by day, all dimensions. */
  async *csv(property: string, from: number, to: number): AsyncGenerator<string> {
    yield 'Day,Query,Page,Country,Device,Clicks,Impressions,Position\n'
    for (const day of this.#daysBetween(from, to)) {
      const rows = (await this.rows(property, day, day, logDimensions)) ?? []
      yield rows
        .map(
          row =>
            `${row.day},${row.query},${row.page},${row.country},${row.device},${row.clicks},${row.impressions},${row.position}\n`,
        )
        .join('')
    }
  }
}

/** People search less for clay on Saturdays and more on Sundays; the mean over a week is 1. */
function weekday(day: number): number {
  return [0.98, 1, 1.01, 1.02, 0.97, 0.9, 1.12][(day + 3) % 7]!
}
