import { wordsOf } from './split-words.ts'
import { factsOf, type WordFacts } from './word-facts.ts'

export const intents = ['learn', 'compare', 'buy', 'go', 'near'] as const
export type Intent = (typeof intents)[number]
export type IntentGuess = { intent: Intent; probability: number; reasons: string[] }

/** Base log weights where no word tells anything: learn, compare, buy, go to a site, find nearby. */
const base: readonly number[] = [0.3, -0.2, 0.35, -2.2, -1.5]

/** Words of an activity ("slip casting"): who names one wants to know how it goes. */
const activity: readonly number[] = [1, 0, -0.2, 0, 0]
/** A brand's name: who types it wants to get there, unless other words say more. */
const brandName: readonly number[] = [0, 0.2, 0, 4.2, 0]

/**
 * Leading search intent of a keyword (or of its words) with its probability (0–1): softmax over base weights plus the weights of its words
 * and of features on its first page (log-linear model). `local`, `shopping`, `answer` are what the page showed, if known;
 * `brand` whether it names a brand.
 */
export function guessIntent(
  phrase: string | readonly string[],
  page?: { local: boolean; shopping: boolean; answer: boolean },
  brand = false,
): IntentGuess {
  const words = wordsOf(phrase)
  // The weights of words are the same in every language.
  const facts = words.map(word => factsOf(word, 'en'))
  const sums = sumOf(facts)
  const reasons = words.filter((_, i) => facts[i]!.weights).map(word => `the word "${word}"`)
  const doing = words.find((_, i) => facts[i]!.activity)
  if (doing) reasons.push(`the activity "${doing}"`)
  if (brand) {
    addTo(sums, brandName)
    reasons.push('the name of a brand')
  }
  if (page?.local) {
    sums[4]! += 2.2
    reasons.push('a map on the first page')
  }
  if (page?.shopping) {
    sums[2]! += 1.2
    reasons.push('shopping results on the first page')
  }
  if (page?.answer) {
    sums[0]! += 1
    reasons.push('an answer box on the first page')
  }
  return { ...leadOf(sums), reasons: reasons.length ? reasons : ['no telling word'] }
}

/** The same from words alone, without reasons. */
export function intentOf(words: readonly WordFacts[]): { intent: Intent; probability: number } {
  // Most phrases have no telling word.
  for (const word of words) if (word.weights || word.activity) return leadOf(sumOf(words))
  return unmarked
}

function sumOf(words: readonly WordFacts[]): number[] {
  const sums = base.slice()
  let doing = false
  for (const word of words) {
    if (word.weights) addTo(sums, word.weights)
    doing ||= word.activity
  }
  if (doing) addTo(sums, activity)
  return sums
}

function leadOf(sums: readonly number[]): { intent: Intent; probability: number } {
  let lead = 0
  for (let i = 1; i < sums.length; i++) if (sums[i]! > sums[lead]!) lead = i
  let total = 0
  for (const sum of sums) total += Math.exp(sum - sums[lead]!)
  return { intent: intents[lead]!, probability: 1 / total }
}

function addTo(sums: number[], weights: readonly number[]): void {
  for (let i = 0; i < sums.length; i++) sums[i]! += weights[i]!
}

const unmarked = leadOf(base)
