import { type Pains, packDays } from './pack-days.ts'

/**
 * A page that may be made. `values`: what it brings in money or visits, until the end of the time that is looked at, when it is made in
 * each of the planned months; 0 or more. `earliest`: the first of them in which it may be made.
 */
export type Candidate = {
  id: number
  values: readonly number[]
  /** Days of work, above 0. */
  effort: number
  mustBeIn: boolean
  earliest: number
}
/** How much can be made in a month: so many pages, or so many days of work. */
export type Capacity = { of: 'pages' | 'days'; aMonth: number }
export type ChosenPage = { id: number; month: number; value: number }
export type PageChoice = {
  chosen: ChosenPage[]
  total: number
  /** No choice can bring more than this. */
  bound: number
  /** Pages that must be in and do not fit. */
  unfit: number[]
}

const thorough: Pains = { prices: 90, months: 100, nodes: 300_000 }
/** For the effect of one more page and of forcing a page in: a rough solution is enough. */
const quick: Pains = { prices: 10, months: 2, nodes: 1_000 }

/**
 * The set of pages, and the month of each, that brings most within what can be made each month. By pages it is exact: a maximum-weight
 * assignment, by best augmenting paths over the months (Ahuja, Magnanti & Orlin 1993, ch. 9 and 12). By days it is a generalized assignment
 * problem: bounded by Lagrange multipliers of the months (Fisher 1981), then branch and bound until it is proven to be within 0.5 % of the
 * best or that took too long; `bound` says how near it is. A page that must be in goes before all others.
 */
export function choosePages(
  candidates: readonly Candidate[],
  months: number,
  capacity: Capacity,
  pains: Pains = thorough,
): PageChoice {
  const choice = choose(candidates, months, capacity, pains)
  if (!choice.unfit.length) return choice
  // What must be in and cannot is a page like others, so that the bound speaks of what is possible.
  const unfit = new Set(choice.unfit)
  const possible = candidates.map(each => (unfit.has(each.id) ? { ...each, mustBeIn: false } : each))
  return { ...choose(possible, months, capacity, pains), unfit: choice.unfit }
}

/** Pages that are asked what forcing them in would cost. */
const missedTried = 6

export type WeighedChoice = {
  choice: PageChoice
  /** What one page or day more a month would add. */
  oneMore: number
  /** Pages that just did not get in, with what forcing each in would cost; the cheapest first. */
  missed: Array<{ id: number; costs: number }>
}
/** The best set, what one more would add, and what just missed, told for at most six pages. */
export function weighChoices(candidates: readonly Candidate[], months: number, capacity: Capacity): WeighedChoice {
  const choice = choosePages(candidates, months, capacity)
  const more = choosePages(candidates, months, { ...capacity, aMonth: capacity.aMonth + 1 }, quick)
  const inside = new Set([...choice.chosen.map(each => each.id), ...choice.unfit])
  const worthOf = ({ values, effort }: Candidate): number => Math.max(...values) / (capacity.of === 'days' ? effort : 1)
  const missed = candidates
    .filter(
      each => !inside.has(each.id) && worthOf(each) > 0 && (capacity.of === 'pages' || each.effort <= capacity.aMonth),
    )
    .sort((a, b) => worthOf(b) - worthOf(a))
    .slice(0, missedTried)
    .map(({ id }) => {
      const forced = candidates.map(each => (each.id === id ? { ...each, mustBeIn: true } : each))
      return { id, costs: Math.max(0, choice.total - choosePages(forced, months, capacity, quick).total) }
    })
    .sort((a, b) => a.costs - b.costs)
  return { choice, oneMore: Math.max(0, more.total - choice.total), missed }
}

