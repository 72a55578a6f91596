import type { RowWriter } from '../db/copy-rows.ts'
import { GrowingInts } from './growing-ints.ts'
import { PairCodes } from './pair-codes.ts'

/** Pairs of a linked site and a linking page kept at most: about 20 bytes each. */
const mostPages = 3_000_000
/** Dates are whole days; so low that every day is later, and so high that every day is earlier. */
const [noLast, noFirst] = [-(2 ** 31), 2 ** 31 - 1]

/** A link as sums need it: ids of sites and page, code of `rel`, days since 2000, `null` = not known. */
export type SummedLink = {
  targetSite: number
  sourceSite: number
  sourcePage: number
  rel: number
  first: number | null
  last: number | null
}

/**
 * Sums of links by linked and linking site while a list is read, as `sumLinks` reckons them from the table, for links that are there.
 * Links of a site to itself do not count.
 */
export class SiteSums {
  readonly #pairs = new PairCodes()
  readonly #pages = new PairCodes()
  readonly #links = new GrowingInts()
  readonly #follow = new GrowingInts()
  readonly #pageCounts = new GrowingInts()
  readonly #first = new GrowingInts()
  readonly #last = new GrowingInts()

  /** Whether there was more than can be remembered: the sums are wrong then. */
  get isFull(): boolean {
    return this.#pages.count >= mostPages
  }

  /** Counts a link that did not come before. */
  add(link: SummedLink): void {
    const at = this.#days(link)
    if (at < 0) return
    addOne(this.#links, at)
    if (link.rel === 0) addOne(this.#follow, at)
    const before = this.#pages.count
    if (this.#pages.at(link.targetSite, link.sourcePage) === before) addOne(this.#pageCounts, at)
  }
  /** Takes in the days of a link that was counted before. */
  again(link: SummedLink): void {
    this.#days(link)
  }

  /** Takes in the days of a link and gives the number of its sum, -1 when it does not count. */
  #days({ targetSite, sourceSite, first, last }: SummedLink): number {
    if (targetSite === sourceSite || this.isFull) return -1
    const before = this.#pairs.count
    const at = this.#pairs.at(targetSite, sourceSite)
    if (at === before) {
      for (const counts of [this.#links, this.#follow, this.#pageCounts]) counts.push(0)
      this.#first.push(noFirst)
      this.#last.push(noLast)
    }
    if (first !== null && first < this.#first.get(at)) this.#first.set(at, first)
    if (last !== null && last > this.#last.get(at)) this.#last.set(at, last)
    return at
  }

  /** Numbers of the sums of these linked sites, in the order of their key. */
  of(targetSites: ReadonlySet<number>): number[] {
    const pairs = this.#pairs
    const numbers: number[] = []
    for (let at = 0; at < pairs.count; at++) if (targetSites.has(pairs.first(at))) numbers.push(at)
    return numbers.sort((a, b) => pairs.first(a) - pairs.first(b) || pairs.second(a) - pairs.second(b))
  }

  /** Writes a row of `linking_site` behind its graph. */
  readonly write = (out: RowWriter, at: number): void => {
    out.integer(this.#pairs.first(at))
    out.integer(this.#pairs.second(at))
    out.integer(this.#links.get(at))
    // What a list names is there.
    out.integer(this.#links.get(at))
    out.integer(this.#follow.get(at))
    out.integer(this.#pageCounts.get(at))
    const [first, last] = [this.#first.get(at), this.#last.get(at)]
    out.integer(first === noFirst ? null : first)
    out.integer(last === noLast ? null : last)
  }
}

const addOne = (counts: GrowingInts, at: number): void => counts.set(at, counts.get(at) + 1)
