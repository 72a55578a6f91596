const hasWord = /[\p{L}\p{N}]/u

/**
 * Words of a page in order with the link each lies in (−1 = none). Words are kept as places in the pieces of text they came in: only
 * those beside links ever become strings of their own.
 */
export class WordStream {
  readonly #pieces: string[] = []
  readonly #places: number[] = []
  readonly link: number[] = []

  get count(): number {
    return this.link.length
  }

  /** Adds the words of a text: what stands between white space and has a letter or digit in it. */
  add(text: string, link: number): void {
    const piece = this.#pieces.push(text) - 1
    const length = text.length
    for (let at = 0; at < length; ) {
      // White space below U+0080 is a space or a control; the rest is rare.
      let code = text.charCodeAt(at)
      if (code <= 32 || code === 0xa0) {
        at++
        continue
      }
      const from = at
      let plain = false
      let other = false
      for (; at < length; at++) {
        code = text.charCodeAt(at)
        if (code <= 32 || code === 0xa0) break
        if (code >= 128) other = true
        else if ((code >= 97 && code <= 122) || (code >= 65 && code <= 90) || (code >= 48 && code <= 57)) plain = true
      }
      if (plain || (other && hasWord.test(text.slice(from, at)))) {
        this.#places.push(piece, from, at)
        this.link.push(link)
      }
    }
  }

  /** Words [from, to) with spaces between. */
  text(from: number, to: number): string {
    let out = ''
    for (let i = from; i < to; i++) {
      const at = 3 * i
      const word = this.#pieces[this.#places[at]!]!.slice(this.#places[at + 1], this.#places[at + 2])
      out = out ? `${out} ${word}` : word
    }
    return out
  }
}
type Link = { anchor: string; region: string; density: number | null; around: string }

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
  words: WordStream,
): void {
  const linked = new Uint32Array(words.count + 1)
  for (let i = 0; i < words.count; i++) linked[i + 1] = linked[i]! + (words.link[i]! >= 0 ? 1 : 0)
  links.forEach((each, i) => {
    const { from, to } = spans[i]!
    const start = Math.max(0, from - reach)
    const end = Math.min(words.count, to + reach)
    const around = from - start + (end - to)
    const inOthers = linked[from]! - linked[start]! + (linked[end]! - linked[to]!)
    each.density = around ? inOthers / around : null
    if (each.region === 'navigation' || each.region === 'footer') return
    const before = words.text(Math.max(0, from - kept), from)
    const after = words.text(to, Math.min(words.count, to + kept))
    each.around = `${before} [${each.anchor}] ${after}`.trim()
  })
}
