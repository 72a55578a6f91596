import { wordsOf } from './split-words.ts'
import { stem } from './stem.ts'

export const intents = ['learn', 'compare', 'buy', 'go', 'near'] as const
export type Intent = (typeof intents)[number]
export type IntentGuess = { intent: Intent; probability: number; reasons: string[] }

/** Base log weights where no word tells anything: learn, compare, buy, go to a site, find nearby. */
const base: readonly number[] = [0.3, -0.2, 0.35, -2.2, -1.5]

/** Log weights that a word adds, in the order of `intents`. One table for all languages, since the words differ. */
const wordWeights: Record<string, readonly number[]> = {
  how: [3, 0, -1, 0, 0],
  what: [2.6, 0.2, -1, 0, 0],
  why: [3.2, 0, -1, 0, 0],
  when: [2.6, 0, -1, 0, 0],
  can: [2, 0, 0, 0, 0],
  is: [1.6, 0.6, 0, 0, 0],
  are: [1.2, 0.8, 0, 0, 0],
  tutorial: [3, 0, 0, 0, 0],
  ideas: [2.6, 0, 0, 0, 0],
  meaning: [3.2, 0, 0, 0, 0],
  explained: [3, 0, 0, 0, 0],
  recipe: [3, 0, 0, 0, 0],
  recipes: [3, 0, 0, 0, 0],
  diy: [2.8, 0, -0.5, 0, 0],
  make: [2, 0, 0, 0, 0],
  learn: [2.6, 0, 0, 0, 0],
  video: [2.4, 0, 0, 0.4, 0],
  temperature: [2.6, 0, 0, 0, 0],
  step: [2, 0, 0, 0, 0],
  cracking: [2.4, 0, 0, 0, 0],
  safety: [2.4, 0, 0, 0, 0],
  instructions: [2.4, 0, 0, 0, 0],
  inspiration: [2.4, 0, 0, 0, 0],
  size: [0.8, 0.4, 0, 0, 0],
  best: [0, 2.6, 0.6, 0, 0],
  top: [0, 2, 0.3, 0, 0],
  review: [0, 2.6, 0.3, 0, 0],
  reviews: [0, 2.6, 0.3, 0, 0],
  vs: [0.9, 2.4, 0, 0, 0],
  or: [0.6, 1.8, 0, 0, 0],
  compared: [0.8, 2.4, 0, 0, 0],
  difference: [2, 1.6, 0, 0, 0],
  which: [0.2, 2.6, 0.3, 0, 0],
  worth: [0.4, 2.2, 0.2, 0, 0],
  buy: [0, 0, 3, 0, 0],
  sale: [0, 0, 2.8, 0, 0],
  cheap: [0, 0.8, 2, 0, 0],
  price: [0.2, 1.1, 1.4, 0, 0],
  prices: [0.2, 1.1, 1.4, 0, 0],
  cost: [0.6, 1.1, 0.9, 0, 0],
  shop: [0, 0, 2.6, 0, 0.3],
  used: [0, 0.3, 2.2, 0, 0.2],
  kit: [0, 0.3, 1.5, 0, 0],
  set: [0, 0.3, 1.4, 0, 0],
  parts: [0, 0, 2, 0, 0],
  supplies: [0, 0, 2, 0, 0],
  supplier: [0, 0, 1.8, 0, 0.4],
  voucher: [0, 0, 2.4, 0, 0],
  gift: [0, 0.6, 1.8, 0, 0],
  near: [0, 0, 0, 0, 4],
  nearby: [0, 0, 0, 0, 4.4],
  opening: [0, 0, 0, 1, 3.6],
  hours: [0.4, 0, 0, 0.6, 1],
  class: [0, 0, 0, 0, 1.6],
  classes: [0, 0, 0, 0, 1.6],
  studio: [0, 0, 0, 0, 1.4],
  login: [0, 0, 0, 5, 0],
  official: [0, 0, 0, 4, 0],
  beginner: [0.7, 1.1, 0.2, 0, 0],
  home: [0.9, 0, 0, 0, 0],
  without: [1.7, 0.2, 0, 0, 0],
  versus: [0.9, 2.4, 0, 0, 0],
  between: [1, 0.8, 0, 0, 0],
  clean: [2.4, 0, 0, 0, 0],
  maintenance: [2.2, 0, 0, 0, 0],
  repair: [2, 0, 0, 0, 0.4],
  fix: [2.4, 0, 0, 0, 0],
  crack: [2.2, 0, 0, 0, 0],
  use: [1.2, 0, 0, 0, 0],
  using: [2, 0, 0, 0, 0],
  build: [2.2, 0, 0, 0, 0],
  homemade: [2, 0, 0, 0, 0],
  mix: [1.8, 0, 0, 0, 0],
  safe: [1.8, 0, 0, 0, 0],
  dangerous: [2.4, 0, 0, 0, 0],
  long: [1.6, 0, 0, 0, 0],
  time: [1.4, 0, 0, 0, 0],
  chart: [1.8, 0.2, 0, 0, 0],
  colour: [0.9, 0.4, 0.2, 0, 0],
  color: [0.9, 0.4, 0.2, 0, 0],
  design: [1.6, 0.2, 0, 0, 0],
  dimension: [1.4, 0.4, 0, 0, 0],
  pattern: [1.4, 0.2, 0, 0, 0],
  history: [2.8, 0, 0, 0, 0],
  watch: [1.6, 0, 0, 0.3, 0],
  affordable: [0, 0.8, 1.6, 0, 0],
  budget: [0, 0.9, 1.4, 0, 0],
  wholesale: [0, 0, 2, 0, 0],
  bulk: [0, 0, 1.8, 0, 0],
  rated: [0, 2.2, 0.2, 0, 0],
  should: [0.6, 1.6, 0.2, 0, 0],
  complaint: [0.2, 2.4, 0, 0.4, 0],
  alternative: [0.2, 2.6, 0, 0, 0],
  hire: [0, 0.2, 0.8, 0, 1.6],
  where: [0.2, 0, 0.3, 0, 2.2],
  find: [0.2, 0.2, 0.2, 0, 1.2],
  booking: [0, 0, 0.6, 0.6, 2.8],
  open: [0, 0, 0, 1, 2.4],
  today: [0.2, 0, 0, 0.4, 1.6],
  contact: [0, 0, 0, 3, 0.6],
  phone: [0, 0, 0, 2.6, 0.6],
  delivery: [0.2, 0, 0.8, 1.8, 0],
  returns: [0.2, 0, 0.2, 2.4, 0],
  website: [0, 0, 0, 3.4, 0],
  code: [0, 0.2, 1.4, 0.6, 0],
  wie: [3, 0, -1, 0, 0],
  was: [2.4, 0.4, -1, 0, 0],
  warum: [3.2, 0, -1, 0, 0],
  anleitung: [3, 0, 0, 0, 0],
  ideen: [2.6, 0, 0, 0, 0],
  selber: [2.8, 0, -0.5, 0, 0],
  selbst: [2.6, 0, -0.5, 0, 0],
  bedeutung: [3, 0, 0, 0, 0],
  lernen: [2.6, 0, 0, 0, 0],
  temperatur: [2.6, 0, 0, 0, 0],
  beste: [0, 2.6, 0.6, 0, 0],
  test: [0, 2.6, 0.3, 0, 0],
  vergleich: [0, 2.8, 0.2, 0, 0],
  oder: [0.6, 1.8, 0, 0, 0],
  unterschied: [2, 1.6, 0, 0, 0],
  kaufen: [0, 0, 3.2, 0, 0],
  bestellen: [0, 0, 3, 0, 0],
  günstig: [0, 0.6, 2, 0, 0],
  günstige: [0, 0.6, 2, 0, 0],
  gebraucht: [0, 0.2, 2.2, 0, 0],
  preis: [0.2, 1.1, 1.4, 0, 0],
  nähe: [0, 0, 0, 0, 4.2],
  kurs: [0, 0, 0, 0, 1.4],
  geschenk: [0, 0.6, 1.8, 0, 0],
}

