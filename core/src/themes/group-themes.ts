import type { KeywordPages } from './keyword-pages.ts'

/** Around a lead: all share enough pages with it. Every pair: all share enough pages with each other. */
export const groupMethods = ['lead', 'pairs'] as const
export type GroupMethod = (typeof groupMethods)[number]

/**
 * `themeOf`: the theme of each keyword, −1 = alone. `leads`: the keyword that leads each theme, in rising order. A theme has two keywords or
 * more.
 */
export type Themes = { themeOf: Int32Array; leads: Int32Array }

/** As many pages as are kept as bits of one number. */
const maskBits = 31
/** A page that fewer keywords have costs less in a list than as a bit. */
const fewestForBit = 64

/**
 * Themes of keywords by the pages that they share.
 *
 * Around a lead: keywords are gone through in their order (`leadOrder`); one that shares at least `threshold` pages with a lead joins the
 * first such, else it leads. Every pair: one joins the theme in which it shares as many with every member, of several that with the largest
 * sum of shared pages, then the first; else it leads. Who leads nobody is alone.
 *
 * Only leads are looked up by page, so a keyword costs what leads have its pages. Pages that very many have are bits of one number in place
 * of lists: exact, and without them a page on a fifth of the keywords makes it ten times as slow.
 */
export function groupThemes(
  packed: KeywordPages,
  { threshold, method }: { threshold: number; method: GroupMethod },
): Themes {
  const { starts, pages, pageCount } = packed
  const count = starts.length - 1
  const times = new Int32Array(pageCount)
  for (let at = 0; at < pages.length; at++) times[pages[at]!]!++
  const maskOf = masks(packed, times)
  // Postings: leads by page, with room for all keywords that have the page. One that a single keyword has joins nobody. Where the leads of a
  // page begin and end stand side by side: they are read together, from places all over the memory.
  const spans = new Int32Array(2 * pageCount)
  let room = 0
  for (let page = 0; page < pageCount; page++) {
    const listed = times[page]! > 1
    spans[2 * page] = spans[2 * page + 1] = listed ? room : -1
    if (listed) room += times[page]!
  }
  const postings = new Int32Array(room)
  const groupOf = new Int32Array(count)
  const leadOf = new Int32Array(count)
  let groups = 0
  const lastMember = new Int32Array(count)
  const memberBefore = new Int32Array(count)
  const shared = new Int32Array(count)
  const touched = new Int32Array(count)
  // Leads that can share enough by popular pages alone.
  const maskLeads = maskOf && new MaskIndex(threshold)
  const maskOfGroup = maskOf && new Int32Array(count)
  const seen = new Int32Array(maskOf && method === 'pairs' ? count : 0).fill(-1)
  const stamp = method === 'pairs' ? new Int32Array(pageCount).fill(-1) : null

  /** Sum of the pages that a stamped keyword shares with all members of a group, −1 where one shares too few. */
  const agreement = (group: number, current: number): number => {
    let sum = 0
    for (let member = lastMember[group]!; member >= 0; member = memberBefore[member]!) {
      let both = 0
      for (let at = starts[member]!; at < starts[member + 1]!; at++) if (stamp![pages[at]!] === current) both++
      if (both < threshold) return -1
      sum += both
    }
    return sum
  }
  for (let current = 0; current < count; current++) {
    const from = starts[current]!
    const to = starts[current + 1]!
    const mask = maskOf ? maskOf[current]! : 0
    const byMask = mask !== 0 && bits(mask) >= threshold
    let best = -1
    if (to - from >= threshold) {
      let some = 0
      for (let at = from; at < to; at++) {
        const span = 2 * pages[at]!
        const end = spans[span + 1]!
        for (let entry = spans[span]!; entry < end; entry++) {
          const group = postings[entry]!
          if (shared[group]!++ === 0) touched[some++] = group
        }
      }
      if (method === 'lead') {
        for (let t = 0; t < some; t++) {
          const group = touched[t]!
          let both = shared[group]!
          shared[group] = 0
          if (mask !== 0) both += bits(mask & maskOfGroup![group]!)
          if (both >= threshold && (best < 0 || group < best)) best = group
        }
        // Lists are in the order of groups, and the first is wanted: none is walked beyond the best so far.
        if (maskLeads && byMask)
          for (let l = maskLeads.find(mask) - 1; l >= 0; l--) {
            const list: readonly number[] = maskLeads.found[l]!
            for (let i = 0; i < list.length; i++) {
              const group = list[i]!
              if (best >= 0 && group >= best) break
              if (bits(mask & maskOfGroup![group]!) >= threshold) best = group
            }
          }
      } else {
        if (maskLeads && byMask)
          for (let l = maskLeads.find(mask) - 1; l >= 0; l--)
            for (const group of maskLeads.found[l]!) {
              if (bits(mask & maskOfGroup![group]!) < threshold || shared[group] !== 0 || seen[group] === current)
                continue
              seen[group] = current
              touched[some++] = group
            }
        for (let at = from; at < to; at++) stamp![pages[at]!] = current
        let bestSum = -1
        for (let t = 0; t < some; t++) {
          const group = touched[t]!
          const both = shared[group]! + (mask === 0 ? 0 : bits(mask & maskOfGroup![group]!))
          shared[group] = 0
          if (both < threshold) continue
          const sum = agreement(group, current)
          if (sum > bestSum || (sum === bestSum && sum >= 0 && group < best)) {
            best = group
            bestSum = sum
          }
        }
      }
    }
    if (best < 0) {
      best = groups++
      leadOf[best] = current
      lastMember[best] = -1
      if (maskOfGroup) maskOfGroup[best] = mask
      for (let at = from; at < to; at++) {
        const span = 2 * pages[at]!
        if (spans[span]! >= 0) postings[spans[span + 1]!++] = best
      }
      if (maskLeads && byMask) maskLeads.add(mask, best)
    }
    groupOf[current] = best
    memberBefore[current] = lastMember[best]!
    lastMember[best] = current
  }
  return withoutAlone(groupOf, leadOf.subarray(0, groups))
}

