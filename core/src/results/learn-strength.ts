import { type ChancePosition, chancePositions, levelsAtPositions, positionChances } from './first-page.ts'
import { fitLogistic, type Samples } from './logistic.ts'
import { knownPages, neighbourResidualsOf } from './neighbour-residuals.ts'
import { pageShare } from './page-share.ts'
import { fitSiteEffects } from './site-effects.ts'
import {
  defaultModel,
  type Feature,
  isWrittenFor,
  type NewPage,
  type ResultFacts,
  type SiteResult,
  resultStrength,
  curveAt,
  type StrengthModel,
  usualNewPage,
} from './strength.ts'

/** A result page as an engine showed it, best first; `key` names the keyword, by which pages are kept apart. */
export type RankedPage = { key: string; results: ReadonlyArray<SiteResult & { url?: string | undefined }> }
export type ReliabilityBin = { from: number; to: number; count: number; predicted: number; happened: number }
export type LearnReport = {
  pages: number
  pairs: number
  /** Share of pairs that are ordered rightly: by weights learnt from the other parts, by the default ones, by site standing alone. */
  pairAccuracy: number
  defaultAccuracy: number
  standingAccuracy: number
  /** Predicted chance of the first page against what happened, of results left out one at a time. */
  reliability: ReliabilityBin[]
  /** Mean distance between predicted and happened, weighted by count (expected calibration error). */
  calibrationError: number
}
export type Learnt = { model: StrengthModel; report: LearnReport }

/** Result pages from which on weights are learnt, and how deep they must reach: first pages alone show only winners. */
export const pagesToLearn = 100
export const depthToLearn = 60
/** How deep result pages are weighed: to where chances are told. */
export const weighedDepth = 20
/** Parts into which the keywords are split for the check. */
const parts = 5
/** Pairs at most; more tell nothing new and take time. */
const mostPairs = 60_000
/** Penalty as a share of the pairs of one page: those are one ranking and not as many observations as there are pairs. */
const penaltyShare = 0.1
/** A model in which standing counts for less in all cannot say what standing a keyword asks for. */
const leastStandingRise = 0.1

const features = Object.keys(defaultModel.curves) as Feature[]
/** Lines a curve is made of, at the quantiles of what is known. More follow the noise. */
const pieces: Record<Feature, number> = {
  siteStanding: 4,
  pageStanding: 3,
  trust: 3,
  linkingSites: 3,
  fit: 4,
  coverage: 5,
  similarity: 5,
  sharedPhrase: 4,
  pathType: 4,
  subject: 3,
  modifiers: 5,
  named: 1,
  ageYears: 3,
}
/**
 * A pair counts as 1/(place of its upper result + this): what orders the fiftieth place tells less of the tenth, but is not nothing.
 * Counting all alike ordered deep results better and first pages worse, leaving deep ones out the other way round.
 */
const positionsMore = 3
const countOfPair = (upper: number): number => (positionsMore + 1) / (upper + 1 + positionsMore)
/** Each line of the curve of standing rises at least this share of the whole, so that every difficulty has one standing. */
const leastRise = 0.02

/**
 * Learns what makes an engine put one page above another (pairwise logistic regression, Bradley & Terry 1952 with features; each feature a
 * curve of straight lines that never falls; L2), and from the same pages, each result left out in turn and asked "would it be within k?",
 * how a lead in strength becomes a chance. The report is of cross-validation: keywords are split by `key` into parts, and the pages of each
 * are judged by what was learnt from the others. `null` when there are fewer than `pagesToLearn` pages, or when the pages give
 * site standing no weight. Deterministic. O(pages · depth² · lines).
 */
