const hasWord = /[\p{L}\p{N}]/u
/** Whether a text has an ASCII letter or digit at a place, as most words have at their start. */
function startsPlain(text: string, at: number): boolean {
  const code = text.charCodeAt(at)
  return (code >= 97 && code <= 122) || (code >= 65 && code <= 90) || (code >= 48 && code <= 57)
}

/**
 * Words of a page in order with the link each lies in (−1 = none). Words are kept as places in the pieces of text they came in: only
 * those beside links ever become strings of their own.
 */
export class WordStream {
  readonly #pieces: string[] = []
  /** Per word the piece it lies in, its two ends there, and its link: growing lists of numbers took a seventh of all the reading of a page. */
  #words = new Int32Array(4 * 2_048)
  count = 0

  linkOf(word: number): number {
    return this.#words[4 * word + 3]!
  }

  /** Adds the words of a text with single spaces as its only white space: what stands between them and has a letter or digit in it. */
  add(text: string, link: number): void {
    const piece = this.#pieces.push(text) - 1
    for (let from = 0, to: number; from < text.length; from = to + 1) {
      // Looking for the next space is many times as fast as looking at every character.
      to = text.indexOf(' ', from)
      if (to < 0) to = text.length
      if (!startsPlain(text, from) && !hasWord.test(text.slice(from, to))) continue
      if (4 * this.count === this.#words.length) {
        const more = new Int32Array(2 * this.#words.length)
        more.set(this.#words)
        this.#words = more
      }
      const words = this.#words
      const at = 4 * this.count++
      words[at] = piece
      words[at + 1] = from
      words[at + 2] = to
      words[at + 3] = link
    }
  }

  /** Words [from, to) with spaces between. */
  text(from: number, to: number): string {
    let out = ''
    for (let i = from; i < to; i++) {
      const at = 4 * i
      const word = this.#pieces[this.#words[at]!]!.slice(this.#words[at + 1], this.#words[at + 2])
      out = out ? `${out} ${word}` : word
    }
    return out
  }
}
type Link = { anchor: string; region: string; linkedAround: number | null; around: string }

/** Words on each side that count as around a link. */
const reach = 40
/** Words on each side that are kept to read. */
const kept = 8

/**
 * Fills in `linkedAround` and the surroundings of links from the words of the page. `spans` are the words of each link, [from, to). `linkedAround` is the
 * share of the words within 40 on both sides that lie in other links, so a link in running text has about 0 and one in a list about 1.
 * By running sums: O(words + links).
 */
export function linkSurroundings(
  links: Link[],
  spans: ReadonlyArray<{ from: number; to: number }>,
  words: WordStream,
): void {
  const linked = new Uint32Array(words.count + 1)
  for (let i = 0; i < words.count; i++) linked[i + 1] = linked[i]! + (words.linkOf(i) >= 0 ? 1 : 0)
  links.forEach((each, i) => {
    const { from, to } = spans[i]!
    const start = Math.max(0, from - reach)
    const end = Math.min(words.count, to + reach)
    const around = from - start + (end - to)
    const inOthers = linked[from]! - linked[start]! + (linked[end]! - linked[to]!)
    each.linkedAround = around ? inOthers / around : null
    if (each.region === 'navigation' || each.region === 'footer') return
    const before = words.text(Math.max(0, from - kept), from)
    const after = words.text(to, Math.min(words.count, to + kept))
    each.around = `${before} [${each.anchor}] ${after}`.trim()
  })
}
