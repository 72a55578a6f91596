import type { WordCounts } from './modifier-words.ts'
import type { KnownPages } from './neighbour-residuals.ts'

/**
 * What is known of a result; `null` = unknown. Standing, trust, fit and coverage words 0–100, linking sites a count, age in years.
 * `coverage`: share of the keyword's words the result has, each word counted by how many results of the page have it. `similarity`: how much
 * it speaks of what the other results speak of, 50 as the first ten do on average. `sharedPhrase`: how far it says the phrases about the
 * keyword that the others say, 100 as the best of the first ten. `pathType`: how many of the others stand where it does in its site, 50 as the first ten do on average. `subject`: how much of the keyword's subject it names. `modifiers`: how
 * prominently it has the keyword's modifier words, 50 as the first ten do on average. `named`: 100 for results of the site that the keyword
 * names, 0 for others on that page, `null` where it names none.
 */
export type ResultFacts = {
  siteStanding: number | null
  pageStanding: number | null
  trust: number | null
  linkingSites: number | null
  fit: number | null
  coverage: number | null
  similarity: number | null
  sharedPhrase: number | null
  pathType: number | null
  subject: number | null
  modifiers: number | null
  named: number | null
  ageYears: number | null
}
export type Feature = keyof ResultFacts
/** A result with the domain of its site, by which its record is found, and what it has shown at near keywords (`NeighbourResiduals`), on the scale of strength. */
export type SiteResult = ResultFacts & { domain?: string | undefined; neighbours?: number | null | undefined }
/**
 * What a feature adds to strength: straight lines between points (x rising, y not falling), level beyond the ends; with `log` x is
 * ln(1 + value). Lines of several pieces, because a page that holds half of the words gains less from the other half.
 */
export type Curve = { log: boolean; x: number[]; y: number[] }
export type StrengthModel = {
  name: string
  curves: Record<Feature, Curve>
  /**
   * Record of sites, by domain: how much stronger or weaker their results have shown themselves than the features tell, on the scale of
   * strength. A site without one has 0.
   */
  siteEffects?: Record<string, number>
  /** The pages it was learnt from, by which residuals at near keywords are told. */
  known?: KnownPages
  slope: Record<number, number>
  offset: Record<number, number>
  /** Share of what strengths do not tell that stays with a page whatever the keyword (`pageShare`). */
  pageShare?: number
  /** What pages written for a keyword have on average, which a new page is taken to have. */
  newPage?: NewPage
  /** Words of the results it was learnt from, by which `modifiers` is told. */
  words?: WordCounts
}

const straight = (weight: number, mean: number, spread: number, most: number, log = false): Curve => ({
  log,
  x: [0, most],
  y: [(-weight * mean) / spread, (weight * (most - mean)) / spread],
})

/**
 * Documented default model, used until strengths are learnt from known result pages. `straight(weight, mean, spread, most)`: a weight per
 * spread of a feature. How well a page fits counts most, then the standing of its site; sites linking to the page itself count little,
 * because home pages have most of them whatever they fit. More of any of these never hurts. `slope` and `offset` turn a lead in strength
 * over place k into a chance of standing within k.
 */
export const defaultModel: StrengthModel = {
  name: 'default weights',
  curves: {
    siteStanding: straight(1.6, 65, 12, 100),
    pageStanding: straight(0.35, 25, 18, 100),
    trust: straight(0.25, 40, 20, 100),
    linkingSites: straight(0.12, 1.6, 1.1, 12, true),
    fit: straight(0.4, 68, 18, 100),
    coverage: straight(0.2, 65, 30, 100),
    similarity: straight(0.5, 42, 20, 100),
    sharedPhrase: straight(1.1, 55, 40, 100),
    pathType: straight(0.2, 40, 25, 100),
    subject: straight(0.1, 75, 35, 100),
    // Computed from words of the results a model was fitted to; the default model has none.
    modifiers: straight(0, 40, 35, 100),
    named: straight(0.5, 10, 30, 100),
    ageYears: straight(0.12, 2.1, 0.7, 4, true),
  },
  slope: { 1: 1.2, 3: 1.3, 5: 1.4, 10: 1.4, 20: 1.25 },
  offset: { 1: -1.5, 3: -0.7, 5: -0.3, 10: 0.1, 20: 1 },
}

/** What a value of a feature adds. Curves are drawn so that an average result gets 0, which is what an unknown value adds. */
export function curveAt({ log, x, y }: Curve, value: number | null): number {
  if (value === null) return 0
  const at = log ? Math.log1p(value) : value
  let i = 1
  while (i < x.length - 1 && at > x[i]!) i++
  if (x.length < 2) return y[0] ?? 0
  const share = Math.min(1, Math.max(0, (at - x[i - 1]!) / (x[i]! - x[i - 1]!)))
  return y[i - 1]! + share * (y[i]! - y[i - 1]!)
}