function choose(candidates: readonly Candidate[], months: number, capacity: Capacity, pains: Pains): PageChoice {
  const most = candidates.reduce((sum, each) => sum + Math.max(0, ...each.values), 1)
  // What must be in outweighs everything else together.
  const gains = candidates.map(({ values, mustBeIn, earliest }) =>
    Array.from({ length: months }, (_, m) =>
      m < earliest || (!mustBeIn && values[m]! <= 0) ? Number.NEGATIVE_INFINITY : values[m]! + (mustBeIn ? most : 0),
    ),
  )
  // Days of pages that all take as long are as many pages.
  const each = capacity.of === 'pages' ? 1 : candidates[0]?.effort
  const isEven = capacity.of === 'pages' || candidates.every(({ effort }) => effort === each)
  const { placed, bound } = isEven
    ? assignPages(gains, months, each === undefined ? 0 : Math.floor(capacity.aMonth / each + 1e-9))
    : packDays(
        gains,
        candidates.map(each => each.effort),
        months,
        capacity.aMonth,
        pains,
        placed => most * candidates.filter(({ mustBeIn }, i) => mustBeIn && placed[i]! >= 0).length,
      )
  const chosen = candidates.flatMap(({ id, values }, i) =>
    placed[i]! < 0 ? [] : [{ id, month: placed[i]!, value: values[placed[i]!]! }],
  )
  const total = chosen.reduce((sum, each) => sum + each.value, 0)
  const forced = candidates.filter(({ mustBeIn }, i) => mustBeIn && placed[i]! >= 0).length * most
  return {
    chosen: chosen.sort((a, b) => a.month - b.month || b.value - a.value),
    total,
    bound: isEven ? total : Math.max(total, bound - forced),
    unfit: candidates.flatMap(({ id, mustBeIn }, i) => (mustBeIn && placed[i]! < 0 ? [id] : [])),
  }
}

/** The month of each page, −1 = none. Each step adds one page by the best path, which may move others between months. */
function assignPages(
  gains: readonly number[][],
  months: number,
  aMonth: number,
): { placed: Int32Array; bound: number } {
  const placed = new Int32Array(gains.length).fill(-1)
  const used = new Int32Array(months)
  for (;;) {
    /** Best path so far that ends in a month: what it brings, the page that enters there and the month which that page leaves. */
    const best = new Float64Array(months).fill(Number.NEGATIVE_INFINITY)
    const page = new Int32Array(months).fill(-1)
    const from = new Int32Array(months).fill(-1)
    for (const [i, row] of gains.entries())
      if (placed[i]! < 0)
        for (let m = 0; m < months; m++)
          if (row[m]! > best[m]!) {
            best[m] = row[m]!
            page[m] = i
          }
    const moves = bestMoves(gains, placed, months)
    for (let round = 0; round < months; round++) {
      let better = false
      for (const { page: moved, from: a, to: b, gain } of moves)
        if (best[a]! + gain > best[b]! + 1e-9) {
          best[b] = best[a]! + gain
          page[b] = moved
          from[b] = a
          better = true
        }
      if (!better) break
    }
    let end = -1
    for (let m = 0; m < months; m++)
      if (used[m]! < aMonth && best[m]! > 0 && (end < 0 || best[m]! > best[end]!)) end = m
    if (end < 0) return { placed, bound: 0 }
    used[end]!++
    for (let m = end; m >= 0; m = from[m]!) placed[page[m]!] = m
  }
}

/** For each pair of months the page that gains most, or loses least, by going from one to the other. */
function bestMoves(gains: readonly number[][], placed: Int32Array, months: number) {
  const moves = new Map<number, { page: number; from: number; to: number; gain: number }>()
  for (const [i, row] of gains.entries()) {
    const from = placed[i]!
    if (from < 0) continue
    for (let to = 0; to < months; to++) {
      if (to === from || row[to] === Number.NEGATIVE_INFINITY) continue
      const gain = row[to]! - row[from]!
      const known = moves.get(from * months + to)
      if (!known || gain > known.gain) moves.set(from * months + to, { page: i, from, to, gain })
    }
  }
  return [...moves.values()]
}
