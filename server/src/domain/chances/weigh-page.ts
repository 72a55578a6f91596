import { registrableDomain } from '@dew-trail/core/links/registrable-domain'
import type { Device } from '@dew-trail/core/demand/click-curve'
import { splitClicks } from '@dew-trail/core/demand/click-split'
import { siteLevel } from '@dew-trail/core/links/standing-from-sites'
import { phraseFit, type PhraseFit } from '@dew-trail/core/results/phrase-fit'
import {
  type Chances,
  difficulty,
  likelyPositions,
  positionChances,
  type Terrain,
  terrainOf,
} from '@dew-trail/core/results/first-page'
import { similarityShares } from '@dew-trail/core/results/similarity'
import { modifierShares } from '@dew-trail/core/results/modifier-words'
import { pathTypeShares } from '@dew-trail/core/results/path-type'
import { type LevelScale, onScale } from '@dew-trail/core/results/level-scale'
import { neighbourResidualsOf } from '@dew-trail/core/results/neighbour-residuals'
import { coverageShares } from '@dew-trail/core/results/term-coverage'
import { sharedPhrases } from '@dew-trail/core/results/shared-phrase'
import { subjectShares, subjectWords } from '@dew-trail/core/results/subject'
import { type StandingPage, standingPage } from '@dew-trail/core/results/own-page'
import { whatLacks } from '@dew-trail/core/results/what-lacks'
import { namedShares, namedSite } from '@dew-trail/core/results/named-site'
import { readTerrain } from '@dew-trail/core/results/read-terrain'
import { newPageStrength, resultStrength, type SiteResult, type StrengthModel } from '@dew-trail/core/results/strength'
import type { Organic, PageFact, PageFeatures, SiteFact, WeighingRow } from './queries.ts'

export type Known = {
  sites: Map<string, SiteFact>
  pages: Map<string, PageFact>
  ownDomain: string
  referenceSites: number
  on: string
  language: string
  firstPage: number
  model: StrengthModel
  scale: LevelScale
}
/**
 * A judged page. `ownLevel`: on the market's scale; `null` where nobody was asked what links to the site: its chances are then those of a site
 * without links, so at least.
 */
export type WeighedPage = {
  facts: Array<
    SiteResult & {
      domain: string
      url: string
      siteLinkingSites: number | null
      links: number | null
      fields: PhraseFit['fields']
    }
  >
  terrain: Terrain
  ownLevel: number | null
  difficulty: number | null
  chances: Chances | null
  likely: { from: number | null; to: number | null }
  /** The page of the own site that stands highest, if one does. */
  ownPage: StandingPage | null
  lacking: Array<number | null>
  sentence: string
}

/**
 * The features of each result from which its strength is computed. `model.words` and `model.known` are what was learnt of modifier words and
 * of pages met before; where a model has neither, those two features are told without. Pure.
 */
export function factsOf(
  keyword: string,
  organic: ReadonlyArray<Pick<Organic, 'url' | 'title' | 'snippet'>>,
  known: Pick<Known, 'sites' | 'pages' | 'referenceSites' | 'on' | 'language'>,
  model: Pick<StrengthModel, 'words' | 'known'>,
): WeighedPage['facts'] {
  const coverage = coverageShares(keyword, organic, known.language)
  const similarity = similarityShares(organic, known.language)
  const words = subjectWords(keyword, organic, known.language)
  const { shares } = sharedPhrases(keyword, organic, known.language, words)
  const pathType = pathTypeShares(organic)
  const subject = subjectShares(keyword, organic, known.language, words)
  const modifiers = modifierShares(keyword, organic, known.language, model.words, words)
  const named = namedShares(
    keyword,
    organic.map(({ url }) => ({ url, domain: registrableDomain(url) })),
  )
  const near =
    model.known &&
    neighbourResidualsOf(model.known).of(
      keyword,
      organic.map(({ url }) => url),
    )
  return organic.map((result, i) => {
    const domain = registrableDomain(result.url)
    const site = known.sites.get(domain)
    const page = known.pages.get(result.url)
    const fit = phraseFit(
      keyword,
      { title: result.title, address: result.url, description: result.snippet || undefined },
      known.language,
    )
    return {
      domain,
      url: result.url,
      siteStanding: siteLevel(site, known.referenceSites),
      pageStanding: null,
      trust: null,
      siteLinkingSites: site?.linkingSites ?? null,
      linkingSites: page?.linkingSites ?? null,
      links: page?.links ?? null,
      fit: fit.fit,
      fields: fit.fields,
      coverage: coverage[i]!,
      similarity: similarity[i]!,
      sharedPhrase: shares[i]!,
      pathType: pathType[i]!,
      subject: subject[i]!,
      modifiers: modifiers[i]!,
      named: named[i]!,
      neighbours: near?.[i] ?? null,
      ageYears: ageOf(site, known.on),
    }
  })
}

