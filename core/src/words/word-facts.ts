import { intentWeights, isActivity } from './intent-words.ts'
import { type LanguageWords, languageWords } from './language-words.ts'
import { plainStem, stem } from './stem.ts'

/** What a word tells of any phrase it stands in. */
export type WordFacts = {
  stem: string
  /** Its stem by rules alone, which sources of figures go by. */
  plain: string
  /** Carries no subject. */
  idle: boolean
  question: boolean
  preposition: boolean
  comparison: boolean
  /** Leading a phrase it makes a comparison of it: "difference between". */
  difference: boolean
  /** Log weights of intents, in the order of `intents`; null when the word tells none. */
  weights: readonly number[] | null
  activity: boolean
  /** What a word does to the order of those around it, which else does not count. */
  binds: Binding | null
}
/**
 * doing: a form in -ing, which with the word behind it is another thing than with the one before it ("throwing wheel", "wheel throwing").
 * target: where to ("berlin to rome"). last: small, but with a meaning of its own at the end ("sign in", "vitamin a"). complement: a word
 * whose "to" is no direction ("guide to pottery").
 */
export type Binding = 'doing' | 'target' | 'last' | 'complement'

const known = new Map<string, Map<string, WordFacts>>()
/** Words kept per language: keywords repeat theirs. Emptied when full so that memory stays bounded. */
const mostKept = 200_000

/** Facts of one lower-case word in a language (ISO 639-1). The same object for the same word, as long as it is kept; numbers are not kept, since there is no end of them. */
export function factsOf(word: string, language: string): WordFacts {
  if (isNumber(word)) return new NumberFacts(word)
  let ours = known.get(language)
  if (!ours) known.set(language, (ours = new Map()))
  const hit = ours.get(word)
  if (hit) return hit
  const lists = languageWords(language)
  const facts: WordFacts = {
    stem: stem(word, language),
    plain: plainStem(word, language),
    idle: lists.functionWords.has(word),
    question: lists.questions.has(word),
    preposition: lists.prepositions.has(word),
    comparison: lists.comparisons.has(word),
    difference: word === 'difference' || word === 'unterschied',
    weights: intentWeights(word),
    activity: isActivity(word),
    binds: bindingOf(word, lists),
  }
  if (ours.size >= mostKept) ours.clear()
  ours.set(word, facts)
  return facts
}

function bindingOf(word: string, { targets, last, complements, doing }: LanguageWords): Binding | null {
  if (targets.has(word)) return 'target'
  if (last.has(word)) return 'last'
  if (complements.has(word)) return 'complement'
  return doing?.test(word) ? 'doing' : null
}

class NumberFacts implements WordFacts {
  readonly stem: string
  readonly plain: string
  readonly idle = false
  readonly question = false
  readonly preposition = false
  readonly comparison = false
  readonly difference = false
  readonly weights = null
  readonly activity = false
  readonly binds = null

  constructor(digits: string) {
    this.stem = digits
    this.plain = digits
  }
}

/** Whether a word is of the digits 0 to 9 alone. */
export function isNumber(word: string): boolean {
  for (let i = 0; i < word.length; i++) {
    const code = word.charCodeAt(i)
    if (code < 48 || code > 57) return false
  }
  return true
}
