/** Words of a page in order with the link each lies in (−1 = none). */
export type WordStream = { words: string[]; link: number[] }
type Link = { anchor: string; density: number | null; around: string }

/** Words on each side that count as around a link. */
const reach = 40
/** Words on each side that are kept to read. */
const kept = 8

/**
 * Fills in density and surroundings of links from the page's words. `spans` are the words of each link, [from, to). Density is the
 * share of the words within 40 on both sides that lie in other links, so a link in running text has about 0 and one in a list about 1.
 * By running sums: O(words + links).
 */
export function linkSurroundings(
  links: Link[],
  spans: ReadonlyArray<{ from: number; to: number }>,
  { words, link }: WordStream,
): void {
  const linked = new Uint32Array(words.length + 1)
  for (let i = 0; i < words.length; i++) linked[i + 1] = linked[i]! + (link[i]! >= 0 ? 1 : 0)
  links.forEach((each, i) => {
    const { from, to } = spans[i]!
    const start = Math.max(0, from - reach)
    const end = Math.min(words.length, to + reach)
    const around = from - start + (end - to)
    const inOthers = linked[from]! - linked[start]! + (linked[end]! - linked[to]!)
    each.density = around ? inOthers / around : null
    const before = words.slice(Math.max(0, from - kept), from).join(' ')
    const after = words.slice(to, to + kept).join(' ')
    each.around = `${before} [${each.anchor}] ${after}`.trim()
  })
}
