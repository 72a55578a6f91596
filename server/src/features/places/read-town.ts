import type { Business, DoubtfulListing, TownMap } from '@dew-trail/contract/places'
import { AppError } from '@dew-trail/contract/errors'
import { registrableDomain } from '@dew-trail/core/links/registrable-domain'
import { doubtfulListings } from '@dew-trail/core/places/doubtful-listings'
import { stem } from '@dew-trail/core/words/stem'
import type { Coordinates } from '@dew-trail/core/places/grid-points'
import type { Context } from '../../context.ts'
import { needSite } from '../../domain/sites/need-market.ts'
import { askBusinesses, askTownMap, askTowns } from '../../sources/ask-places.ts'
import { manyGrids, manyKeptWords, manySiteTexts, plainBusiness } from './queries.ts'

const mostKept = 2_000
/** Of so few words of its trade a home page is of another. */
const fewestWords = 2

type OwnBusiness = Business & { own: boolean }
/** Streets, coast and businesses of a town, the own ones first. */
export async function readTown(
  context: Context,
  siteId: number,
  town: string,
): Promise<{ map: TownMap; businesses: OwnBusiness[] }> {
  const [site, map, businesses] = await Promise.all([
    needSite(context.pool, siteId),
    askTownMap(context.sources, town),
    askBusinesses(context.sources, town),
  ])
  if (!map) throw new AppError('notFound', `There is no map of a town "${town}"`)
  const listed = businesses.map(each => ({ ...plainBusiness(each), own: domainOf(each.url) === site.domain }))
  return { map, businesses: listed.sort((a, b) => Number(b.own) - Number(a.own) || a.name.localeCompare(b.name)) }
}
const domainOf = (url: string | null): string | null => (url && URL.canParse(url) ? registrableDomain(url) : null)

/** Listings of a town that may not be what they say, the gravest first. */
export async function readDoubtful(
  context: Context,
  siteId: number,
  town: string,
): Promise<{ looked: number; rows: DoubtfulListing[] }> {
  const { map, businesses } = await readTown(context, siteId, town)
  const domains = [...new Set(businesses.flatMap(each => domainOf(each.url) ?? []))]
  const language = (await askTowns(context.sources)).find(each => each.code === town)?.language ?? 'en'
  const [grids, kept, sites] = await Promise.all([
    manyGrids(context.pool, siteId),
    manyKeptWords(context.pool, siteId, mostKept),
    manySiteTexts(context.pool, domains),
  ])
  const tradeWords = new Set(
    [...businesses.map(each => each.category), ...grids.flatMap(grid => [...grid.keywords, grid.townName]), town]
      .flatMap(text => text.toLowerCase().split(/[^\p{L}]+/u))
      .concat(kept)
      .filter(word => word.length > 2)
      .map(word => stem(word, language)),
  )
  const siteDoubts = new Map(
    sites.map(({ domain, text, networked }) => [domain, siteDoubt(text, networked, tradeWords, language)]),
  )
  const doubts = new Map(
    doubtfulListings(businesses, {
      today: new Date().toISOString().slice(0, 10),
      language,
      tradeWords,
      streets: streetsOf(map),
      siteDoubt: url => siteDoubts.get(domainOf(url) ?? '') ?? null,
    }).map(each => [each.id, each]),
  )
  return {
    looked: businesses.length,
    rows: businesses
      .flatMap(each => {
        const doubt = doubts.get(each.id)
        return doubt ? [{ ...each, weight: doubt.weight, reasons: doubt.reasons }] : []
      })
      .sort((a, b) => b.weight - a.weight || a.name.localeCompare(b.name)),
  }
}
function siteDoubt(
  text: string | null,
  networked: boolean,
  tradeWords: ReadonlySet<string>,
  language: string,
): string | null {
  if (networked) return 'its site belongs to a network made to link'
  if (text === null) return null
  const words = new Set(
    text
      .toLowerCase()
      .split(/[^\p{L}]+/u)
      .map(word => stem(word, language)),
  )
  let shared = 0
  for (const word of tradeWords) if (words.has(word)) shared++
  return shared < fewestWords ? 'its site is of another trade' : null
}
function streetsOf(map: TownMap): Map<string, Coordinates[]> {
  const streets = new Map<string, Coordinates[]>()
  for (const { name, line } of map.lines) {
    if (name === null) continue
    const points = line.map(([latitude, longitude]) => ({ latitude, longitude }))
    streets.set(name, [...(streets.get(name) ?? []), ...points])
  }
  return streets
}