/** The judgement of a result page from what is known: facts of each result, then difficulty, chances and terrain by `core`. Pure. */
export function weighPage(keyword: string, organic: readonly Organic[], known: Known): WeighedPage {
  const { model, scale } = known
  const facts = factsOf(keyword, organic, known, model)
  const judged = facts.map(fact => resultStrength(fact, model))
  const strengths = judged.map(each => each.strength)
  const own = known.sites.get(known.ownDomain)
  const ownLevel = siteLevel(own, known.referenceSites)
  const named = namedSite(keyword, organic[0] && { url: organic[0].url, domain: facts[0]!.domain })
  const names = named === null ? null : named === known.ownDomain ? 'own' : 'other'
  const namesOther = names === 'other'
  const ownSite = { domain: known.ownDomain, ageYears: ageOf(own, known.on) }
  const chances = positionChances(newPageStrength(ownLevel ?? 0, model, ownSite, names), strengths, model)
  const standsAt = facts.findIndex(fact => fact.domain === known.ownDomain)
  const first = facts.slice(0, known.firstPage)
  const terrain = terrainOf(first, ownLevel, model, scale, namesOther, known.ownDomain)
  return {
    facts,
    terrain,
    ownLevel: ownLevel === null ? null : onScale(ownLevel, scale),
    difficulty: difficulty(strengths, model, scale, named === null ? null : 'own'),
    chances,
    likely: chances ? likelyPositions(chances) : { from: null, to: null },
    ownPage: standsAt < 0 ? null : standingPage(standsAt, organic[standsAt]!.position, judged, model),
    lacking: whatLacks(facts, ownLevel, scale),
    sentence: readTerrain(terrain, first, namesOther ? named : null),
  }
}

/** Age of a site on a day in years, `null` when it is not known when it was registered. */
const ageOf = (site: SiteFact | undefined, on: string): number | null =>
  site?.registeredOn ? Math.max(0, (Date.parse(on) - Date.parse(site.registeredOn)) / (365.25 * 86_400_000)) : null

/** A judgement as it is kept. */
export function weighingOf(
  weighed: WeighedPage,
  page: { organic: readonly Organic[]; features: PageFeatures; fetchedOn: string },
  device: Device,
): WeighingRow {
  const split = splitClicks({ ...page.features, questions: page.features.questions.length }, device)
  return {
    state: page.organic.length ? 'known' : 'nothing',
    difficulty: weighed.difficulty,
    chance3: weighed.chances?.[3] ?? null,
    chance10: weighed.chances?.[10] ?? null,
    chance20: weighed.chances?.[20] ?? null,
    likelyFrom: weighed.likely.from,
    likelyTo: weighed.likely.to,
    pagePosition: weighed.ownPage?.position ?? null,
    pageChance: weighed.ownPage?.first ?? null,
    pageHigher: weighed.ownPage?.higher ?? null,
    lacking: weighed.lacking,
    // An engine that shows results and says it has none has not counted.
    reported: page.features.results || (page.organic.length ? null : 0),
    levels: weighed.terrain.positions.map(position => position.level),
    ownLevel: weighed.ownLevel,
    organicShare: split.organic,
    paidShare: split.paid,
    reason: null,
    fetchedOn: page.fetchedOn,
  }
}
