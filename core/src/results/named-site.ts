import { splitWords } from '../words/split-words.ts'

/** Names shorter than this may be a word of the keyword by chance. */
const shortestName = 4

/**
 * The domain of a site that a keyword names, or `null`: the first result is the home page of a site whose domain, up to its first dot, is
 * spelt by words of the keyword that stand side by side ("clay harbour kilns" and clayharbour.example; "&" counts as "and"). Who types
 * such a keyword wants to get to that site, so pages of others gain little by being written for it. O(words²).
 */
export function namedSite(keyword: string, first: { url: string; domain: string } | undefined): string | null {
  if (!first || !/^[a-z]+:\/\/[^/?#]+\/?$/i.test(first.url)) return null
  const name = first.domain.split('.')[0]!.replaceAll('-', '').toLowerCase()
  if (name.length < shortestName) return null
  const words = splitWords(keyword.replaceAll('&', ' and '))
  for (let from = 0; from < words.length; from++) {
    let spelt = ''
    for (let to = from; to < words.length && spelt.length < name.length; to++) {
      spelt += words[to]!.replace(/[^\p{L}\p{N}]/gu, '').toLowerCase()
      if (spelt === name) return first.domain
    }
  }
  return null
}

/** By result: 100 when it is of the site that the keyword names (`namedSite`), else 0; `null` where the keyword names none. */
export function namedShares(
  keyword: string,
  results: ReadonlyArray<{ url: string; domain: string }>,
): Array<number | null> {
  const named = namedSite(keyword, results[0])
  return results.map(({ domain }) => (named === null ? null : domain === named ? 100 : 0))
}
