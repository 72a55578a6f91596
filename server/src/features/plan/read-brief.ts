import type { Brief, BriefText } from '@dew-trail/contract/brief'
import { AppError } from '@dew-trail/contract/errors'
import { registrableDomain } from '@dew-trail/core/links/registrable-domain'
import { checkBrief } from '@dew-trail/core/planning/check-brief'
import { pageIdentity } from '@dew-trail/core/web/page-identity'
import { contentStems } from '@dew-trail/core/words/coverage'
import { familyKey } from '@dew-trail/core/words/family-key'
import { languageWords } from '@dew-trail/core/words/language-words'
import { tellingTerms, termsOf } from '@dew-trail/core/words/telling-terms'
import type { Market } from '@dew-trail/contract/sites'
import type pg from 'pg'
import { maybeContent } from '../../domain/graph/content-queries.ts'
import { manyLonger, manyOtherResults, maybeResultPage, type Organic } from '../../domain/chances/queries.ts'
import { pageKey } from '../../domain/pages/page-key.ts'
import { manyPageKeywords, maybePage, type PageKeywordRow, type PageRow } from '../../domain/plans/queries.ts'
import { needMarket, needSite } from '../../domain/sites/need-market.ts'
import type { SiteRow } from '../../domain/sites/queries.ts'
import {
  manyOtherTexts,
  manyOwnLinks,
  manyPagesOnSubject,
  manyReadTexts,
  maybeBrief,
  type ReadText,
} from './brief-queries.ts'

const graphId = 1
const [firstResults, backgroundPages, mostTerms, mostHeadings, mostLinks, mostLonger] = [10, 60, 40, 60, 12, 2_000]
/** Fewer pages read give no range of lengths to keep to. */
const leastForWords = 3
export const emptyBrief: BriefText = {
  title: '',
  description: '',
  headings: [],
  terms: [],
  wordsFrom: null,
  wordsTo: null,
  links: [],
  remarks: '',
}

export type BriefFacts = {
  site: SiteRow
  market: Market
  page: PageRow
  keywords: PageKeywordRow[]
  organic: Organic[]
  first: Awaited<ReturnType<typeof maybeResultPage>>
}
/** A planned page with its keywords in a market, and the latest first results of the lead. */
export async function briefFacts(pool: pg.Pool, siteId: number, pageId: number, marketId: number): Promise<BriefFacts> {
  const [site, market, page] = await Promise.all([
    needSite(pool, siteId),
    needMarket(pool, siteId, marketId),
    maybePage(pool, siteId, pageId),
  ])
  if (!page) throw new AppError('notFound', `The plan has no page ${pageId}; it may have been removed meanwhile`)
  const keywords = (await manyPageKeywords(pool, siteId, marketId, market.place)).filter(each => each.pageId === pageId)
  const lead = keywords[0]
  const first = lead ? await maybeResultPage(pool, siteId, lead.id, marketId) : undefined
  return { site, market, page, keywords, first, organic: first?.organic.slice(0, firstResults) ?? [] }
}
export const addressOf = (page: PageRow, site: SiteRow): string | null =>
  page.address === null ? null : new URL(page.address, `https://${site.domain}`).href

/** The brief of a page, what can be taken into it, and how the page as it was read keeps to it. */
export async function readPageBrief(pool: pg.Pool, siteId: number, pageId: number, marketId: number): Promise<Brief> {
  const facts = await briefFacts(pool, siteId, pageId, marketId)
  const { site, market, page, keywords, organic, first } = facts
  const saved = await maybeBrief(pool, siteId, pageId)
  const text = saved?.text ?? emptyBrief
  const address = addressOf(page, site)
  const [texts, content, ownLinks] = await Promise.all([
    manyReadTexts(
      pool,
      organic.map(result => result.url),
    ),
    address === null ? undefined : maybeContent(pool, graphId, address),
    address === null ? [] : manyOwnLinks(pool, address),
  ])
  const read = content?.status === 200 && content.words !== null ? content : undefined
  const linkedFrom = new Map<string, string[]>()
  for (const { from, anchor } of ownLinks) {
    const identity = pageIdentity(from) ?? from
    linkedFrom.set(identity, [...(linkedFrom.get(identity) ?? []), anchor])
  }
  return {
    pageId,
    language: market.language,
    lead: keywords[0]?.phrase ?? null,
    resultsOn: first?.fetchedOn ?? null,
    text,
    version: saved?.version ?? 0,
    offers: {
      headings: await headingOffers(pool, facts),
      terms: await termOffers(pool, facts, texts),
      results: organic.length,
      read: texts.size,
      words: wordRange([...texts.values()]),
      links: await linkOffers(pool, facts, linkedFrom),
      rivals: organic.map(result => ({
        url: result.url,
        title: result.title,
        position: result.position,
        words: texts.get(result.url)?.words ?? null,
        own: registrableDomain(result.url) === site.domain,
      })),
      title: page.title,
      address: slugOf(keywords[0]?.phrase ?? page.title),
    },
    page: read ? { readOn: read.fetchedAt.toISOString().slice(0, 10), title: read.title, words: read.words } : null,
    checks: read
      ? checkBrief(
          text,
          {
            title: read.title,
            description: read.description,
            headings: read.headings.map(each => each.text),
            text: read.text ?? '',
            words: read.words,
            linkedFrom,
          },
          keywords.map(each => each.phrase),
          market.language,
          from => pageIdentity(new URL(from, `https://${site.domain}`).href),
        )
      : [],
  }
}

