import type { KeywordPages } from './keyword-pages.ts'

/**
 * Pairs of keywords that share at least `least` pages: those of keyword i with ones before it are `others[starts[i]]` and on, with as many
 * pages as `shared` says.
 */
export type SharedPairs = { starts: Int32Array; others: Int32Array; shared: Uint8Array }

/** How many steps counting all pairs takes: half the squares of how many keywords each page has. */
export function pairSteps({ pages, pageCount }: KeywordPages): number {
  const times = new Int32Array(pageCount)
  for (const page of pages) times[page]!++
  return times.reduce((sum, each) => sum + (each * (each - 1)) / 2, 0)
}

/** Counts the pages that pairs of keywords share, by lists of keywords a page. O(`pairSteps`) time, five bytes a pair found. */
export function countSharedPairs({ starts, pages, pageCount }: KeywordPages, least: number): SharedPairs {
  const count = starts.length - 1
  const room = new Int32Array(pageCount + 1)
  for (const page of pages) room[page + 1]!++
  for (let page = 0; page < pageCount; page++) room[page + 1]! += room[page]!
  const filled = room.slice(0, pageCount)
  const postings = new Int32Array(pages.length)
  const counts = new Uint8Array(count)
  const touched = new Int32Array(count)
  const pairStarts = new Int32Array(count + 1)
  let others = new Int32Array(Math.max(1024, 8 * count))
  let shared = new Uint8Array(others.length)
  let found = 0
  for (let i = 0; i < count; i++) {
    let some = 0
    for (let at = starts[i]!; at < starts[i + 1]!; at++) {
      const page = pages[at]!
      const end = filled[page]!
      for (let entry = room[page]!; entry < end; entry++) {
        const other = postings[entry]!
        if (counts[other]!++ === 0) touched[some++] = other
      }
      postings[filled[page]!++] = i
    }
    if (found + some > others.length) {
      const size = Math.max(2 * others.length, found + some)
      others = grown(others, new Int32Array(size))
      shared = grown(shared, new Uint8Array(size))
    }
    for (let t = 0; t < some; t++) {
      const other = touched[t]!
      if (counts[other]! >= least) {
        others[found] = other
        shared[found++] = counts[other]!
      }
      counts[other] = 0
    }
    pairStarts[i + 1] = found
  }
  return { starts: pairStarts, others: others.subarray(0, found), shared: shared.subarray(0, found) }
}

function grown<T extends Int32Array | Uint8Array>(from: T, to: T): T {
  to.set(from)
  return to
}
