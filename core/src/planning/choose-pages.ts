/**
 * A page that may be made. `values`: what it brings in money or visits, until the end of the time that is looked at, when it is made in each of the planned months; 0 or
 * more. `earliest`: the first of them in which it may be made.
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

/** A choice by days stops where it is proven to be this near the best. */
const nearEnough = 0.005
/** How long it is looked for a better choice and a nearer bound. */
type Pains = { prices: number; months: number; nodes: number }
const thorough: Pains = { prices: 90, months: 100, nodes: 300_000 }
/** What is asked besides need not be so near the best. */
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

function packDays(
  gains: readonly number[][],
  efforts: readonly number[],
  months: number,
  aMonth: number,
  pains: Pains,
  forcedIn: (placed: Int32Array) => number,
): { placed: Int32Array; bound: number } {
  /** How far below a bound a choice may be: a share of what it brings, without what weighs only because it must be in. */
  const slack = ({ placed, total }: Packed): number => nearEnough * (total - forcedIn(placed))
  const fits = gains.map((row, i) => (efforts[i]! <= aMonth ? row : row.map(() => Number.NEGATIVE_INFINITY)))
  let best: Packed = { placed: new Int32Array(gains.length).fill(-1), total: 0 }
  let bound = Number.POSITIVE_INFINITY
  let prices = new Float64Array(months)
  let bestPrices = prices
  let scale = 2
  for (let step = 0, since = 0; step < pains.prices && bound > best.total + slack(best) / 4; step++) {
    const { value, load } = relaxed(fits, efforts, prices, aMonth)
    if (value < bound - 1e-9) {
      bound = value
      bestPrices = prices
      since = 0
    } else if (++since > 8) {
      scale /= 2
      since = 0
    }
    const packed = improve(fits, efforts, aMonth, pack(fits, efforts, prices, aMonth), months)
    if (packed.total > best.total) best = packed
    const over = load.map(each => each - aMonth)
    const norm = over.reduce((sum, each) => sum + each * each, 0)
    if (norm === 0) break
    const size = (scale * (value - best.total)) / norm
    prices = Float64Array.from(prices, (price, m) => Math.max(0, price + size * over[m]!))
  }
  const nearer = byMonths(fits, efforts, months, aMonth, bestPrices, { ...best, bound }, slack, pains.months)
  if (nearer.bound <= nearer.total + slack(nearer)) return nearer
  return branch(fits, efforts, months, aMonth, bestPrices, nearer, nearer.bound, slack, pains.nodes)
}

/**
 * A nearer bound where few pages fit in a month: each month packs at its best by itself, whatever others do, and a page that several months
 * want is priced (the other Lagrangian of the same problem, whose parts are knapsacks; Fisher 1981). What the months pack, without what
 * they want twice, is also tried as a choice.
 */
function byMonths(
  gains: readonly number[][],
  efforts: readonly number[],
  months: number,
  aMonth: number,
  prices: Float64Array,
  start: Packed & { bound: number },
  slack: (packed: Packed) => number,
  steps: number,
): Packed & { bound: number } {
  const units = efforts.map(each => Math.ceil(each * 2 - 1e-9))
  const room = Math.floor(aMonth * 2 + 1e-9)
  let best: Packed = start
  let bound = start.bound
  let worth = Float64Array.from(gains, (row, i) =>
    Math.max(0, ...row.map((gain, m) => gain - prices[m]! * efforts[i]!)),
  )
  let scale = 1
  for (let step = 0, since = 0; step < steps && bound > best.total + slack(best); step++) {
    const times = new Int32Array(gains.length)
    const placed = new Int32Array(gains.length).fill(-1)
    let value = worth.reduce((sum, each) => sum + each, 0)
    for (let m = 0; m < months; m++) {
      const packed = knapsack(
        gains.map((row, i) => row[m]! - worth[i]!),
        units,
        room,
      )
      value += packed.value
      for (const i of packed.items) {
        times[i]!++
        if (placed[i]! < 0 || gains[i]![m]! > gains[i]![placed[i]!]!) placed[i] = m
      }
    }
    if (value < bound - 1e-9) {
      bound = value
      since = 0
    } else if (++since > 5) {
      scale /= 2
      since = 0
    }
    const total = placed.reduce((sum, m, i) => sum + (m < 0 ? 0 : gains[i]![m]!), 0)
    const tried = improve(gains, efforts, aMonth, { placed, total }, months)
    if (tried.total > best.total) best = tried
    const norm = times.reduce((sum, each) => sum + (1 - each) ** 2, 0)
    if (norm === 0) break
    const size = (scale * (value - best.total)) / norm
    worth = worth.map((each, i) => Math.max(0, each - size * (1 - times[i]!)))
  }
  return { ...best, bound }
}

