/**
 * Standing 0–100 of a rank: where rank × nodes (1 = the mean) lies on a log scale between what a node without links gets (0) and the fixed
 * reference (100). `reference` is a rank × nodes and stays fixed, so that figures compare between dates; what lies above it is 100. Throws
 * RangeError for a reference that is no more than the floor.
 */
export function standingOf(rank: number, nodes: number, floor: number, reference: number): number {
  if (!(reference > floor) || !(floor > 0))
    throw new RangeError(`the reference ${reference} must lie above the floor ${floor}`)
  const scaled = rank * nodes
  if (scaled <= floor) return 0
  return Math.min(100, (100 * Math.log(scaled / floor)) / Math.log(reference / floor))
}

/** Rank × nodes of a node nobody links to: what the start gives it, with its share of the dangling mass. */
export const floorOf = (rank: Float64Array): number => {
  let least = Number.POSITIVE_INFINITY
  for (const value of rank) if (value < least) least = value
  return least * rank.length
}

/** Pull of a link 0–100: the rank its source passes along this edge (damping × rank / links out), on the scale of standing. */
export const pullOf = (
  rank: number,
  linksOut: number,
  nodes: number,
  floor: number,
  reference: number,
  damping = 0.85,
): number => standingOf((damping * rank) / Math.max(1, linksOut) + floor / nodes, nodes, floor, reference)

/** Place of each node by its rank, from 1; of equal ranks the one that comes first. */
export function positionsOf(ranks: Float64Array): Int32Array {
  const order = Int32Array.from(ranks, (_, node) => node).sort((a, b) => ranks[b]! - ranks[a]! || a - b)
  const positions = new Int32Array(ranks.length)
  for (let at = 0; at < order.length; at++) positions[order[at]!] = at + 1
  return positions
}
