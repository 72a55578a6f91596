import { type ChancePlace, chancePlaces, levelAtPlace, placeChances } from './first-page.ts'
import { fitLogistic, type Samples } from './logistic.ts'
import {
  defaultModel,
  type Feature,
  type ResultFacts,
  resultStrength,
  standardise,
  type StrengthModel,
} from './strength.ts'

/** A result page as an engine showed it, best first; `key` names the keyword, by which pages are kept apart. */
export type RankedPage = { key: string; results: readonly ResultFacts[] }
export type ReliabilityBin = { from: number; to: number; count: number; predicted: number; happened: number }
export type LearnReport = {
  pages: number
  checkPages: number
  pairs: number
  /** Share of pairs of the check part that are ordered rightly: by the learnt weights, by the default ones, by site standing alone. */
  pairAccuracy: number
  defaultAccuracy: number
  standingAccuracy: number
  /** Predicted chance of the first page against what happened, of results of the check part left out one at a time. */
  reliability: ReliabilityBin[]
  /** Mean distance between predicted and happened, weighted by count (expected calibration error). */
  calibrationError: number
}
export type Learnt = { model: StrengthModel; report: LearnReport }

/** Result pages from which on weights are learnt, and how deep they must reach: first pages alone show only winners. */
export const pagesToLearn = 100
export const depthToLearn = 60
/** Every third keyword is kept for the check. */
const checkEvery = 3
/** Pairs at most; more tell nothing new and take time. */
const mostPairs = 200_000
const penalty = 2
/** A model in which standing counts for less cannot say what standing a keyword asks for. */
const leastStandingWeight = 0.02

const features = Object.keys(defaultModel.weights) as Feature[]

/**
 * Learns what makes an engine put one page above another (pairwise logistic regression, Bradley & Terry 1952 with features; weights at
 * least 0; L2), and from the same pages, each result left out in turn and asked "would it be within k?", how a lead in strength becomes a
 * chance. Keywords are split by `key` into a training and a check part; the report tells of the check part alone. `null` when there are
 * fewer than `pagesToLearn` pages, or when the pages give site standing no weight. Deterministic. O(pages · depth² · features).
 */
export function learnStrength(pages: readonly RankedPage[], name: string): Learnt | null {
  if (pages.length < pagesToLearn) return null
  const inOrder = [...pages].sort((a, b) => textHash(a.key) - textHash(b.key) || (a.key < b.key ? -1 : 1))
  const training = inOrder.filter((_, i) => i % checkEvery)
  const check = inOrder.filter((_, i) => i % checkEvery === 0)
  const scaled: StrengthModel = { ...defaultModel, name, scales: scalesOf(training) }
  const samples = pairSamples(training, scaled)
  const fitted = fitLogistic(samples, { penalty, atLeastZero: features.map(() => true) })
  const weights = Object.fromEntries(features.map((feature, f) => [feature, fitted[f]!])) as StrengthModel['weights']
  if (weights.siteStanding < leastStandingWeight) return null
  const model: StrengthModel = { ...scaled, weights, slope: { ...scaled.slope }, offset: { ...scaled.offset } }
  for (const place of chancePlaces) {
    const threshold = fitThreshold(training, model, place)
    if (!threshold) continue
    model.slope[place] = threshold.slope
    model.offset[place] = threshold.offset
  }
  return { model, report: reportOf(model, check, training.length, samples.happened.length) }
}

/** FNV-1a, so that the split does not follow the order in which keywords were made. */
function textHash(text: string): number {
  let hash = 0x811c9dc5
  for (let i = 0; i < text.length; i++) hash = Math.imul(hash ^ text.charCodeAt(i), 0x01000193)
  return (hash ^ (hash >>> 15)) >>> 0
}

function scalesOf(pages: readonly RankedPage[]): StrengthModel['scales'] {
  const scales = { ...defaultModel.scales }
  for (const feature of features) {
    const { log } = scales[feature]
    const values = pages
      .flatMap(page => page.results.map(facts => facts[feature]))
      .filter(value => value !== null)
      .map(value => (log ? Math.log1p(value) : value))
    if (values.length < 2) continue
    const mean = values.reduce((sum, value) => sum + value, 0) / values.length
    const spread = Math.sqrt(values.reduce((sum, value) => sum + (value - mean) ** 2, 0) / values.length)
    if (spread > 1e-6) scales[feature] = { mean, spread, log }
  }
  return scales
}