/** The items of most value that fit: by dynamic programming over whole units. */
function knapsack(
  values: readonly number[],
  units: readonly number[],
  room: number,
): { value: number; items: number[] } {
  const usable = values.flatMap((value, i) => (value > 0 && units[i]! <= room ? [i] : []))
  const most = new Float64Array(room + 1)
  const taken = new Uint8Array(usable.length * (room + 1))
  for (const [k, i] of usable.entries())
    for (let u = room; u >= units[i]!; u--) {
      const withIt = most[u - units[i]!]! + values[i]!
      if (withIt <= most[u]!) continue
      most[u] = withIt
      taken[k * (room + 1) + u] = 1
    }
  const items: number[] = []
  for (let k = usable.length - 1, u = room; k >= 0; k--)
    if (taken[k * (room + 1) + u]) {
      items.push(usable[k]!)
      u -= units[usable[k]!]!
    }
  return { value: most[room]!, items }
}

/** What could be had if capacity were only bought at prices: an upper bound, and the days it would take of each month. */
function relaxed(gains: readonly number[][], efforts: readonly number[], prices: Float64Array, aMonth: number) {
  const load = new Float64Array(prices.length)
  let value = prices.reduce((sum, price) => sum + price * aMonth, 0)
  for (const [i, row] of gains.entries()) {
    let [at, most] = [-1, 0]
    for (let m = 0; m < prices.length; m++) {
      const left = row[m]! - prices[m]! * efforts[i]!
      if (left > most) [at, most] = [m, left]
    }
    if (at < 0) continue
    value += most
    load[at]! += efforts[i]!
  }
  return { value, load }
}

type Packed = { placed: Int32Array<ArrayBufferLike>; total: number }
/** Pages in the order of what they leave a day at the prices, each in the month that leaves most and has room. */
function pack(gains: readonly number[][], efforts: readonly number[], prices: Float64Array, aMonth: number): Packed {
  const placed = new Int32Array(gains.length).fill(-1)
  const room = new Float64Array(prices.length).fill(aMonth)
  const left = (i: number, m: number): number => gains[i]![m]! - prices[m]! * efforts[i]!
  const most = gains.map((row, i) => Math.max(...row.map((_, m) => left(i, m))) / efforts[i]!)
  const order = gains.map((_, i) => i).sort((a, b) => most[b]! - most[a]!)
  let total = 0
  for (const i of order) {
    let at = -1
    for (let m = 0; m < prices.length; m++)
      if (room[m]! >= efforts[i]! && gains[i]![m]! > 0 && (at < 0 || left(i, m) > left(i, at))) at = m
    if (at < 0) continue
    placed[i] = at
    room[at]! -= efforts[i]!
    total += gains[i]![at]!
  }
  return { placed, total }
}

