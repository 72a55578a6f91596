import { sitePositions } from '../../domain/results/site-positions.ts'
import { siteKind } from '@dew-trail/core/links/site-kind'
import type { FirstPage } from '@dew-trail/contract/weigh'
import { onScale } from '@dew-trail/core/results/level-scale'
import { registrableDomain } from '@dew-trail/core/links/registrable-domain'
import { phraseFit } from '@dew-trail/core/results/phrase-fit'
import type { Context } from '../../context.ts'
import { manyPageLooks } from '../../domain/graph/page-queries.ts'
import { manySiteLooks, manyStandings } from '../../domain/graph/queries.ts'
import { manyVettedLinkers } from '../../domain/graph/vetted-queries.ts'
import { needMarket, needSite } from '../../domain/sites/need-market.ts'
import { maybeLastPageFound } from '../../domain/positions/found-queries.ts'
import { countKeywordsWithResults, manyPagePositions, type Positions } from '../../domain/results/queries.ts'
import { manyResultDates, maybeResultPage, oneClicked } from '../../domain/chances/queries.ts'
import { modelFor } from '../../domain/chances/model-for.ts'
import { scaleOf } from '../../domain/chances/level-scales.ts'
import { readFacts } from '../../domain/chances/read-facts.ts'
import { type VisitReader, visitReader } from '../../domain/chances/visits-of.ts'
import { weighPage } from '../../domain/chances/weigh-page.ts'

const graphId = 1

