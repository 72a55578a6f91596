import { type Coordinates, distanceMetres, type GridPoint } from './grid-points.ts'
import type { PointRank } from './rank-figures.ts'

/** Results at a point, the first first, by the numbers of businesses; null = not checked. */
export type PointResults = readonly number[] | null

/** The position of a business at each point. */
export const ranksOf = (results: readonly PointResults[], business: number): PointRank[] =>
  results.map(listed => (listed === null ? null : listed.indexOf(business) + 1))
/** The best position of several businesses of one owner at each point. */
export const bestRanksOf = (results: readonly PointResults[], businesses: readonly number[]): PointRank[] =>
  results.map(listed =>
    listed === null
      ? null
      : businesses.reduce((best, each) => {
          const rank = listed.indexOf(each) + 1
          return rank && (!best || rank < best) ? rank : best
        }, 0),
  )

export type Stronghold = {
  business: number
  /** Points where it stands first, and among the first three. */
  leads: number
  first3: number
  /** Metres from it to the farthest point where it stands first. */
  reach: number
  /** Its mean position, not found counted as one below the last result. */
  mean: number
}
/** Where each business leads and how far that reaches: those that lead at most points first, then by points among the first three. */
export function strongholds(
  points: readonly GridPoint[],
  results: readonly PointResults[],
  placeOf: (business: number) => Coordinates | undefined,
  depth: number,
): Stronghold[] {
  const checked = results.filter(listed => listed !== null).length
  const found = new Map<number, Stronghold & { sum: number; times: number }>()
  for (const [at, listed] of results.entries())
    listed?.forEach((business, i) => {
      let of = found.get(business)
      if (!of) found.set(business, (of = { business, leads: 0, first3: 0, reach: 0, mean: 0, sum: 0, times: 0 }))
      of.sum += i + 1
      of.times++
      if (i < 3) of.first3++
      if (i > 0) return
      of.leads++
      const place = placeOf(business)
      if (place) of.reach = Math.max(of.reach, distanceMetres(place, points[at]!))
    })
  return [...found.values()]
    .map(({ sum, times, ...each }) => ({ ...each, mean: (sum + (checked - times) * (depth + 1)) / checked }))
    .sort((a, b) => b.leads - a.leads || b.first3 - a.first3 || a.mean - b.mean || a.business - b.business)
}

/** What is known of a listing's weight. */
export type ListingWeight = Coordinates & { reviews: number | null; rating: number | null; url: string | null }
/** `weak`: how many of the first three have few reviews or no site, or are missing; `far`: how many stand farther away than `farMetres`. */
export type Opening = { at: number; weak: number; far: number; rank: PointRank }
/** Fewer reviews than this are few. */
export const fewReviews = 15

/**
 * Points where the first three are weak or far away and none of `own` stands among them: two of three at least. The most open first.
 */
export function openings(
  points: readonly GridPoint[],
  results: readonly PointResults[],
  own: readonly number[],
  listingOf: (business: number) => ListingWeight | undefined,
  farMetres: number,
): Opening[] {
  return bestRanksOf(results, own)
    .flatMap((rank, at): Opening[] => {
      const listed = results[at]
      if (!listed || (rank && rank <= 3)) return []
      const first = listed.slice(0, 3).flatMap(each => listingOf(each) ?? [])
      const isWeak = ({ reviews, url }: ListingWeight): boolean =>
        url === null || (reviews !== null && reviews < fewReviews)
      const isFar = (place: Coordinates): boolean => distanceMetres(place, points[at]!) > farMetres
      // Where fewer than three are listed there is room.
      const room = Math.max(0, 3 - listed.length)
      const open = first.filter(each => isWeak(each) || isFar(each)).length + room
      return open < 2 ? [] : [{ at, weak: first.filter(isWeak).length + room, far: first.filter(isFar).length, rank }]
    })
    .sort((a, b) => b.weak + b.far - a.weak - a.far || a.at - b.at)
}