/** Puts pages in place of others, and in other months, as long as that brings more. */
function improve(
  gains: readonly number[][],
  efforts: readonly number[],
  aMonth: number,
  start: Packed,
  months: number,
): Packed {
  const placed = start.placed
  const room = new Float64Array(months).fill(aMonth)
  for (const [i, m] of placed.entries()) if (m >= 0) room[m]! -= efforts[i]!
  const value = (i: number, m: number): number => (m < 0 ? 0 : gains[i]![m]!)
  for (let better = true; better; ) {
    better = false
    for (let i = 0; i < placed.length; i++)
      for (let m = 0; m < months; m++) {
        const now = placed[i]!
        if (m === now || gains[i]![m]! <= value(i, now) || room[m]! < efforts[i]!) continue
        if (now >= 0) room[now]! += efforts[i]!
        room[m]! -= efforts[i]!
        placed[i] = m
        better = true
      }
    for (let i = 0; i < placed.length; i++)
      for (let j = 0; j < placed.length; j++) {
        const [a, b] = [placed[i]!, placed[j]!]
        if (a === b || b < 0) continue
        // i goes to where j stands, and j to where i stands or out.
        const gain = value(i, b) + value(j, a) - value(i, a) - value(j, b)
        if (!(gain > 1e-9) || room[b]! + efforts[j]! < efforts[i]!) continue
        if (a >= 0 && room[a]! + efforts[i]! < efforts[j]!) continue
        room[b]! += efforts[j]! - efforts[i]!
        if (a >= 0) room[a]! += efforts[i]! - efforts[j]!
        placed[i] = b
        placed[j] = a
        better = true
      }
  }
  return { placed, total: placed.reduce((sum, m, i) => sum + value(i, m), 0) }
}

/** Branch and bound, depth first, with bounds by fixed prices: each choice that is not a page's best at the prices loses the difference. */
function branch(
  gains: readonly number[][],
  efforts: readonly number[],
  months: number,
  aMonth: number,
  prices: Float64Array,
  start: Packed,
  bound: number,
  slack: (packed: Packed) => number,
  mostSeen: number,
): Packed & { bound: number } {
  const options = gains.map((row, i) => {
    const all = [{ month: -1, left: 0 }]
    for (let m = 0; m < months; m++) if (row[m]! > 0) all.push({ month: m, left: row[m]! - prices[m]! * efforts[i]! })
    return all.sort((a, b) => b.left - a.left)
  })
  const order = options.map((_, i) => i).sort((a, b) => options[b]![0]!.left - options[a]![0]!.left)
  const root =
    prices.reduce((sum, price) => sum + price * aMonth, 0) + options.reduce((sum, each) => sum + each[0]!.left, 0)
  let best = start
  let nodes = 0
  const placed = new Int32Array(gains.length).fill(-1)
  const room = new Float64Array(months).fill(aMonth)
  const at = new Int32Array(order.length)
  const uppers = new Float64Array(order.length + 1)
  const totals = new Float64Array(order.length + 1)
  uppers[0] = root
  let depth = 0
  while (depth >= 0 && nodes < mostSeen) {
    if (depth === order.length) {
      if (totals[depth]! > best.total) best = { placed: placed.slice(), total: totals[depth]! }
      depth--
      continue
    }
    const i = order[depth]!
    const was = placed[i]!
    if (was >= 0) {
      room[was]! += efforts[i]!
      placed[i] = -1
    }
    const option = options[i]![at[depth]!]
    const upper = option ? uppers[depth]! - options[i]![0]!.left + option.left : 0
    if (!option || upper <= best.total + slack(best)) {
      at[depth] = 0
      depth--
      continue
    }
    at[depth]!++
    if (option.month >= 0 && room[option.month]! < efforts[i]!) continue
    nodes++
    placed[i] = option.month
    if (option.month >= 0) room[option.month]! -= efforts[i]!
    uppers[depth + 1] = upper
    totals[depth + 1] = totals[depth]! + (option.month >= 0 ? gains[i]![option.month]! : 0)
    depth++
  }
  const proven = depth < 0 ? best.total + slack(best) : bound
  return { ...best, bound: Math.min(bound, proven) }
}
