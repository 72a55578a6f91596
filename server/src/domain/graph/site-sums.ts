import type { RowWriter } from '../../platform/db/copy-rows.ts'
import { GrowingInts } from './growing-ints.ts'
import { PairCodes } from './pair-codes.ts'

/** Pairs of a linked site and a linking page kept at most: about 20 bytes each. */
const mostPages = 3_000_000
/** Dates are whole days; so low that every day is later, and so high that every day is earlier. */
const [noLast, noFirst] = [-(2 ** 31), 2 ** 31 - 1]

/** What a pair of sites has, one after another in one list. */
const [linksOf, followOf, pagesOf, firstOf, lastOf, sumsOfPair] = [0, 1, 2, 3, 4, 5]

/**
 * Sums of links by linked and linking site while a list is read, as `sumLinks` reckons them from the table, for links that are there.
 * Links of a site to itself do not count.
 */
export class SiteSums {
  readonly #pairs = new PairCodes()
  readonly #pages = new PairCodes()
  readonly #sums = new GrowingInts()

  /** Whether there was more than can be remembered: the sums are wrong then. */
  get isFull(): boolean {
    return this.#pages.count >= mostPages
  }

  /**
   * Counts a link, given by ids and by what it has: code of `rel`, days since 2000, `null` = not known. Of one that was counted before
   * (`counts` false) only the days are taken in.
   */
  add(
    targetSite: number,
    sourceSite: number,
    sourcePage: number,
    { rel, first, last }: { rel: number; first: number | null; last: number | null },
    counts: boolean,
  ): void {
    if (targetSite === sourceSite || this.isFull) return
    const sums = this.#sums
    const pair = this.#pairs.at(targetSite, sourceSite)
    const at = pair * sumsOfPair
    if (at === sums.count) for (const value of [0, 0, 0, noFirst, noLast]) sums.push(value)
    if (first !== null && first < sums.get(at + firstOf)) sums.set(at + firstOf, first)
    if (last !== null && last > sums.get(at + lastOf)) sums.set(at + lastOf, last)
    if (!counts) return
    sums.set(at + linksOf, sums.get(at + linksOf) + 1)
    if (rel === 0) sums.set(at + followOf, sums.get(at + followOf) + 1)
    const before = this.#pages.count
    if (this.#pages.at(targetSite, sourcePage) === before) sums.set(at + pagesOf, sums.get(at + pagesOf) + 1)
  }

  /** Numbers of the sums of these linked sites, in the order of their key. */
  of(targetSites: ReadonlySet<number>): number[] {
    const pairs = this.#pairs
    const numbers: number[] = []
    for (let at = 0; at < pairs.count; at++) if (targetSites.has(pairs.first(at))) numbers.push(at)
    return numbers.sort((a, b) => pairs.first(a) - pairs.first(b) || pairs.second(a) - pairs.second(b))
  }

  /** Writes a row of `linking_site` behind its graph. */
  readonly write = (out: RowWriter, pair: number): void => {
    const [sums, at] = [this.#sums, pair * sumsOfPair]
    out.integer(this.#pairs.first(pair))
    out.integer(this.#pairs.second(pair))
    out.integer(sums.get(at + linksOf))
    // What a list names is there.
    out.integer(sums.get(at + linksOf))
    out.integer(sums.get(at + followOf))
    out.integer(sums.get(at + pagesOf))
    const [first, last] = [sums.get(at + firstOf), sums.get(at + lastOf)]
    out.integer(first === noFirst ? null : first)
    out.integer(last === noLast ? null : last)
  }
}
