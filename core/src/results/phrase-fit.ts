import { contentStems } from '../words/coverage.ts'
import { splitWords } from '../words/split-words.ts'
import { stem } from '../words/stem.ts'

export type FitField = 'title' | 'headings' | 'text' | 'address' | 'description'
export type PhraseMatch = 'phrase' | 'near' | 'all' | 'some' | 'none'
export type PhraseFit = { fit: number | null; fields: Partial<Record<FitField, { match: PhraseMatch; score: number }>> }

/** Weight of each field in the fit. */
export const fieldWeights: Record<FitField, number> = {
  title: 0.35,
  headings: 0.2,
  text: 0.2,
  address: 0.15,
  description: 0.1,
}
/** Score of a field by how the phrase stands in it; "some" is multiplied by the share of stems found. */
export const matchScores: Record<PhraseMatch, number> = { phrase: 1, near: 0.8, all: 0.6, some: 0.4, none: 0 }

/** How a keyword stands in one text. "near": all its stems within a window of twice the number of its words. */
export function matchPhrase(keyword: string, text: string, language: string): { match: PhraseMatch; score: number } {
  const wanted = splitWords(keyword)
  const words = splitWords(text)
  if (!wanted.length || !words.length) return { match: 'none', score: 0 }
  for (let at = 0; at + wanted.length <= words.length; at++)
    if (wanted.every((word, i) => words[at + i] === word)) return { match: 'phrase', score: matchScores.phrase }
  const stems = contentStems(keyword, language)
  const found = words.map(word => stems.indexOf(stem(word, language)))
  const present = new Set(found.filter(index => index >= 0))
  if (!present.size) return { match: 'none', score: 0 }
  if (present.size < stems.length) return { match: 'some', score: (matchScores.some * present.size) / stems.length }
  const window = 2 * wanted.length
  for (let at = 0; at < found.length; at++) {
    const here = new Set(found.slice(at, at + window).filter(index => index >= 0))
    if (here.size === stems.length) return { match: 'near', score: matchScores.near }
  }
  return { match: 'all', score: matchScores.all }
}

const longestPassage = 300

/** The sentence of a text in which the keyword stands best, of equals the first; '' when no word of it is there. O(length). */
export function bestPassage(keyword: string, text: string, language: string): string {
  let best = { passage: '', score: 0 }
  for (const sentence of text.split(/(?<=[.!?])\s+|\n+/)) {
    const passage = sentence.slice(0, longestPassage)
    const { score } = matchPhrase(keyword, passage, language)
    if (score > best.score) best = { passage, score }
    if (score === matchScores.phrase) break
  }
  return best.passage
}

/** Words of a page's address: path only, percent escapes decoded, "-", "_", "/", "." as spaces. */
export function addressWords(url: string): string {
  const path = /^[a-z]+:\/\/[^/]+(\/[^?#]*)/i.exec(url)?.[1] ?? url
  let decoded = path
  try {
    decoded = decodeURIComponent(path)
  } catch {
    /* A broken escape is read as it stands. */
  }
  return decoded.replace(/[-_/.+]+/g, ' ').trim()
}

/**
 * Score taken for a field that was not seen of a page that ranks: all words close together. An engine rarely ranks a page whose text
 * lacks the words, so leaving the unseen fields out would make every ranking page look weaker than a new one.
 */
export const unseenScore = 0.8

/**
 * Fit of a ranking page to a keyword, 0–100; fields not known (`undefined`) count with `unseenScore`; `null` when none is known.
 * Fields and weights as in `fieldWeights`; reasons are the matches of the fields that are known.
 */
export function phraseFit(
  keyword: string,
  page: Partial<Record<FitField, string | undefined>>,
  language: string,
): PhraseFit {
  const fields: PhraseFit['fields'] = {}
  let sum = 0
  let weight = 0
  for (const field of Object.keys(fieldWeights) as FitField[]) {
    const text = page[field]
    if (text === undefined) continue
    const found = matchPhrase(keyword, field === 'address' ? addressWords(text) : text, language)
    fields[field] = found
    sum += fieldWeights[field] * found.score
    weight += fieldWeights[field]
  }
  return { fit: weight ? 100 * (sum + (1 - weight) * unseenScore) : null, fields }
}