/** Questions that the first page shows and keywords that ask or go on from the lead, most searched first. */
async function headingOffers(
  pool: pg.Pool,
  { site, market, keywords, first }: BriefFacts,
): Promise<Brief['offers']['headings']> {
  const lead = keywords[0]
  if (!lead) return []
  const longer = await manyLonger(pool, site.id, market, contentStems(lead.phrase, market.language), mostLonger)
  const offers = new Map<string, Brief['offers']['headings'][number]>()
  for (const question of first?.features.questions ?? [])
    offers.set(question.toLowerCase(), { text: question, searches: null, of: 'question' })
  // Forms of the lead say nothing that the title does not.
  const ofLead = familyKey(lead.phrase, market.language)
  const others = [...keywords.slice(1), ...longer].filter(each => familyKey(each.phrase, market.language) !== ofLead)
  for (const { phrase, searches } of others) {
    const key = `${phrase.toLowerCase()}`
    const asked = offers.get(key) ?? offers.get(`${key}?`)
    if (asked) asked.searches = searches
    else offers.set(key, { text: phrase, searches, of: 'keyword' })
  }
  return [...offers.values()]
    .sort(
      (a, b) => Number(b.of === 'question') - Number(a.of === 'question') || (b.searches ?? -1) - (a.searches ?? -1),
    )
    .slice(0, mostHeadings)
}

/** Terms that the first results share and results of other keywords do not, by how many have them. */
async function termOffers(
  pool: pg.Pool,
  { site, market, organic, keywords }: BriefFacts,
  texts: ReadonlyMap<string, ReadText>,
): Promise<Brief['offers']['terms']> {
  if (organic.length === 0) return []
  const seen = (result: Organic): string => `${result.title}\n${result.snippet}`
  const whole = organic.map(result => `${seen(result)}\n${texts.get(result.url)?.text ?? ''}`)
  const others = await manyOtherResults(pool, site.id, keywords[0]!.id, market.id, backgroundPages)
  const read = organic.flatMap(result => texts.get(result.url)?.text ?? [])
  const otherTexts = read.length ? await manyOtherTexts(pool, [...texts.keys()], backgroundPages) : []
  const marked = new Set(organic.flatMap(result => (result.marked ?? []).map(word => word.toLowerCase())))
  // Short texts are told from short ones and whole pages from whole pages; how many results have a term is counted over all that is known
  // of them.
  const telling = new Set(
    [
      ...tellingTerms(organic.map(seen), others, market.language, mostTerms),
      ...tellingTerms(read, otherTexts, market.language, mostTerms),
    ].map(each => each.term),
  )
  const has = whole.map(text => termsOf(text, market.language))
  const resultsWith = (term: string): number => has.filter(set => set.has(term)).length
  const idle = languageWords(market.language).functionWords
  const elsewhere = otherTexts.map(text => termsOf(text, market.language))
  /** What half of all pages say, and runs of words around a function word, are no terms. */
  const isTerm = (term: string): boolean =>
    !term.split(' ').some(word => idle.has(word)) &&
    elsewhere.filter(set => set.has(term)).length * 2 <= elsewhere.length
  const terms = [...telling]
    .filter(isTerm)
    .map(term => ({ term, results: resultsWith(term), marked: marked.has(term) }))
    .sort((a, b) => b.results - a.results || b.term.length - a.term.length)
    .slice(0, mostTerms)
  const known = new Set(terms.map(each => each.term))
  // What the engine marked counts as a term however few results have it.
  const more = [...marked]
    .filter(word => !known.has(word))
    .map(term => ({ term, results: resultsWith(term), marked: true }))
    .filter(each => each.results > 0)
  return [...terms, ...more]
}

/** From the first to the third quartile of the lengths of the pages that were read. */
function wordRange(texts: readonly ReadText[]): Brief['offers']['words'] {
  const words = texts.flatMap(each => each.words ?? []).sort((a, b) => a - b)
  if (words.length < leastForWords) return null
  const at = (share: number): number => Math.round(words[Math.floor(share * (words.length - 1))]! / 10) * 10
  return { from: at(0.25), to: at(0.75), pages: words.length }
}

/** Own pages that speak of the lead's words and do not link to the page yet; the anchor is the keyword. */
async function linkOffers(
  pool: pg.Pool,
  { site, market, page, keywords }: BriefFacts,
  linkedFrom: ReadonlyMap<string, readonly string[]>,
): Promise<Brief['offers']['links']> {
  const lead = keywords[0]
  if (!lead) return []
  const pages = await manyPagesOnSubject(pool, site.domain, contentStems(lead.phrase, market.language), mostLinks * 4)
  return pages
    .filter(each => pageKey(each.url) !== page.pageKey && !linkedFrom.has(pageIdentity(each.url) ?? ''))
    .slice(0, mostLinks)
    .map((each, i) => {
      // Not all links should say the same: supporting keywords take turns with the lead.
      const keyword = keywords[i % Math.min(3, keywords.length)]!
      return { from: each.url, title: each.title, anchor: keyword.phrase, searches: keyword.searches }
    })
}

/** A path for a page from a phrase: letters and digits without accents, words joined by hyphens; null where none are left. */
function slugOf(phrase: string): string | null {
  const slug = phrase
    .normalize('NFKD')
    .replace(/ß/g, 'ss')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .match(/[\p{L}\p{N}]+/gu)
    ?.join('-')
  return slug ? `/${slug.slice(0, 80)}` : null
}
