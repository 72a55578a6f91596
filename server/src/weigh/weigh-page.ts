import { standingFromSites } from '@dew-trail/core/links/standing-from-sites'
import { phraseFit, type PhraseFit } from '@dew-trail/core/results/phrase-fit'
import {
  type Chances,
  difficulty,
  likelyPlaces,
  placeChances,
  type Terrain,
  terrainOf,
} from '@dew-trail/core/results/first-page'
import { readTerrain } from '@dew-trail/core/results/read-terrain'
import { defaultModel, newPageFacts, type ResultFacts, resultStrength } from '@dew-trail/core/results/strength'
import type { Organic, PageFact, SiteFact } from './queries.ts'
import { siteDomain } from './site-domain.ts'

export type Known = {
  sites: Map<string, SiteFact>
  pages: Map<string, PageFact>
  ownDomain: string
  referenceSites: number
  on: string
  language: string
  firstPage: number
}
export type WeighedPage = {
  facts: Array<
    ResultFacts & { domain: string; siteLinkingSites: number | null; links: number | null; fields: PhraseFit['fields'] }
  >
  terrain: Terrain
  ownLevel: number | null
  difficulty: number | null
  chances: Chances | null
  likely: { from: number | null; to: number | null }
  sentence: string
}

/** The judgement of a result page from what is known: facts of each result, then difficulty, chances and terrain by `core`. Pure. */
export function weighPage(keyword: string, organic: readonly Organic[], known: Known): WeighedPage {
  const facts = organic.map(result => {
    const domain = siteDomain(result.url)
    const site = known.sites.get(domain)
    const page = known.pages.get(result.url)
    const fit = phraseFit(
      keyword,
      { title: result.title, address: result.url, description: result.snippet || undefined },
      known.language,
    )
    return {
      domain,
      siteStanding: standingFromSites(site?.linkingSites ?? null, known.referenceSites),
      pageStanding: null,
      trust: null,
      siteLinkingSites: site?.linkingSites ?? null,
      linkingSites: page?.linkingSites ?? null,
      links: page?.links ?? null,
      fit: fit.fit,
      fields: fit.fields,
      ageYears: site?.registeredOn ? yearsBetween(site.registeredOn, known.on) : null,
    }
  })
  const strengths = facts.map(fact => resultStrength(fact, defaultModel).strength)
  const ownLevel = standingFromSites(known.sites.get(known.ownDomain)?.linkingSites ?? null, known.referenceSites)
  const own = ownLevel === null ? null : resultStrength(newPageFacts(ownLevel), defaultModel).strength
  const chances = own === null ? null : placeChances(own, strengths, defaultModel)
  const first = facts.slice(0, known.firstPage)
  const terrain = terrainOf(first, ownLevel, defaultModel)
  return {
    facts,
    terrain,
    ownLevel,
    difficulty: difficulty(strengths, defaultModel),
    chances,
    likely: chances ? likelyPlaces(chances) : { from: null, to: null },
    sentence: readTerrain(terrain, first),
  }
}

const yearsBetween = (from: string, to: string): number =>
  Math.max(0, (Date.parse(to) - Date.parse(from)) / (365.25 * 86_400_000))
