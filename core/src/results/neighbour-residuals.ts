/**
 * Result pages known far below the first page, as neighbour residuals need them: `at` are numbers of `addresses`, best first, and `beyond` how much
 * stronger each has shown itself there than its strength tells, on the scale of strength.
 */
export type KnownPages = { addresses: string[]; pages: Array<{ key: string; at: number[]; beyond: number[] }> }

/** Results by which two result pages are found alike; a result counts 1/place^0.25: what stands first tells a little more. */
const likeResults = 20
const likeFall = 0.25
/** What is alike by half tells less than half: a likeness counts to this power. */
const likePower = 2
/** A record is drawn towards 0 as if this much of a page exactly alike, that shows nothing, stood beside those known. */
const nothingShown = 0.3

/**
 * What a result page shows of each result beyond its strength: by how much it would have to be stronger or weaker for the strengths to
 * stand in the order of the page. `strengths`: best place first. O(n log n).
 */
export function beyondStrength(strengths: readonly number[]): number[] {
  const falling = Float64Array.from(strengths).sort().reverse()
  return strengths.map((strength, i) => falling[i]! - strength)
}

/** Known pages from result pages, best first, by keyword; results without an address are left out. Rounded to 0.01. */
export function knownPages(
  pages: ReadonlyArray<{ key: string; results: ReadonlyArray<{ url?: string | undefined; strength: number }> }>,
): KnownPages {
  const numbers = new Map<string, number>()
  const numberOf = (url: string): number => {
    const known = numbers.get(url)
    if (known === undefined) numbers.set(url, numbers.size)
    return known ?? numbers.size - 1
  }
  const numbered = pages.map(({ key, results }) => {
    const beyond = beyondStrength(results.map(({ strength }) => strength))
    const kept = results.flatMap(({ url }, i) => (url === undefined ? [] : [{ url, beyond: beyond[i]! }]))
    return {
      key,
      at: kept.map(({ url }) => numberOf(url)),
      beyond: kept.map(each => Math.round(each.beyond * 100) / 100),
    }
  })
  return { addresses: [...numbers.keys()], pages: numbered }
}

/**
 * Records of results at near keywords: engines that show the same pages mean nearly the same by two keywords, so how a page stood at one
 * tells of the other what no word does. Likeness of two result pages is the cosine of their first 20 results.
 */
export class NeighbourResiduals {
  readonly #number: Map<string, number>
  readonly #pages: KnownPages['pages']
  /** By address: the pages it stands on, what it showed on each, and what it counts in the likeness to each, 0 below the 20. */
  readonly #on: Array<{ pages: number[]; beyond: number[]; share: number[] }>

  /** O(results known). */
  constructor({ addresses, pages }: KnownPages) {
    this.#number = new Map(addresses.map((address, i) => [address, i]))
    this.#pages = pages
    this.#on = addresses.map(() => ({ pages: [], beyond: [], share: [] }))
    for (const [page, { at, beyond }] of pages.entries()) {
      const length = lengthOf(at.length)
      for (const [i, address] of at.entries()) {
        const on = this.#on[address]!
        on.pages.push(page)
        on.beyond.push(beyond[i]!)
        on.share.push(i < likeResults ? weightOf(i) / length : 0)
      }
    }
  }

  /**
   * What results with these addresses, best first, of a keyword's page have shown at near keywords, on the scale of strength; `asked` =
   * other addresses to tell it of. `null` where an address stood at none of them. Pages of the keyword itself are left out: they would
   * tell the order they are asked about. O(asked · known pages of each).
   */
  of(key: string, urls: readonly string[], wanted: ReadonlyArray<string | undefined> = urls): Array<number | null> {
    const likeness = new Float64Array(this.#pages.length)
    const length = lengthOf(urls.length)
    for (const [i, url] of urls.slice(0, likeResults).entries()) {
      const on = this.#on[this.#number.get(url) ?? -1]
      const weight = weightOf(i) / length
      on?.pages.forEach((page, k) => {
        likeness[page]! += weight * on.share[k]!
      })
    }
    return wanted.map(url => {
      const on = url === undefined ? undefined : this.#on[this.#number.get(url) ?? -1]
      let [sum, weight] = [0, 0]
      on?.pages.forEach((page, k) => {
        if (this.#pages[page]!.key === key) return
        const like = likeness[page]! ** likePower
        sum += like * on.beyond[k]!
        weight += like
      })
      return weight > 0 ? sum / (weight + nothingShown) : null
    })
  }
}

const weightOf = (i: number): number => (i + 1) ** -likeFall
const lengthOf = (results: number): number =>
  Math.hypot(...Array.from({ length: Math.min(results, likeResults) }, (_, i) => weightOf(i)))

const indexOf = new WeakMap<KnownPages, NeighbourResiduals>()
/** The index of known pages, made once for each. */
export function neighbourResidualsOf(known: KnownPages): NeighbourResiduals {
  let index = indexOf.get(known)
  if (!index) indexOf.set(known, (index = new NeighbourResiduals(known)))
  return index
}
