import { contentStems, coverageOf } from '../words/coverage.ts'
import { splitWords } from '../words/split-words.ts'

export type BriefLines = {
  title: string
  description: string
  headings: readonly string[]
  terms: readonly string[]
  wordsFrom: number | null
  wordsTo: number | null
  links: ReadonlyArray<{ from: string; anchor: string }>
}
export type PageLines = {
  title: string | null
  description: string | null
  headings: readonly string[]
  text: string
  words: number | null
  /** Own pages that link to it, by identity of their address, with the words of their links. */
  linkedFrom: ReadonlyMap<string, readonly string[]>
}
export type BriefLineCheck = {
  what: 'title' | 'description' | 'heading' | 'term' | 'words' | 'link' | 'keyword'
  wanted: string
  state: 'done' | 'missing' | 'different'
  has: string | null
}

const plain = (text: string): string => splitWords(text).join(' ')

/**
 * A brief held against the page as it was read: each line done, missing or different, with what the page has in its place. Texts are
 * compared by their words; a heading is different where one of the page has all its content words; a term is there when all its stems
 * stand in the page's text. `keywords` are those the page is for: each should stand in title, headings or text. `identityOf` makes
 * addresses comparable. O(words).
 */
export function checkBrief(
  brief: BriefLines,
  page: PageLines,
  keywords: readonly string[],
  language: string,
  identityOf: (address: string) => string | null,
): BriefLineCheck[] {
  const covers = coverageOf([page.title, ...page.headings, page.text].join('\n'), language)
  const headings = page.headings.map(text => ({ text, words: plain(text), covers: coverageOf(text, language) }))
  const checks: BriefLineCheck[] = []
  const whole = (what: 'title' | 'description', wanted: string, has: string | null): void => {
    if (wanted)
      checks.push({ what, wanted, has, state: !has ? 'missing' : plain(has) === plain(wanted) ? 'done' : 'different' })
  }
  whole('title', brief.title, page.title)
  whole('description', brief.description, page.description)
  for (const wanted of brief.headings) {
    const same = headings.find(each => each.words === plain(wanted))
    const near =
      same ?? headings.find(each => contentStems(wanted, language).length > 0 && each.covers(wanted) !== 'no')
    checks.push({
      what: 'heading',
      wanted,
      has: near?.text ?? null,
      state: same ? 'done' : near ? 'different' : 'missing',
    })
  }
  for (const wanted of brief.terms)
    checks.push({ what: 'term', wanted, has: null, state: covers(wanted) === 'no' ? 'missing' : 'done' })
  for (const wanted of keywords)
    checks.push({ what: 'keyword', wanted, has: null, state: covers(wanted) === 'no' ? 'missing' : 'done' })
  if (page.words !== null && (brief.wordsFrom !== null || brief.wordsTo !== null)) {
    const fits = page.words >= (brief.wordsFrom ?? 0) && page.words <= (brief.wordsTo ?? Number.POSITIVE_INFINITY)
    const wanted = [brief.wordsFrom, brief.wordsTo]
      .map(each => each?.toLocaleString('en') ?? '')
      .join(' to ')
      .trim()
    checks.push({
      what: 'words',
      wanted: `${wanted} words`,
      has: `${page.words.toLocaleString('en')} words`,
      state: fits ? 'done' : 'different',
    })
  }
  for (const { from, anchor } of brief.links) {
    const anchors = page.linkedFrom.get(identityOf(from) ?? '')
    const same = anchors?.some(each => !anchor || plain(each) === plain(anchor))
    checks.push({
      what: 'link',
      wanted: anchor ? `${from} with "${anchor}"` : from,
      has: anchors?.length ? `linked with "${anchors[0]}"` : null,
      state: same ? 'done' : anchors?.length ? 'different' : 'missing',
    })
  }
  return checks
}
