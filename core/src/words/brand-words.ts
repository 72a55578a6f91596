import { splitWords } from './split-words.ts'

export type Brand = { owner: string; own: boolean; words: readonly string[] }

/**
 * Wordings by which a site is called: its name, its name with "and" for "&", and the name part of its domain, all in
 * lower case. Single words shorter than four letters are left out, since they mean other things too.
 */
export function brandWordings(name: string, domain: string): string[] {
  const label = domain.replace(/^www\./, '').split('.')[0] ?? ''
  const wordings = [name, name.replace(/&/g, ' and '), label, label.replace(/-/g, ' ')]
  return [...new Set(wordings.map(each => splitWords(each).join(' ')))].filter(each => each.length >= 4)
}

/** The brand a phrase names: all words of one of its wordings in a row. The longest wording wins; `null` where none is named. */
export function findBrand(phrase: string, brands: readonly Brand[]): Brand | null {
  const text = ` ${splitWords(phrase).join(' ')} `
  let best: Brand | null = null
  let length = 0
  for (const brand of brands)
    for (const wording of brand.words)
      if (wording.length > length && text.includes(` ${wording} `)) {
        best = brand
        length = wording.length
      }
  return best
}

/** `findBrand` for many phrases: whether a phrase can name a brand at all is far cheaper to see than which. */
export function brandFinder(brands: readonly Brand[]): (phrase: string) => Brand | null {
  const firsts = brands.flatMap(brand => brand.words.map(words => words.split(' ')[0]!)).filter(Boolean)
  if (!firsts.length) return () => null
  const any = new RegExp(firsts.map(word => word.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')).join('|'), 'i')
  return phrase => (any.test(phrase) ? findBrand(phrase, brands) : null)
}
