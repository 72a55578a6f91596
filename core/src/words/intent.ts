import { splitWords } from './split-words.ts'

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
  booking: [0, 0, 0.6, 0.6, 2.8],
  hours: [0.4, 0, 0, 0.6, 1],
  class: [0, 0, 0, 0, 1.6],
  classes: [0, 0, 0, 0, 1.6],
  studio: [0, 0, 0, 0, 1.4],
  login: [0, 0, 0, 5, 0],
  official: [0, 0, 0, 4, 0],
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

/**
 * Leading search intent of a keyword with its probability (0–1): softmax over base weights plus the weights of its words
 * and of features on its first page (log-linear model). `local`, `shopping`, `answer` are what the page showed, if known.
 */
export function guessIntent(
  phrase: string,
  page?: { local: boolean; shopping: boolean; answer: boolean },
): IntentGuess {
  const sums = [...base]
  const reasons: string[] = []
  for (const word of splitWords(phrase)) {
    const weights = wordWeights[word]
    if (!weights) continue
    weights.forEach((weight, i) => {
      sums[i]! += weight
    })
    reasons.push(`the word "${word}"`)
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
  const top = Math.max(...sums)
  const powers = sums.map(sum => Math.exp(sum - top))
  const total = powers.reduce((a, b) => a + b, 0)
  const lead = powers.indexOf(Math.max(...powers))
  return {
    intent: intents[lead]!,
    probability: powers[lead]! / total,
    reasons: reasons.length ? reasons : ['no telling word'],
  }
}