/** The latest result page of a keyword with every figure and what it rests on; null when there is none. */
export async function readFirstPage(
  context: Context,
  siteId: number,
  keywordId: number,
  marketId: number,
  date: string | null = null,
): Promise<FirstPage | null> {
  const { pool, config } = context
  const [site, market] = await Promise.all([needSite(pool, siteId), needMarket(pool, siteId, marketId)])
  const [model, scale, page] = await Promise.all([
    modelFor(pool, siteId, market),
    scaleOf(pool, siteId, marketId),
    maybeResultPage(pool, siteId, keywordId, marketId, date),
  ])
  if (!page) return null
  const domains = [...new Set([site.domain, ...page.organic.map(result => registrableDomain(result.url))])]
  const urls = page.organic.map(result => result.url)
  const own = page.organic.find(result => registrableDomain(result.url) === site.domain)
  const shownResults = page.organic.slice(0, page.features.firstPage)
  const shownUrls = shownResults.map(result => result.url)
  // Nothing of this waits for another: one after the other they took as long as all of them together, twenty times the way to the database.
  const [
    facts,
    standings,
    vettedLinkers,
    reader,
    clicked,
    found,
    weighedKeywords,
    dates,
    siteLooks,
    pageLooks,
    reaches,
  ] = await Promise.all([
    readFacts(pool, urls, domains),
    manyStandings(pool, graphId, domains),
    manyVettedLinkers(pool, graphId, domains),
    visitReader(pool, siteId, market),
    oneClicked(pool, siteId, keywordId, market),
    own ? null : maybeLastPageFound(pool, siteId, keywordId, marketId),
    countKeywordsWithResults(pool, siteId, marketId),
    manyResultDates(pool, siteId, keywordId, marketId),
    manySiteLooks(pool, graphId, domains),
    manyPageLooks(pool, graphId, shownUrls),
    Promise.all([
      sitePositions(pool, siteId, market, shownUrls.map(registrableDomain)),
      manyPagePositions(pool, siteId, market, shownUrls),
    ]),
  ])
  const { sites, pages } = facts
  const { searches, organicShare } = clicked
  const graph = new Map(standings.map(each => [each.domain, each]))
  const vetted = new Map(vettedLinkers.map(each => [each.domain, each]))
  const weighed = weighPage(page.phrase, page.organic, {
    sites,
    pages,
    ownDomain: site.domain,
    referenceSites: config.STANDING_REFERENCE_SITES,
    on: page.fetchedOn,
    language: market.language,
    firstPage: page.features.firstPage,
    model,
    scale,
  })
  const brand = reader.brandOf(page.phrase) !== null
  const shown = weighed.facts.slice(0, shownResults.length)
  const [siteReach, pageReach] = [reachOf(reaches[0], reader), reachOf(reaches[1], reader)]
  const looks = new Map(pageLooks.map(look => [look.url, look]))
  const kinds = new Map(siteLooks.map(each => [each.domain, siteKind(each).kind] as const))
  const lacking = (what: string, count: number): string[] =>
    count ? [`${what} of ${count} ${count === 1 ? 'result' : 'results'}`] : []
  return {
    keywordId,
    phrase: page.phrase,
    marketId,
    fetchedOn: page.fetchedOn,
    dates,
    difficulty: weighed.difficulty,
    chances: weighed.chances,
    likelyFrom: weighed.likely.from,
    likelyTo: weighed.likely.to,
    standing: weighed.ownPage,
    ownLevel: weighed.ownLevel,
    ownLinkingSites: sites.get(site.domain)?.linkingSites ?? null,
    ownLinksAskedOn: sites.get(site.domain)?.linksAskedOn ?? null,
    scale: { takenOn: scale.takenOn, sites: scale.sites, deep: scale.deep },
    lockedTop: weighed.terrain.lockedTop,
    openings: weighed.terrain.openings,
    precedents: weighed.terrain.precedents,
    sentence: weighed.sentence,
    model: model.name,
    features: page.features,
    related: page.related,
    weighedKeywords,
    ownPage: own ? { url: own.url, position: own.position } : found ? { url: found, position: null } : null,
    unknown: [
      ...lacking('standing', shown.filter(fact => fact.siteStanding === null).length),
      ...lacking('linking sites', shown.filter(fact => fact.linkingSites === null).length),
      ...lacking('age', shown.filter(fact => fact.ageYears === null).length),
    ],
    results: shown.map((fact, i) => {
      const position = weighed.terrain.positions[i]!
      const result = page.organic[i]!
      const look = looks.get(result.url)
      const { fields: read } = phraseFit(
        page.phrase,
        { headings: look?.headings?.map(each => each.text).join('\n'), text: look?.text ?? undefined },
        market.language,
      )
      return {
        position: result.position,
        url: result.url,
        domain: fact.domain,
        title: result.title,
        snippet: result.snippet,
        marked: result.marked ?? [],
        own: fact.domain === site.domain,
        visits: reader.visitsAt(result.position, searches, organicShare, brand),
        level: position.level,
        strength: position.strength.strength,
        siteLevel: fact.siteStanding === null ? null : onScale(fact.siteStanding, scale),
        siteLinkingSites: fact.siteLinkingSites,
        siteLinks: sites.get(fact.domain)?.links ?? null,
        siteReach: weighedKeywords ? siteReach(fact.domain) : null,
        pageReach: weighedKeywords ? pageReach(result.url) : null,
        pageStanding: look?.standing ?? null,
        pageTrust: look?.trust ?? null,
        readOn: look?.readAt?.toISOString().slice(0, 10) ?? null,
        siteTrust: graph.get(fact.domain)?.trust ?? null,
        network: (graph.get(fact.domain)?.network ?? null) !== null,
        institutions: vetted.get(fact.domain)?.institutions ?? null,
        directories: vetted.get(fact.domain)?.directories ?? null,
        linkingSites: fact.linkingSites,
        links: fact.links,
        followedLinks: look?.followed ?? null,
        siteKind: kinds.get(fact.domain) ?? null,
        ageYears: fact.ageYears,
        fit: fact.fit,
        matches: {
          title: fact.fields.title?.match,
          headings: read.headings?.match,
          text: read.text?.match,
          address: fact.fields.address?.match,
          description: fact.fields.description?.match,
        },
        opening: position.opening,
        precedent: position.precedent,
        parts: position.strength.parts,
      }
    }),
  }
}

type Reach = { keywords: number; visits: number | null; unknown: number }
/** Keywords and visits by the site's click curve; visits are unknown where no searches are known. `unknown` keywords are not in them. */
function reachOf(rows: readonly Positions[], reader: VisitReader): (name: string) => Reach {
  const reach = new Map<string, Reach>()
  const nothing: Reach = { keywords: 0, visits: null, unknown: 0 }
  for (const { name, position, keywords, searches, unknown } of rows) {
    const { keywords: before, visits, unknown: unknownBefore } = reach.get(name) ?? nothing
    reach.set(name, {
      keywords: before + keywords,
      visits: searches === null ? visits : (visits ?? 0) + reader.visitsAt(position, searches, null, false)!,
      unknown: unknownBefore + unknown,
    })
  }
  return name => reach.get(name) ?? nothing
}