/** Differences of features between a result and one below it, one way and the other in turn, so that no constant is learnt. */
function pairSamples(pages: readonly RankedPage[], model: StrengthModel): Samples {
  const all = pages.reduce((sum, { results }) => sum + (results.length * (results.length - 1)) / 2, 0)
  const every = Math.max(1, Math.ceil(all / mostPairs))
  const kept = Math.floor(all / every)
  const x = new Float64Array(kept * features.length)
  const happened = new Uint8Array(kept)
  let [seen, row] = [0, 0]
  for (const { results } of pages) {
    const values = results.map(facts => features.map(feature => standardise(model, feature, facts[feature])))
    for (let i = 0; i < results.length; i++)
      for (let j = i + 1; j < results.length; j++) {
        if (seen++ % every || row === kept) continue
        const sign = row % 2 ? 1 : -1
        for (let f = 0; f < features.length; f++)
          x[row * features.length + f] = sign * (values[i]![f]! - values[j]![f]!)
        happened[row++] = sign > 0 ? 1 : 0
      }
  }
  return { features: features.length, x, happened }
}

/** Leads of results over place k among the others, and whether they stood within k. */
function leads(
  pages: readonly RankedPage[],
  model: StrengthModel,
  place: number,
): Array<[lead: number, within: boolean]> {
  return pages.flatMap(({ results }) => {
    if (results.length < place + 3) return []
    const strengths = results.map(facts => resultStrength(facts, model).strength)
    return strengths.map((own, i): [number, boolean] => [
      own - levelAtPlace([...strengths.slice(0, i), ...strengths.slice(i + 1)], place)!,
      i < place,
    ])
  })
}

function fitThreshold(
  pages: readonly RankedPage[],
  model: StrengthModel,
  place: ChancePlace,
): { slope: number; offset: number } | null {
  const list = leads(pages, model, place)
  if (!list.some(([, within]) => within) || !list.some(([, within]) => !within)) return null
  const x = new Float64Array(list.length * 2)
  const happened = new Uint8Array(list.length)
  list.forEach(([lead, within], i) => {
    x[2 * i] = lead
    x[2 * i + 1] = 1
    happened[i] = within ? 1 : 0
  })
  const [slope, offset] = fitLogistic({ features: 2, x, happened }, { penalty: 1e-3, atLeastZero: [true, false] })
  // Without a slope no standing would ever be enough.
  return slope! > 1e-3 ? { slope: slope!, offset: offset! } : null
}

/** Share of pairs of results that a measure orders as the engine did; equal ones count half. `null` without pairs. */
export function pairAccuracy(pages: ReadonlyArray<readonly number[]>): number | null {
  let [right, all] = [0, 0]
  for (const values of pages)
    for (let i = 0; i < values.length; i++)
      for (let j = i + 1; j < values.length; j++) {
        all++
        right += values[i]! > values[j]! ? 1 : values[i]! === values[j]! ? 0.5 : 0
      }
  return all ? right / all : null
}

const bins = 10
/** Predictions in tenths against what happened. Empty tenths are left out. */
export function reliabilityOf(list: ReadonlyArray<[chance: number, happened: boolean]>): ReliabilityBin[] {
  const sums = Array.from({ length: bins }, () => ({ count: 0, chance: 0, happened: 0 }))
  for (const [chance, happened] of list) {
    const bin = sums[Math.min(bins - 1, Math.floor(chance * bins))]!
    bin.count++
    bin.chance += chance
    bin.happened += happened ? 1 : 0
  }
  return sums.flatMap(({ count, chance, happened }, i) =>
    count ? [{ from: i / bins, to: (i + 1) / bins, count, predicted: chance / count, happened: happened / count }] : [],
  )
}
/** Expected calibration error: mean |predicted − happened| over tenths, weighted by count; 0 without any. */
export function calibrationError(table: readonly ReliabilityBin[]): number {
  const all = table.reduce((sum, bin) => sum + bin.count, 0)
  return all ? table.reduce((sum, bin) => sum + bin.count * Math.abs(bin.predicted - bin.happened), 0) / all : 0
}

function reportOf(model: StrengthModel, check: readonly RankedPage[], pages: number, pairs: number): LearnReport {
  const byModel = (each: StrengthModel): number =>
    pairAccuracy(check.map(page => page.results.map(facts => resultStrength(facts, each).strength))) ?? 0
  const asked = check.flatMap(({ results }): Array<[number, boolean]> => {
    if (results.length < 13) return []
    const strengths = results.map(facts => resultStrength(facts, model).strength)
    return strengths.map((own, i) => [
      placeChances(own, [...strengths.slice(0, i), ...strengths.slice(i + 1)], model)![10],
      i < 10,
    ])
  })
  const reliability = reliabilityOf(asked)
  return {
    pages,
    checkPages: check.length,
    pairs,
    pairAccuracy: byModel(model),
    defaultAccuracy: byModel(defaultModel),
    standingAccuracy: pairAccuracy(check.map(page => page.results.map(facts => facts.siteStanding ?? 0))) ?? 0,
    reliability,
    calibrationError: calibrationError(reliability),
  }
}