export function learnStrength(pages: readonly RankedPage[], name: string): Learnt | null {
  if (pages.length < pagesToLearn) return null
  const inOrder = [...pages].sort((a, b) => textHash(a.key) - textHash(b.key) || (a.key < b.key ? -1 : 1))
  const knots = Object.fromEntries(features.map(feature => [feature, knotsOf(inOrder, feature)])) as Knots
  const whole = fitModel(inOrder, name, knots)
  if (!whole) return null
  const checks: Check[] = []
  for (let part = 0; part < parts; part++) {
    // There is one best fit; beginning near it only saves steps.
    const others = inOrder.filter((_, i) => i % parts !== part)
    const fitted = fitModel(others, name, knots, whole.rises)
    if (!fitted) return null
    checks.push({ model: fitted.model, pages: inOrder.filter((_, i) => i % parts === part) })
  }
  return { model: whole.model, report: reportOf(checks, whole.pairs) }
}

/** Pages with a model that was not learnt from them. */
type Check = { model: StrengthModel; pages: readonly RankedPage[] }

function fitModel(
  pages: readonly RankedPage[],
  name: string,
  knots: Knots,
  start?: readonly number[],
): { model: StrengthModel; pairs: number; rises: number[] } | null {
  const samples = pairSamples(pages, knots)
  const rises = fitLogistic(samples, {
    penalty: (penaltyShare * samples.counts!.reduce((sum, each) => sum + each, 0)) / pages.length,
    atLeastZero: new Array<boolean>(samples.features).fill(true),
    ...(start ? { start } : {}),
  })
  const curves = curvesOf(pages, knots, rises)
  const { y } = curves.siteStanding
  if (y.at(-1)! - y[0]! < leastStandingRise) return null
  const model: StrengthModel = {
    name,
    curves,
    slope: { ...defaultModel.slope },
    offset: { ...defaultModel.offset },
    newPage: newPageOf(pages),
  }
  model.siteEffects = siteEffectsOf(pages, model)
  model.known = knownPages(
    pages.map(({ key, results }) => ({
      key,
      results: results.map(facts => ({ url: facts.url, strength: resultStrength(facts, model).strength })),
    })),
  )
  model.pageShare = pageShare(model.known)
  const predictions = askEach(pages, model)
  for (const position of chancePositions) {
    const threshold = fitThreshold(predictions, position)
    if (!threshold) continue
    model.slope[position] = threshold.slope
    model.offset[position] = threshold.offset
  }
  return { model, pairs: samples.happened.length, rises }
}

/** Fewer pages written for their keyword tell nothing of them on average. */
const fewestWritten = 30
/** What pages written for their keyword have on average of what a new page cannot know of itself. */
function newPageOf(pages: readonly RankedPage[]): NewPage {
  const written = pages.flatMap(page => page.results.filter(isWrittenFor))
  const usual = (feature: keyof NewPage): number => {
    const known = written.flatMap(facts => facts[feature] ?? [])
    return known.length < fewestWritten ? usualNewPage[feature] : mean(known)
  }
  return {
    similarity: usual('similarity'),
    sharedPhrase: usual('sharedPhrase'),
    pathType: usual('pathType'),
  }
}

/** FNV-1a, so that the split does not follow the order in which keywords were made. */
function textHash(text: string): number {
  let hash = 0x811c9dc5
  for (let i = 0; i < text.length; i++) hash = Math.imul(hash ^ text.charCodeAt(i), 0x01000193)
  return (hash ^ (hash >>> 15)) >>> 0
}

type Knots = Record<Feature, number[]>

const scaled = (feature: Feature, value: number): number =>
  defaultModel.curves[feature].log ? Math.log1p(value) : value
const knownValues = (pages: readonly RankedPage[], feature: Feature): number[] =>
  pages.flatMap(page =>
    page.results.flatMap(({ [feature]: value }) => (value === null ? [] : [scaled(feature, value)])),
  )

