import { distanceMetres, type GridPoint, type Coordinates, offsetMetres } from './grid-points.ts'

/** A position at a point of a grid: 1 and up; 0 = not among the results; null = not checked, which says nothing. */
export type PointRank = number | null

export const directions = [
  'north',
  'north-east',
  'east',
  'south-east',
  'south',
  'south-west',
  'west',
  'north-west',
] as const
export type Direction = (typeof directions)[number]

/** How a business stands at some points. `mean`: not found counts as one below the last result; null where nothing was checked. */
export type RankSums = { checked: number; mean: number | null; first3: number; found: number }
export type RankFigures = RankSums & {
  notChecked: number
  /** By metres from the business, the nearest first; rings of a spacing each, those without checked points left out. */
  rings: Array<RankSums & { from: number; to: number }>
  sectors: Array<RankSums & { direction: Direction }>
  /** So far from the business it stands among the first three at every checked point; 0 where not even at the nearest, null where nothing was checked. */
  firstThreeRadius: number | null
}

/** Sums of positions at points. `depth`: how many results were asked for. */
export function sumRanks(ranks: readonly PointRank[], depth: number): RankSums {
  const known = ranks.filter(rank => rank !== null)
  const sum = known.reduce((total, rank) => total + (rank || depth + 1), 0)
  return {
    checked: known.length,
    mean: known.length ? sum / known.length : null,
    first3: known.filter(rank => rank >= 1 && rank <= 3).length,
    found: known.filter(rank => rank > 0).length,
  }
}

/** What positions over a grid come to, from the place of the business (or the centre of the grid where that is unknown). */
export function rankFigures(
  points: readonly GridPoint[],
  ranks: readonly PointRank[],
  from: Coordinates,
  { depth, spacing }: { depth: number; spacing: number },
): RankFigures {
  const far = points.map(point => distanceMetres(from, point))
  const ringOf = (at: number): number => Math.round(far[at]! / spacing)
  const rings = new Map<number, PointRank[]>()
  const sectors = new Map<Direction, PointRank[]>()
  for (const [at, rank] of ranks.entries()) {
    add(rings, ringOf(at), rank)
    // Right at the business there is no direction.
    if (far[at]! >= spacing / 2) add(sectors, directionOf(from, points[at]!), rank)
  }
  const all = sumRanks(ranks, depth)
  return {
    ...all,
    notChecked: ranks.length - all.checked,
    rings: [...rings]
      .sort(([a], [b]) => a - b)
      .map(([ring, of]) => ({
        from: Math.max(0, ring - 0.5) * spacing,
        to: (ring + 0.5) * spacing,
        ...sumRanks(of, depth),
      }))
      .filter(each => each.checked > 0),
    sectors: directions.flatMap(direction => {
      const sums = sumRanks(sectors.get(direction) ?? [], depth)
      return sums.checked ? [{ direction, ...sums }] : []
    }),
    firstThreeRadius: firstThreeRadius(far, ranks),
  }
}
function firstThreeRadius(far: readonly number[], ranks: readonly PointRank[]): number | null {
  const checked = [...far.keys()].filter(at => ranks[at] !== null)
  if (!checked.length) return null
  const isBeyond = (rank: number): boolean => rank < 1 || rank > 3
  const end = Math.min(...checked.filter(at => isBeyond(ranks[at]!)).map(at => far[at]!))
  // Points as far away as the first beyond do not count, though they may differ by the metre that coordinates are rounded to.
  return Math.max(0, ...checked.map(at => far[at]!).filter(metres => metres < end - 1))
}
export function directionOf(from: Coordinates, to: Coordinates): Direction {
  const { east, north } = offsetMetres(from, to)
  const turn = Math.atan2(east, north) / (Math.PI / 4)
  return directions[(Math.round(turn) + 8) % 8]!
}
function add<Key>(into: Map<Key, PointRank[]>, key: Key, rank: PointRank): void {
  const of = into.get(key)
  if (of) of.push(rank)
  else into.set(key, [rank])
}

/** Change of positions between two runs at the same points: above 0 is better; null where one of them was not checked. */
export const rankChanges = (
  now: readonly PointRank[],
  before: readonly PointRank[],
  depth: number,
): Array<number | null> =>
  now.map((rank, at) => {
    const was = before[at]
    return rank === null || was === null || was === undefined ? null : (was || depth + 1) - (rank || depth + 1)
  })
