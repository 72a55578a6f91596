import { stem } from '../words/stem.ts'
import { type Coordinates, distanceMetres } from './grid-points.ts'

/** What a service tells of a business; null where it does not tell. */
export type Listing = Coordinates & {
  id: string
  name: string
  category: string
  street: string | null
  phone: string | null
  url: string | null
  reviews: number | null
  photos: number | null
  hours: string | null
  /** Day since which it is listed, YYYY-MM-DD. */
  openedOn: string | null
}
export type Doubtful = { id: string; weight: number; reasons: string[] }
/** What is known beside the listings of a town. */
export type TownKnown = {
  today: string
  language: string
  /** Words of the trade and of the town that stuffed names are made of, lower case and without endings (`stem`). */
  tradeWords: ReadonlySet<string>
  /** Streets by name with points of theirs; empty where there is no map. */
  streets: ReadonlyMap<string, readonly Coordinates[]>
  /** What is wrong with the site of an address, as a clause; null where nothing is, or nothing is known of it. */
  siteDoubt(url: string): string | null
}

/** From this weight on a listing is doubtful: one strong sign, or two weak ones. */
export const leastDoubt = 2
const dayMs = 86_400_000
/** Listed no longer than this is lately. */
const lateDays = 180
/** So many reviews a month are more than visitors write. */
const reviewsAMonth = 30
/** A pin farther from every point of its street than this does not stand on it. */
const offStreetMetres = 450
/** Nearer than this two listings stand in one place. */
const samePlaceMetres = 30
const pleading = /\b(best|cheap|cheapest|near me|top|no\.? ?1|günstig|billig|beste[rs]?|in der nähe|kaufen)\b/gi

/**
 * Listings of a town that may not be what they say, each with its reasons, the gravest first. Branches of a chain (one name and one site) may
 * share a telephone, neighbours in one building an address: neither counts alone.
 */
export function doubtfulListings(listings: readonly Listing[], known: TownKnown): Doubtful[] {
  const byPhone = grouped(listings, each => each.phone?.replace(/\D/g, '') || null)
  return listings
    .map(listing => {
      const signs = signsOf(listing, byPhone, known)
      return {
        id: listing.id,
        weight: signs.reduce((sum, [weight]) => sum + weight, 0),
        reasons: signs.toSorted(([a], [b]) => b - a).map(([, reason]) => reason),
      }
    })
    .filter(({ weight }) => weight >= leastDoubt)
    .sort((a, b) => b.weight - a.weight || (a.id < b.id ? -1 : 1))
}

type Sign = [weight: number, reason: string]
function signsOf(listing: Listing, byPhone: ReadonlyMap<string, readonly Listing[]>, known: TownKnown): Sign[] {
  const signs: Sign[] = []
  const age = listing.openedOn === null ? null : (Date.parse(known.today) - Date.parse(listing.openedOn)) / dayMs
  const siteDoubt = listing.url === null ? null : known.siteDoubt(listing.url)
  const stuffed = stuffedWords(listing.name, known)
  if (stuffed) signs.push([listing.url && !siteDoubt ? 1 : 2, `its name is made of searches: ${stuffed}`])
  const ofPhone = (byPhone.get(listing.phone?.replace(/\D/g, '') ?? '') ?? []).filter(other => other.id !== listing.id)
  const samePhone = ofPhone.filter(other => siteDoubt !== null || !isBranch(listing, other))
  if (samePhone.some(other => presenceOf(other) >= presenceOf(listing))) {
    signs.push([1.5, `it has the telephone of ${samePhone[0]!.name}`])
    const near = samePhone.find(other => distanceMetres(listing, other) < samePlaceMetres)
    if (near) signs.push([1, `it stands where ${near.name} does`])
  }
  const late = age !== null && age < lateDays
  if (late) signs.push([0.5, `it is listed only since ${listing.openedOn}`])
  if (late && (listing.reviews ?? 0) > (reviewsAMonth * Math.max(30, age)) / 30)
    signs.push([1.5, `it has ${listing.reviews} reviews after ${Math.round(age)} days`])
  // A chain that opens three branches in half a year is worth a look too.
  const newToo = ofPhone.filter(each => isLate(each, known.today)).length
  if (late && newToo >= 2)
    signs.push([samePhone.length ? 2 : 1.5, `${newToo + 1} new listings have this one telephone`])
  if (siteDoubt) signs.push([1, siteDoubt])
  else if (listing.url === null) signs.push([0.25, 'it has no site'])
  if (isOffStreet(listing, known.streets)) signs.push([1, 'its pin stands far from the street it names'])
  if (listing.hours !== null && /0:00[–-]24:00/.test(listing.hours)) signs.push([0.5, 'it is open day and night'])
  if (listing.photos !== null && listing.photos < 3 && (listing.reviews ?? 0) >= 30)
    signs.push([0.75, `${listing.reviews} reviews and ${listing.photos || 'no'} pictures`])
  return signs
}

/** How much there is of a business beside its reviews, which can be bought: pictures by visitors, a site, hours. */
const presenceOf = ({ photos, url, hours }: Listing): number =>
  (photos ?? 0) + (url === null ? 0 : 30) + (hours === null ? 0 : 5)
const isLate = ({ openedOn }: Listing, today: string): boolean =>
  openedOn !== null && (Date.parse(today) - Date.parse(openedOn)) / dayMs < lateDays
/** Branches of one business: one site. */
const isBranch = (a: Listing, b: Listing): boolean => a.url !== null && a.url === b.url && firstWord(a) === firstWord(b)
const firstWord = ({ name }: Listing): string => name.split(' ')[0]!.toLowerCase()

/** The words of a name that are searches rather than a name: where it pleads, or where at least five of six are. Null where it is a name. */
function stuffedWords(name: string, { tradeWords, language }: TownKnown): string | null {
  const pleas = [...new Set(name.toLowerCase().match(pleading))]
  const words = name
    .toLowerCase()
    .split(/[^\p{L}]+/u)
    .filter(word => word.length > 1)
  const trade = words.filter(word => tradeWords.has(stem(word, language)))
  const many = words.length >= 5 && trade.length / words.length >= 0.8
  if (!(pleas.length && trade.length >= 2) && !many) return null
  return [...pleas, ...(many ? trade : [])]
    .map(each => `“${each}”`)
    .slice(0, 4)
    .join(', ')
}

/** Whether a pin stands far from every point of the street that its address names; false where the street or the map is unknown. */
function isOffStreet(listing: Listing, streets: TownKnown['streets']): boolean {
  const name = listing.street?.replace(/^\d+\S*\s+/, '').replace(/\s+\d+\S*$/, '')
  const points = streets.get(name ?? '')
  return points?.every(point => distanceMetres(point, listing) > offStreetMetres) ?? false
}

function grouped<T>(items: readonly T[], keyOf: (item: T) => string | null): Map<string, T[]> {
  const groups = new Map<string, T[]>()
  for (const item of items) {
    const key = keyOf(item)
    if (key === null) continue
    const of = groups.get(key)
    if (of) of.push(item)
    else groups.set(key, [item])
  }
  return groups
}