/** Smallest value at which a curve without `log` reaches `height`; beyond its ends the first or last rising line goes on. */
export function curveReaches({ x, y }: Curve, height: number): number {
  let first = 1
  while (first < x.length - 1 && y[first]! <= y[0]!) first++
  let last = x.length - 1
  while (last > 1 && y[last - 1]! >= y.at(-1)!) last--
  let i = first
  while (i < last && y[i]! < height) i++
  const rise = y[i]! - y[i - 1]!
  if (!(rise > 0)) throw new RangeError('the curve does not rise, so nothing can be told on its scale')
  return x[i - 1]! + ((height - y[i - 1]!) / rise) * (x[i]! - x[i - 1]!)
}

export type Strength = {
  strength: number
  parts: Array<{ feature: Feature | 'siteEffect' | 'neighbours'; value: number | null; adds: number }>
}

/** Strength of a result on the model's own scale, the sum of what each feature, the record of the site and that at near keywords add; unknown features add 0 and say so. */
export function resultStrength(facts: SiteResult, model: StrengthModel): Strength {
  const parts: Strength['parts'] = (Object.keys(model.curves) as Feature[]).map(feature => ({
    feature,
    value: facts[feature],
    adds: curveAt(model.curves[feature], facts[feature]),
  }))
  const record = facts.domain === undefined ? undefined : model.siteEffects?.[facts.domain]
  if (record !== undefined) parts.push({ feature: 'siteEffect', value: null, adds: record })
  if (facts.neighbours != null) parts.push({ feature: 'neighbours', value: null, adds: facts.neighbours })
  return { strength: parts.reduce((sum, part) => sum + part.adds, 0), parts }
}

/** What is known of a site besides its standing: the domain by which its record is found, and its age in years. */
export type KnownSite = { domain?: string; ageYears?: number | null }

/** What a new page cannot know of itself before it stands; `usualNewPage` until it is learnt. */
export type NewPage = Record<'similarity' | 'sharedPhrase' | 'pathType', number>
export const usualNewPage: NewPage = { similarity: 50, sharedPhrase: 95, pathType: 50 }

/** Whether a keyword names (`namedSite`) the site of a new page or another; `null` = it names none. */
export type Named = 'own' | 'other' | null

/**
 * A new page that fits well: fit 90, all words that the page rewards, the subject, the modifier words, two linking sites, on a site of the given
 * standing; as like the other results, and as far in saying what they say, as pages written for a keyword are on average (`usual`); the rest unknown but for what is known of
 * the site. For a keyword that names another site words help it no more than a page about something else.
 */
export function newPageFacts(
  siteStanding: number,
  site: KnownSite = {},
  names: Named = null,
  usual: NewPage = usualNewPage,
): SiteResult {
  return {
    domain: site.domain,
    siteStanding,
    pageStanding: null,
    trust: null,
    linkingSites: 2,
    ageYears: site.ageYears ?? null,
    ...(names === 'other'
      ? wordsElsewhere
      : {
          fit: 90,
          coverage: 100,
          subject: 100,
          modifiers: 65,
          ...usual,
          named: names === 'own' ? 100 : null,
        }),
  }
}
/** Strength of a new page that fits well (`newPageFacts`), by what the model knows of such pages. */
export const newPageStrength = (
  siteStanding: number,
  model: StrengthModel,
  site: KnownSite = {},
  names: Named = null,
): number => resultStrength(newPageFacts(siteStanding, site, names, model.newPage), model).strength
/** What its words are worth to a page, whatever they are, where the keyword names another site: those of a page about something else. */
export const wordsElsewhere = {
  fit: 40,
  coverage: 0,
  similarity: 25,
  sharedPhrase: 0,
  pathType: 25,
  subject: 0,
  modifiers: 25,
  named: 0,
} as const

/** From these on a page counts as written for a keyword: as a new page is. */
const writtenFit = 90
const writtenCoverage = 90
const writtenModifiers = 50
/**
 * Whether a page looks as if it were written for the keyword, as a new page is: it names the keyword, and begins with it as far as the first
 * ten do. "Pot trimming temperature" says "pot trimming", but asks something else.
 */
export const isWrittenFor = ({
  fit,
  coverage,
  modifiers,
}: Pick<ResultFacts, 'fit' | 'coverage' | 'modifiers'>): boolean =>
  fit !== null &&
  fit >= writtenFit &&
  coverage !== null &&
  coverage >= writtenCoverage &&
  (modifiers === null || modifiers >= writtenModifiers)

/** The site standing at which a new well-fitting page is as strong as `strength`; may lie outside 0–100. */
export function standingForStrength(strength: number, model: StrengthModel): number {
  const rest = newPageStrength(0, model) - curveAt(model.curves.siteStanding, 0)
  return curveReaches(model.curves.siteStanding, strength - rest)
}
