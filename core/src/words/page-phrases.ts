import { languageWords } from './language-words.ts'
import { splitWords } from './split-words.ts'

/** A page's words by field; `null` where it has none. `text` is the reading matter, lines apart. */
export type PageText = {
  title: string | null
  headings: readonly string[]
  description: string | null
  text: string
}
/** `pages` have the phrase in the given fields; `times` is how often the text has it. Weight orders the list. */
export type PagePhrase = {
  phrase: string
  weight: number
  pages: number
  inTitle: number
  inHeadings: number
  times: number
}

const longest = 4
const fieldWeights = { title: 5, headings: 3, description: 2 }
/** From this many pages on, a phrase on more than this share of them is the site's name or furniture. */
const pagesForFurniture = 6
const furnitureShare = 0.6
/** Marks that no phrase runs across. */
const breaks = /[.,;:!?()[\]{}"“”„«»|/\n\t–—·•>]+|\s-\s/u

type Count = { pages: number; inTitle: number; inHeadings: number; inDescription: number; times: number }

/**
 * Phrases of one to four words that pages are about, weightiest first: those of titles, headings and descriptions, and those a text
 * repeats. A phrase neither begins nor ends with a function word; one that stands only inside a longer phrase of the list is left out,
 * and so is what nearly every page of a site has. Weight: 5 a title, 3 a page with it in headings, 2 a description, ln(1 + times) in the
 * text. O(words).
 */
export function pagePhrases(pages: readonly PageText[], language: string, most: number): PagePhrase[] {
  const idle = languageWords(language).functionWords
  const counts = new Map<string, Count>()
  for (const page of pages) {
    const seen = new Set<string>()
    const add = (text: string | null, field: 'inTitle' | 'inHeadings' | 'inDescription' | 'times'): void => {
      if (!text) return
      const here = new Set<string>()
      for (const phrase of phrasesOf(text, idle)) {
        let count = counts.get(phrase)
        if (!count) {
          count = { pages: 0, inTitle: 0, inHeadings: 0, inDescription: 0, times: 0 }
          counts.set(phrase, count)
        }
        if (!seen.has(phrase)) {
          seen.add(phrase)
          count.pages++
        }
        if (field === 'times') count.times++
        else if (!here.has(phrase)) {
          here.add(phrase)
          count[field]++
        }
      }
    }
    add(page.title, 'inTitle')
    add(page.headings.join('\n'), 'inHeadings')
    add(page.description, 'inDescription')
    add(page.text, 'times')
  }
  const isFurniture = ({ pages: with_ }: Count): boolean =>
    pages.length >= pagesForFurniture && with_ > furnitureShare * pages.length
  const listed = [...counts]
    .filter(([, count]) => !isFurniture(count))
    .map(([phrase, count]) => ({
      phrase,
      weight:
        fieldWeights.title * count.inTitle +
        fieldWeights.headings * count.inHeadings +
        fieldWeights.description * count.inDescription +
        (count.times > 1 ? Math.log1p(count.times) : 0),
      pages: count.pages,
      inTitle: count.inTitle,
      inHeadings: count.inHeadings,
      times: count.times,
    }))
    .filter(each => each.weight > 0)
  return withoutParts(listed)
    .sort((a, b) => b.weight - a.weight || b.phrase.length - a.phrase.length || (a.phrase < b.phrase ? -1 : 1))
    .slice(0, most)
}

function* phrasesOf(text: string, idle: ReadonlySet<string>): Generator<string> {
  for (const piece of text.split(breaks)) {
    const words = splitWords(piece)
    for (let from = 0; from < words.length; from++) {
      if (idle.has(words[from]!)) continue
      for (let length = 1; length <= longest && from + length <= words.length; length++) {
        const last = words[from + length - 1]!
        if (idle.has(last)) continue
        const phrase = words.slice(from, from + length).join(' ')
        if (phrase.length < 3 || !/\p{L}{2}/u.test(phrase)) continue
        yield phrase
      }
    }
  }
}

/** Leaves out phrases that are nowhere but within one longer phrase: as often, on as many pages. */
function withoutParts(list: PagePhrase[]): PagePhrase[] {
  const byPhrase = new Map(list.map(each => [each.phrase, each]))
  const parts = new Set<string>()
  for (const whole of list) {
    const words = whole.phrase.split(' ')
    for (let length = 1; length < words.length; length++)
      for (let from = 0; from + length <= words.length; from++) {
        const part = byPhrase.get(words.slice(from, from + length).join(' '))
        if (part && part.weight <= whole.weight && part.times <= whole.times && part.pages <= whole.pages)
          parts.add(part.phrase)
      }
  }
  return list.filter(each => !parts.has(each.phrase))
}
