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
  for (const page of pages) times[page]!++
  const { bitOf, maskOf } = masks(packed, times)
  // Postings: leads by page, room for all keywords that have the page.
  const room = new Int32Array(pageCount + 1)
  for (let page = 0; page < pageCount; page++) room[page + 1] = room[page]! + (bitOf[page]! ? 0 : times[page]!)
  const filled = room.slice(0, pageCount)
  const postings = new Int32Array(room[pageCount]!)
  const groupOf = new Int32Array(count)
  const leadOf: number[] = []
  const lastMember: number[] = []
  const memberBefore = new Int32Array(count)
  const shared = new Int32Array(count)
  const touched = new Int32Array(count)
  // Leads that can share enough by popular pages alone.
  const maskLeads: number[] = []
  const stamp = new Int32Array(pageCount).fill(-1)

  /** Sum of the pages that a keyword shares with all members of a group, −1 where one shares too few. */
  const agreement = (group: number): number => {
    let sum = 0
    for (let member = lastMember[group]!; member >= 0; member = memberBefore[member]!) {
      let both = 0
      for (let at = starts[member]!; at < starts[member + 1]!; at++) if (stamp[pages[at]!] === current) both++
      if (both < threshold) return -1
      sum += both
    }
    return sum
  }
  let current = 0
  for (; current < count; current++) {
    const [from, to] = [starts[current]!, starts[current + 1]!]
    const mask = maskOf[current]!
    let best = -1
    let bestSum = -1
    const consider = (group: number): void => {
      if (method === 'lead') {
        if (best < 0 || group < best) best = group
        return
      }
      const sum = agreement(group)
      if (sum > bestSum || (sum === bestSum && sum >= 0 && group < best)) {
        best = group
        bestSum = sum
      }
    }
    if (to - from >= threshold) {
      if (method === 'pairs') for (let at = from; at < to; at++) stamp[pages[at]!] = current
      let some = 0
      for (let at = from; at < to; at++) {
        const page = pages[at]!
        const end = filled[page]!
        for (let entry = room[page]!; entry < end; entry++) {
          const group = postings[entry]!
          if (shared[group]!++ === 0) touched[some++] = group
        }
      }
      for (let t = 0; t < some; t++) {
        const group = touched[t]!
        if (shared[group]! + bits(mask & maskOf[leadOf[group]!]!) >= threshold) consider(group)
      }
      if (bits(mask) >= threshold)
        for (const group of maskLeads) {
          if (method === 'lead' && best >= 0 && group >= best) break
          if (shared[group] === 0 && bits(mask & maskOf[leadOf[group]!]!) >= threshold) consider(group)
        }
      for (let t = 0; t < some; t++) shared[touched[t]!] = 0
    }
    if (best < 0) {
      best = leadOf.length
      leadOf.push(current)
      lastMember.push(-1)
      for (let at = from; at < to; at++) if (!bitOf[pages[at]!]) postings[filled[pages[at]!]!++] = best
      if (bits(mask) >= threshold) maskLeads.push(best)
    }
    groupOf[current] = best
    memberBefore[current] = lastMember[best]!
    lastMember[best] = current
  }
  return withoutAlone(groupOf, leadOf)
}

/** The pages of most keywords as bits: `bitOf` a page (0 = none), `maskOf` a keyword. */
function masks({ starts, pages }: KeywordPages, times: Int32Array): { bitOf: Int32Array; maskOf: Int32Array } {
  const bitOf = new Int32Array(times.length)
  const popular: number[] = []
  for (let page = 0; page < times.length; page++) if (times[page]! >= fewestForBit) popular.push(page)
  popular.sort((a, b) => times[b]! - times[a]! || a - b)
  for (const [bit, page] of popular.slice(0, maskBits).entries()) bitOf[page] = 1 << bit
  const maskOf = new Int32Array(starts.length - 1)
  for (let i = 0; i < maskOf.length; i++)
    for (let at = starts[i]!; at < starts[i + 1]!; at++) maskOf[i]! |= bitOf[pages[at]!]!
  return { bitOf, maskOf }
}

/** How many bits of a number are set. */
export function bits(value: number): number {
  let v = value - ((value >>> 1) & 0x55555555)
  v = (v & 0x33333333) + ((v >>> 2) & 0x33333333)
  return (((v + (v >>> 4)) & 0x0f0f0f0f) * 0x01010101) >>> 24
}

/** Themes of groups whose leads stand in rising order, those of one keyword left out. */
export function withoutAlone(groupOf: Int32Array, leadOf: readonly number[]): Themes {
  const sizes = new Int32Array(leadOf.length)
  for (const group of groupOf) sizes[group]!++
  const numbers = new Int32Array(leadOf.length).fill(-1)
  const leads: number[] = []
  for (let group = 0; group < leadOf.length; group++) {
    if (sizes[group]! < 2) continue
    numbers[group] = leads.length
    leads.push(leadOf[group]!)
  }
  return { themeOf: groupOf.map(group => numbers[group]!), leads: Int32Array.from(leads) }
}
