import { similarityShares } from './similarity.ts'
import { modifierShares } from './modifier-words.ts'
import { type Chances, likelyPositions, positionChances } from './first-page.ts'
import { sigmoid } from './logistic.ts'
import {
  bestPassage,
  type FitField,
  fieldWeights,
  matchPhrase,
  phraseFit,
  type PhraseMatch,
  addressWords,
} from './phrase-fit.ts'
import { coverageShares, type SeenResult } from './term-coverage.ts'
import { familyKey } from '../words/family-key.ts'
import { namedSite } from './named-site.ts'
import { pathTypeShares } from './path-type.ts'
import { sharedPhrases } from './shared-phrase.ts'
import { subjectShares, subjectWords } from './subject.ts'
import { type ResultFacts, resultStrength, wordsElsewhere, type SiteResult, type StrengthModel } from './strength.ts'

/** A page as its writer has it; `null` = it has none, an empty address = not published yet. */
export type WrittenPage = {
  address: string
  title: string | null
  description: string | null
  headings: readonly string[]
  text: string
  /** What the engine shows of it, and how many results stand above it, where it ranks already. */
  snippet: string | null
  above: number | null
}
/** What would help: `places` it would gain, `null` where the results' own were not seen, so that nothing can be promised. */
export type Lack = { what: FitField | 'sharedPhrase' | 'links'; now: string; want: string; positions: number | null }
export type Beside = {
  fields: Array<{ field: FitField; match: PhraseMatch; text: string | null }>
  facts: ResultFacts
  strength: number
  /** Where it would stand, from 1; a mean, so it may have decimals. */
  position: number
  chances: Chances | null
  likely: { from: number | null; to: number | null }
  lacks: Lack[]
}

/** Fields of results that a result page shows; only these make places comparable. */
const seenFields = ['title', 'address', 'description'] as const
const leastGain = 0.05

/** Expected place among results: one more than the results likely to be put above (Bradley & Terry: σ of the lead in strength). */
export const expectedPosition = (own: number, strengths: readonly number[]): number =>
  1 + strengths.reduce((sum, strength) => sum + sigmoid(strength - own), 0)

/**
 * A page put beside a result page: how the keyword stands in each of its fields, where it would stand by the strengths, and what it lacks,
 * most places first. Fit is told as for results, from title, address and what an engine would show of it: its description, or the sentence of
 * its text in which the keyword stands best. `known`: what is known of it beside its words.
 * `others` are the results without the page itself, best first. Where the keyword names another site (`namedSite`) and the page does not
 * rank, its words are worth no more than those of a page about something else. O(words).
 */
export function putBeside(
  keyword: string,
  page: WrittenPage,
  known: Pick<
    SiteResult,
    'domain' | 'siteStanding' | 'trust' | 'pageStanding' | 'linkingSites' | 'ageYears' | 'neighbours'
  >,
  others: ReadonlyArray<SeenResult & { facts: SiteResult }>,
  model: StrengthModel,
  language: string,
): Beside {
  const strengths = others.map(other => resultStrength(other.facts, model).strength)
  const first = others[0]
  const named = first && namedSite(keyword, { url: first.url, domain: first.facts.domain ?? '' })
  const namesOther = page.above === null && Boolean(named) && named !== known.domain
  const textOf: Record<FitField, string | null> = {
    title: page.title,
    headings: page.headings.join('\n') || null,
    text: page.text || null,
    address: page.address ? addressWords(page.address) : null,
    description: page.description,
  }
  const fields = (Object.keys(fieldWeights) as FitField[]).map(field => ({
    field,
    match: matchPhrase(keyword, textOf[field] ?? '', language).match,
    text: textOf[field],
  }))
  const passage = bestPassage(keyword, page.text, language)
  const rank = page.above ?? others.length
  const scoreOf = (text: string): number => matchPhrase(keyword, text, language).score
  const shown =
    page.snippet ?? (scoreOf(passage) > scoreOf(page.description ?? '') ? passage : (page.description ?? ''))
  // A page without an address yet can stand where the others do.
  const pathType = page.address
    ? pathTypeShares([...others.slice(0, rank), { url: page.address }, ...others.slice(rank)])[rank]!
    : 50
  const judge = (changed: Partial<Record<(typeof seenFields)[number], string>>, linkingSites = known.linkingSites) => {
    const title = changed.title ?? page.title ?? ''
    const description = changed.description ?? shown
    // A page without an address yet will get one that names it.
    const address = changed.address ?? (page.address || 'https://x/')
    const own: SeenResult = { title, url: address, snippet: description }
    const all = [...others.slice(0, rank), own, ...others.slice(rank)]
    const words = subjectWords(keyword, all, language)
    const facts: SiteResult = {
      ...known,
      linkingSites,
      fit: phraseFit(keyword, { title, address, description }, language).fit,
      coverage: coverageShares(keyword, all, language)[rank]!,
      similarity: similarityShares(all, language)[rank]!,
      sharedPhrase: sharedPhrases(keyword, all, language, words).shares[rank]!,
      pathType,
      subject: subjectShares(keyword, all, language, words)[rank]!,
      modifiers: modifierShares(keyword, all, language, model.words, words)[rank]!,
      named: named ? (named === known.domain ? 100 : 0) : null,
      ...(namesOther ? wordsElsewhere : {}),
    }
    const { strength } = resultStrength(facts, model)
    return { facts, strength, position: expectedPosition(strength, strengths) }
  }
  const now = judge({})
  const lacks: Lack[] = []
  const { phrase } = sharedPhrases(keyword, others, language)
  if (phrase && matchPhrase(phrase, `${page.title ?? ''}\n${shown}`, language).match !== 'phrase') {
    const positions = now.position - judge({ description: `${phrase}. ${shown}` }).position
    // Where it is the keyword itself, the fields below say so.
    if (positions >= leastGain && familyKey(phrase, language) !== familyKey(keyword, language))
      lacks.push({ what: 'sharedPhrase', now: 'no', want: phrase, positions })
  }
  for (const { field, match, text } of fields) {
    if (match === 'phrase') continue
    const seen = seenFields.find(each => each === field)
    const better = seen
      ? judge({
          [seen]:
            seen === 'address'
              ? `https://x/${keyword.replaceAll(' ', '-')}`
              : `${keyword} ${(seen === 'description' ? shown : text) ?? ''}`,
        })
      : null
    const positions = better ? now.position - better.position : null
    if (positions === null || positions >= leastGain) lacks.push({ what: field, now: match, want: 'phrase', positions })
  }
  const linked = others.slice(0, 10).flatMap(other => other.facts.linkingSites ?? [])
  const usual = linked.sort((a, b) => a - b)[Math.floor(linked.length / 2)]
  if (usual !== undefined && known.linkingSites !== null && known.linkingSites < usual) {
    const positions = now.position - judge({}, usual).position
    if (positions >= leastGain)
      lacks.push({ what: 'links', now: String(known.linkingSites), want: String(usual), positions })
  }
  lacks.sort((a, b) => (b.positions ?? -1) - (a.positions ?? -1))
  const chances = positionChances(now.strength, strengths, model, !page.address)
  return {
    fields,
    facts: now.facts,
    strength: now.strength,
    position: now.position,
    chances,
    likely: chances ? likelyPositions(chances) : { from: null, to: null },
    lacks,
  }
}
