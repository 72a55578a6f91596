import type { Ranked } from './ranked.ts'

/** Sums of the keywords for which each page stands highest, in order of first appearance. */
export function sumPages({ rankings, row, visits, worth, part, count }: Ranked) {
  const positions = new Map<number, number>()
  const ids: number[] = []
  const sums = {
    keywords: new Int32Array(count),
    within10: new Int32Array(count),
    visits: new Float64Array(count),
    visitsKnown: new Int32Array(count),
    worth: new Float64Array(count),
    worthKnown: new Int32Array(count),
    /** Place of the keyword that brings it most, the higher position among equals. */
    top: new Int32Array(count),
  }
  for (let i = 0; i < count; i++) {
    const r = row[i]!
    const now = rankings.now[r]!
    if (!now) continue
    let at = positions.get(rankings.page[r]!)
    if (at === undefined) {
      at = ids.length
      positions.set(rankings.page[r]!, at)
      ids.push(rankings.page[r]!)
      sums.top[at] = i
    }
    sums.keywords[at]!++
    if (now <= 10) sums.within10[at]!++
    if (!Number.isNaN(visits[i]!)) {
      sums.visits[at]! += visits[i]! * part[i]!
      sums.visitsKnown[at]!++
    }
    if (!Number.isNaN(worth[i]!)) {
      sums.worth[at]! += worth[i]! * part[i]!
      sums.worthKnown[at]!++
    }
    const top = sums.top[at]!
    const [brings, brought] = [orLess(visits[i]!), orLess(visits[top]!)]
    if (brings > brought || (brings === brought && now < rankings.now[row[top]!]!)) sums.top[at] = i
  }
  return { ids, sums }
}
const orLess = (value: number): number => (Number.isNaN(value) ? -1 : value)
