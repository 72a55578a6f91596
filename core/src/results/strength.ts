/** What is known of a result; `null` = unknown. Standing, trust and fit 0–100, linking sites a count, age in years. */
export type ResultFacts = {
  siteStanding: number | null
  pageStanding: number | null
  trust: number | null
  linkingSites: number | null
  fit: number | null
  ageYears: number | null
}
export type Feature = keyof ResultFacts
type Scale = { mean: number; spread: number; log: boolean }
export type StrengthModel = {
  name: string
  weights: Record<Feature, number>
  scales: Record<Feature, Scale>
  slope: Record<number, number>
  offset: Record<number, number>
}

/**
 * Documented default model, used until strengths are learnt from known result pages. Weights are per spread of a feature: how
 * well a page fits counts most, then the standing of its site; sites linking to the page itself count little, because home pages have
 * most of them whatever they fit. All are 0 or more, because
 * more of any of these never hurts. `slope` and `offset` turn a lead in strength over place k into a chance of standing within k.
 */
export const defaultModel: StrengthModel = {
  name: 'default weights',
  weights: { siteStanding: 0.9, pageStanding: 0.35, trust: 0.25, linkingSites: 0.12, fit: 1.2, ageYears: 0.12 },
  scales: {
    siteStanding: { mean: 45, spread: 20, log: false },
    pageStanding: { mean: 25, spread: 18, log: false },
    trust: { mean: 40, spread: 20, log: false },
    linkingSites: { mean: 1.6, spread: 1.1, log: true },
    fit: { mean: 68, spread: 18, log: false },
    ageYears: { mean: 2.1, spread: 0.7, log: true },
  },
  slope: { 1: 1, 3: 1.1, 5: 1.1, 10: 1.1, 20: 1.1 },
  offset: { 1: -0.9, 3: -0.5, 5: -0.3, 10: 0, 20: 0.2 },
}

/** The standardised value of a feature: (x − mean)/spread, x as ln(1+x) where the scale says so. Unknown is the mean, so it adds nothing. */
export function standardise(model: StrengthModel, feature: Feature, value: number | null): number {
  if (value === null) return 0
  const { mean, spread, log } = model.scales[feature]
  return ((log ? Math.log1p(value) : value) - mean) / spread
}

export type Strength = { strength: number; parts: Array<{ feature: Feature; value: number | null; adds: number }> }

/** Strength s = w·x of a result on the model's own scale, with what each feature adds; unknown features add 0 and say so. */
export function resultStrength(facts: ResultFacts, model: StrengthModel): Strength {
  const parts = (Object.keys(model.weights) as Feature[]).map(feature => ({
    feature,
    value: facts[feature],
    adds: model.weights[feature] * standardise(model, feature, facts[feature]),
  }))
  return { strength: parts.reduce((sum, part) => sum + part.adds, 0), parts }
}

/** A new page that fits well: fit 90, two linking sites, on a site of the given standing; the rest unknown. */
export function newPageFacts(siteStanding: number): ResultFacts {
  return { siteStanding, pageStanding: null, trust: null, linkingSites: 2, fit: 90, ageYears: null }
}

/** The site standing at which a new well-fitting page is as strong as `strength`; may lie outside 0–100. Exact, since s is linear in it. */
export function standingForStrength(strength: number, model: StrengthModel): number {
  const atZero = resultStrength(newPageFacts(0), model).strength
  const perPoint = model.weights.siteStanding / model.scales.siteStanding.spread
  if (!(perPoint > 0))
    throw new RangeError('the model gives site standing no weight, so nothing can be told on its scale')
  return (strength - atZero) / perPoint
}