/** The pages of most keywords as bits of each keyword, with their `times` set to 0; null where no page has so many. */
function masks({ starts, pages }: KeywordPages, times: Int32Array): Int32Array | null {
  const popular: number[] = []
  for (let page = 0; page < times.length; page++) if (times[page]! >= fewestForBit) popular.push(page)
  if (!popular.length) return null
  popular.sort((a, b) => times[b]! - times[a]! || a - b)
  const bitOf = new Int32Array(times.length)
  for (const [bit, page] of popular.slice(0, maskBits).entries()) {
    bitOf[page] = 1 << bit
    times[page] = 0
  }
  const maskOf = new Int32Array(starts.length - 1)
  for (let i = 0; i < maskOf.length; i++)
    for (let at = starts[i]!; at < starts[i + 1]!; at++) maskOf[i]! |= bitOf[pages[at]!]!
  return maskOf
}

/**
 * Numbers by the bits of their masks, to find those that share `least` bits or more with another. Whatever two masks share at least so many
 * bits, the two highest they share stand among the highest m − least + 2 of each (m its bits): so each is listed by the pairs of these alone,
 * which leaves a twelfth of all to be looked at where a mask has six bits of thirty. For a single bit all are in one list.
 */
class MaskIndex {
  readonly #least: number
  readonly #lists: number[][] = Array.from({ length: maskBits * maskBits }, () => [])
  readonly #highest = new Int32Array(maskBits)
  /** The lists that `find` found. */
  readonly found: number[][] = []
  constructor(least: number) {
    this.#least = least
  }
  add(mask: number, value: number): void {
    for (let l = this.find(mask) - 1; l >= 0; l--) this.found[l]!.push(value)
  }
  /** How many lists there are in which all stand that share enough, each in the order in which they were added; one may be in several. */
  find(mask: number): number {
    if (this.#least < 2) {
      this.found[0] = this.#lists[0]!
      return 1
    }
    const wanted = bits(mask) - this.#least + 2
    let some = 0
    for (let bit = maskBits - 1; bit >= 0 && some < wanted; bit--) if (mask & (1 << bit)) this.#highest[some++] = bit
    let lists = 0
    for (let a = 0; a < some; a++)
      for (let b = a + 1; b < some; b++)
        this.found[lists++] = this.#lists[this.#highest[a]! * maskBits + this.#highest[b]!]!
    return lists
  }
}

/** How many bits of a number are set. */
export function bits(value: number): number {
  let v = value - ((value >>> 1) & 0x55555555)
  v = (v & 0x33333333) + ((v >>> 2) & 0x33333333)
  return (((v + (v >>> 4)) & 0x0f0f0f0f) * 0x01010101) >>> 24
}

/** Themes of groups whose leads stand in rising order, those of one keyword left out. */
export function withoutAlone(groupOf: Int32Array, leadOf: ArrayLike<number>): Themes {
  const sizes = new Int32Array(leadOf.length)
  for (let i = 0; i < groupOf.length; i++) sizes[groupOf[i]!]!++
  const numbers = new Int32Array(leadOf.length).fill(-1)
  const leads: number[] = []
  for (let group = 0; group < leadOf.length; group++) {
    if (sizes[group]! < 2) continue
    numbers[group] = leads.length
    leads.push(leadOf[group]!)
  }
  return { themeOf: groupOf.map(group => numbers[group]!), leads: Int32Array.from(leads) }
}
