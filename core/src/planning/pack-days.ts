/** A choice by days stops where it is proven to be this near the best. */
const nearEnough = 0.005
/** How long it is looked for a better choice and a nearer bound. */
export type Pains = { prices: number; months: number; nodes: number }

/**
 * Pages in months with room for so many days of work, so that they bring most: a generalized assignment problem, bounded by Lagrange multipliers of
 * the months and of the pages (Fisher 1981), then by branch and bound. `gains`: by page and month, −∞ where it may not be; `forcedIn`: what of a choice's total
 * is there only because pages must be in. Gives the month of each page (−1 = none) and what no choice can exceed.
 */
export function packDays(
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