/** Where the lines of a feature's curve meet: quantiles of the known values and the ends of its scale; one point when nothing is known. */
function knotsOf(pages: readonly RankedPage[], feature: Feature): number[] {
  const values = Float64Array.from(knownValues(pages, feature)).sort()
  if (!values.length) return [0]
  const lines = pieces[feature]
  const [least, most] = [0, defaultModel.curves[feature].x.at(-1)!]
  const inner = Array.from({ length: lines - 1 }, (_, i) => values[Math.floor(((i + 1) / lines) * values.length)]!)
  // What nobody has tells nothing: beyond the last value the curve is level, but for shares and standing, whose scale ends at 100.
  const last = most === 100 ? most : values.at(-1)!
  return [...new Set([least, ...inner.filter(value => value > least && value < last), last])]
}

/** Shares of the lines of all curves that a result has climbed, one after another; an unknown feature stands at its mean in the training. */
function climbed(facts: ResultFacts, knots: Knots, means: Record<Feature, number>): number[] {
  return features.flatMap(feature => {
    const value = facts[feature]
    const at = value === null ? means[feature] : scaled(feature, value)
    const x = knots[feature]
    return x.slice(1).map((to, i) => Math.min(1, Math.max(0, (at - x[i]!) / (to - x[i]!))))
  })
}
const mean = (values: readonly number[]): number =>
  values.length ? values.reduce((sum, value) => sum + value, 0) / values.length : 0
const meansOf = (pages: readonly RankedPage[]): Record<Feature, number> =>
  Object.fromEntries(features.map(feature => [feature, mean(knownValues(pages, feature))])) as Record<Feature, number>

/** Differences between a result and one below it, one way and the other in turn, so that no constant is learnt. */
function pairSamples(pages: readonly RankedPage[], knots: Knots): Samples {
  const means = meansOf(pages)
  const below = (results: readonly ResultFacts[], i: number): number => results.length - 1 - i
  let all = 0
  for (const page of pages) for (let i = 0; i < page.results.length; i++) all += below(page.results, i)
  const every = Math.max(1, Math.ceil(all / mostPairs))
  const kept = Math.floor(all / every)
  const width = features.reduce((sum, feature) => sum + knots[feature].length - 1, 0)
  const x = new Float64Array(kept * width)
  const happened = new Uint8Array(kept)
  const counts = new Float64Array(kept)
  let [seen, row] = [0, 0]
  for (const page of pages) {
    const values = page.results.map(facts => climbed(facts, knots, means))
    for (let i = 0; i < values.length; i++)
      for (let j = i + 1; j < values.length; j++) {
        if (seen++ % every || row === kept) continue
        const sign = row % 2 ? 1 : -1
        for (let f = 0; f < width; f++) x[row * width + f] = sign * (values[i]![f]! - values[j]![f]!)
        counts[row] = countOfPair(i)
        happened[row++] = sign > 0 ? 1 : 0
      }
  }
  return { features: width, x, happened, counts }
}

/** Curves from the rises of their lines, moved so that the known values add 0 on average, as an unknown one does. */
function curvesOf(pages: readonly RankedPage[], knots: Knots, rises: readonly number[]): StrengthModel['curves'] {
  let next = 0
  return Object.fromEntries(
    features.map(feature => {
      const x = knots[feature]
      const own = x.slice(1).map(() => rises[next++]!)
      const whole = own.reduce((sum, rise) => sum + rise, 0)
      const y = [0]
      for (const rise of own)
        y.push(y.at(-1)! + (feature === 'siteStanding' ? Math.max(rise, leastRise * whole) : rise))
      const curve = { log: defaultModel.curves[feature].log, x, y }
      const centre = mean(
        pages.flatMap(page =>
          page.results.flatMap(({ [feature]: value }) => (value === null ? [] : [curveAt(curve, value)])),
        ),
      )
      return [feature, { ...curve, y: y.map(each => each - centre) }]
    }),
  ) as StrengthModel['curves']
}

/** A site with this many results in the sample keeps half of what they show of it; one with fewer keeps less. */
const halfShown = 5