/** The table by stem, so that "prices" and "cracks" are found too; words with an entry of their own keep it. */
const byWord = new Map(Object.entries(wordWeights))
const byStem = new Map([...byWord].map(([word, weights]) => [stem(word, 'en'), weights]))
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
  const sums = [...base]
  const reasons: string[] = []
  const words = wordsOf(phrase)
  for (const word of words) {
    const weights = byWord.get(word) ?? byStem.get(stem(word, 'en'))
    if (!weights) continue
    addTo(sums, weights)
    reasons.push(`the word "${word}"`)
  }
  const doing = words.find(word => word.length > 5 && word.endsWith('ing') && !byWord.has(word))
  if (doing) {
    addTo(sums, activity)
    reasons.push(`the activity "${doing}"`)
  }
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
  let lead = 0
  for (let i = 1; i < sums.length; i++) if (sums[i]! > sums[lead]!) lead = i
  let total = 0
  for (const sum of sums) total += Math.exp(sum - sums[lead]!)
  return {
    intent: intents[lead]!,
    probability: 1 / total,
    reasons: reasons.length ? reasons : ['no telling word'],
  }
}

function addTo(sums: number[], weights: readonly number[]): void {
  for (let i = 0; i < sums.length; i++) sums[i]! += weights[i]!
}
