import { contentStems } from '../words/coverage.ts'
import { splitWords } from '../words/split-words.ts'
import { stem } from '../words/stem.ts'

export type AdKeyword = {
  id: number
  phrase: string
  searches: number | null
  cpc: number | null
  bidLow: number | null
  bidHigh: number | null
}
export type AdGroup = { name: string; keywords: AdKeyword[] }

/** A word in more than this share of the keywords is what all of them are about, and parts nothing. */
const commonShare = 0.6

/**
 * Keywords in groups by a word they share: again and again the word that most of those left share makes a group, named after its most
 * frequent form, until none has `least` any more; the rest is the last group, under `restName`. Words in over 60 % of the keywords part
 * nothing. Groups by searches, keywords of a group too. O(keywords × words × groups).
 */
export function groupForAds(
  keywords: readonly AdKeyword[],
  { language, least, restName }: { language: string; least: number; restName: string },
): AdGroup[] {
  const stemsOf = new Map(keywords.map(keyword => [keyword.id, contentStems(splitWords(keyword.phrase), language)]))
  const count = (list: readonly AdKeyword[]): Map<string, number> => {
    const counts = new Map<string, number>()
    for (const { id } of list)
      for (const each of new Set(stemsOf.get(id))) counts.set(each, (counts.get(each) ?? 0) + 1)
    return counts
  }
  const all = count(keywords)
  const parts = (each: string): boolean => all.get(each)! <= commonShare * keywords.length
  const groups: AdGroup[] = []
  let left = [...keywords]
  for (;;) {
    const [best] = [...count(left)]
      .filter(([each, times]) => times >= Math.max(1, least) && parts(each))
      .sort(([a, m], [b, n]) => n - m || (a < b ? -1 : 1))
    if (!best) break
    const group = left.filter(({ id }) => stemsOf.get(id)!.includes(best[0]))
    groups.push({ name: wordOf(best[0], group, language), keywords: bySearches(group) })
    const taken = new Set(group.map(({ id }) => id))
    left = left.filter(({ id }) => !taken.has(id))
  }
  const sum = ({ keywords: list }: AdGroup): number => list.reduce((total, each) => total + (each.searches ?? 0), 0)
  groups.sort((a, b) => sum(b) - sum(a) || (a.name < b.name ? -1 : 1))
  return left.length ? [...groups, { name: restName, keywords: bySearches(left) }] : groups
}

const bySearches = (keywords: readonly AdKeyword[]): AdKeyword[] =>
  keywords.toSorted((a, b) => (b.searches ?? -1) - (a.searches ?? -1) || a.id - b.id)

/** The most frequent form of a stem among phrases. */
function wordOf(wanted: string, group: readonly AdKeyword[], language: string): string {
  const forms = new Map<string, number>()
  for (const { phrase } of group)
    for (const word of splitWords(phrase))
      if (stem(word, language) === wanted) forms.set(word, (forms.get(word) ?? 0) + 1)
  return [...forms].sort(([a, m], [b, n]) => n - m || (a < b ? -1 : 1))[0]?.[0] ?? wanted
}

/**
 * The highest bid for a click: the middle of the source's bid range, but no more than `worth`, what a visit is worth where that is known;
 * without a range the CPC. `null` where neither is known. In the currency of the ads data, rounded to cents.
 */
export function highestBid({ cpc, bidLow, bidHigh }: AdKeyword, worth: number | null = null): number | null {
  const middle = bidLow !== null && bidHigh !== null ? (bidLow + bidHigh) / 2 : cpc
  if (middle === null) return null
  return Math.round(100 * (worth === null ? middle : Math.min(middle, worth))) / 100
}