/** What the results of each site show beyond all that the model knows. */
const siteEffectsOf = (pages: readonly RankedPage[], model: StrengthModel): Record<string, number> =>
  fitSiteEffects(
    pages.map(({ results }) =>
      results.map(facts => ({ key: facts.domain, strength: resultStrength(facts, model).strength })),
    ),
    countOfPair,
    halfShown,
  )

/** Strengths of a page's results, with what they showed at near keywords and without. */
function strengthsOf({ key, results }: RankedPage, model: StrengthModel): { plain: number[]; whole: number[] } {
  const plain = results.map(facts => resultStrength(facts, model).strength)
  const urls = results.map(({ url }) => url)
  const known = urls.filter(url => url !== undefined)
  const near = model.known && known.length ? neighbourResidualsOf(model.known).of(key, known, urls) : []
  return { plain, whole: plain.map((strength, i) => strength + (near[i] ?? 0)) }
}

/**
 * Strength of each result, and of those that a weighing would see without it: as many as are weighed, not as many as were fetched. The result
 * itself is taken as a new page, of which no keyword has shown anything yet; of the others that is known.
 */
function leftOut(page: RankedPage, model: StrengthModel): Array<[own: number, others: number[]]> {
  const { plain, whole } = strengthsOf(page, model)
  return plain.map((own, i) => [own, [...whole.slice(0, i), ...whole.slice(i + 1)].slice(0, weighedDepth)])
}

/** A result left out of its page: its strength, the levels of the others, and where it stood, from 0, among how many. */
type Asked = { own: number; levels: Record<ChancePosition, number>; at: number; among: number }

function askEach(pages: readonly RankedPage[], model: StrengthModel): Asked[] {
  return pages.flatMap(page => {
    const { results } = page
    if (results.length < 2) return []
    return leftOut(page, model).map(([own, others], at) => ({
      own,
      levels: levelsAtPositions(others)!,
      at,
      among: results.length,
    }))
  })
}

const thresholdPenalty = 1e-3

/** Lines of their own for pages written for the keyword followed the noise: of 400 keywords only some 150 results look so. */
function fitThreshold(all: readonly Asked[], position: ChancePosition): { slope: number; offset: number } | null {
  const list = all.filter(({ among }) => among >= position + 3)
  if (!list.some(({ at }) => at < position) || !list.some(({ at }) => at >= position)) return null
  const x = new Float64Array(list.length * 2)
  const happened = new Uint8Array(list.length)
  list.forEach(({ own, levels, at }, i) => {
    x.set([own - levels[position], 1], 2 * i)
    happened[i] = at < position ? 1 : 0
  })
  const [slope, offset] = fitLogistic(
    { features: 2, x, happened },
    { penalty: thresholdPenalty, atLeastZero: [true, false] },
  ) as [number, number]
  // Without a slope no standing would ever be enough.
  return slope > 1e-3 ? { slope, offset } : null
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

function reportOf(checks: readonly Check[], pairs: number): LearnReport {
  const strengthsBy = (model: StrengthModel, { pages }: Check): number[][] =>
    pages.map(page => strengthsOf(page, model).whole)
  const predictions = checks.flatMap(({ model, pages }) =>
    pages.flatMap((page): Array<[number, boolean]> => {
      const { results } = page
      if (results.length < 13) return []
      return leftOut(page, model).map(([own, others], i) => [positionChances(own, others, model, false)![10], i < 10])
    }),
  )
  const reliability = reliabilityOf(predictions)
  const standings = checks.flatMap(({ pages }) => pages.map(page => page.results.map(facts => facts.siteStanding ?? 0)))
  return {
    pages: standings.length,
    pairs,
    pairAccuracy: pairAccuracy(checks.flatMap(check => strengthsBy(check.model, check))) ?? 0,
    defaultAccuracy: pairAccuracy(checks.flatMap(check => strengthsBy(defaultModel, check))) ?? 0,
    standingAccuracy: pairAccuracy(standings) ?? 0,
    reliability,
    calibrationError: calibrationError(reliability),
  }
}
