import { AppError } from '@dew-trail/contract/errors'
import type { Beside, putPageBeside } from '@dew-trail/contract/weigh'
import { registrableDomain } from '@dew-trail/core/links/registrable-domain'
import { extractPage } from '@dew-trail/core/links/extract-page'
import { pageAddress } from '@dew-trail/core/links/page-address'
import { onScale } from '@dew-trail/core/results/level-scale'
import { siteLevel } from '@dew-trail/core/links/standing-from-sites'
import { neighbourResidualsOf } from '@dew-trail/core/results/neighbour-residuals'
import { matchPhrase } from '@dew-trail/core/results/phrase-fit'
import { putBeside, type WrittenPage } from '@dew-trail/core/results/put-beside'
import { standingForStrength } from '@dew-trail/core/results/strength'
import { contentStems, coverageOf, coverValue, isLonger } from '@dew-trail/core/words/coverage'
import { tellingTerms } from '@dew-trail/core/words/telling-terms'
import { splitWords } from '@dew-trail/core/words/split-words'
import type { z } from 'zod'
import type { Context } from '../../context.ts'
import { countWebUse, savePages } from '../../domain/graph/save-pages.ts'
import { follow } from '../../domain/graph/page-texts.ts'
import { AddressBook } from '../../domain/graph/address-book.ts'
import { worthByLabel } from '../../domain/chances/visits-of.ts'
import { needMarket, needSite } from '../../domain/sites/need-market.ts'
import { fetchPageFacts, fetchSiteFacts } from '../../domain/chances/fetch-facts.ts'
import { scaleOf } from '../../domain/chances/level-scales.ts'
import { modelFor } from '../../domain/chances/model-for.ts'
import { manyLonger, manyOtherResults, maybeResultPage } from '../../domain/chances/queries.ts'
import { readFacts } from '../../domain/chances/read-facts.ts'
import { factsOf } from '../../domain/chances/weigh-page.ts'

const graphId = 1
const mostTerms = 30
const backgroundPages = 60
/** What a new page is taken to have: it cannot be known yet. */
const linksOfDraft = 2
const mostLonger = 2_000
const longestWait = 30_000

/** A page by its address, or a draft, beside the latest result page of a keyword. */
export async function readBeside(
  context: Context,
  { siteId, keywordId, marketId, url, draft }: z.output<(typeof putPageBeside)['input']>,
): Promise<Beside> {
  const { pool, config } = context
  if (!url === !draft?.trim())
    throw new AppError('badInput', 'Give the address of a page or paste a draft, one of the two')
  const site = await needSite(pool, siteId)
  const market = await needMarket(pool, siteId, marketId)
  const page = await maybeResultPage(pool, siteId, keywordId, marketId)
  if (!page) throw new AppError('notFound', 'The keyword was not weighed in this market yet; weigh it first')
  const [model, scale] = await Promise.all([modelFor(pool, siteId, market), scaleOf(pool, siteId, marketId)])
  const written = url ? await fetchPage(context, url) : readDraft(draft!)

  const domain = written.address ? registrableDomain(written.address) : site.domain
  const failures = (
    await Promise.all([
      fetchSiteFacts(context, [domain]),
      written.address ? fetchPageFacts(context, [written.address]) : [],
    ])
  ).flat()
  const urls = page.organic.map(result => result.url)
  const { sites, pages } = await readFacts(pool, written.address ? [...urls, written.address] : urls, [domain])
  const facts = factsOf(
    page.phrase,
    page.organic,
    {
      sites,
      pages,
      referenceSites: config.STANDING_REFERENCE_SITES,
      on: page.fetchedOn,
      language: market.language,
    },
    model,
  )
  const own = page.organic.findIndex(result => result.url === written.address)
  const put = putBeside(
    page.phrase,
    { ...written, snippet: own >= 0 ? page.organic[own]!.snippet : null, above: own >= 0 ? own : null },
    {
      domain,
      siteStanding: siteLevel(sites.get(domain), config.STANDING_REFERENCE_SITES),
      trust: null,
      pageStanding: null,
      linkingSites: written.address ? (pages.get(written.address)?.linkingSites ?? null) : linksOfDraft,
      ageYears: own >= 0 ? facts[own]!.ageYears : null,
      neighbours:
        (model.known && neighbourResidualsOf(model.known).of(page.phrase, urls, [written.address])[0]) ?? null,
    },
    page.organic.map((result, i) => ({ ...result, facts: facts[i]! })).filter((_, i) => i !== own),
    model,
    market.language,
  )
  const words = [written.title, written.description, ...written.headings, written.text].filter(Boolean).join('\n')
  const has = (phrase: string, enough: readonly string[]): boolean =>
    enough.includes(matchPhrase(phrase, words, market.language).match)
  const cover = coverageOf(words, market.language)
  // A stem may end otherwise than the word does ("studi" of studies and studio): its beginning finds both, and the words decide.
  const beginnings = contentStems(page.phrase, market.language).map(each => each.slice(0, Math.max(3, each.length - 1)))
  const byLabel = await worthByLabel(pool, siteId)
  const near = await manyLonger(pool, siteId, market, beginnings, mostLonger)
  const longer = near
    .filter(row => isLonger(row.phrase, page.phrase, market.language))
    .map(row => ({
      ...row,
      cover: cover(row.phrase),
      value: coverValue(row.searches, byLabel.get(row.keywordId) ?? site.visitWorth ?? row.cpc, row.difficulty),
    }))
    .sort(
      (a, b) =>
        Number(a.cover !== 'no') - Number(b.cover !== 'no') ||
        (b.value ?? -1) - (a.value ?? -1) ||
        (b.searches ?? -1) - (a.searches ?? -1) ||
        (a.phrase < b.phrase ? -1 : 1),
    )
  const group = page.organic.filter((_, i) => i !== own).map(result => `${result.title}\n${result.snippet}`)
  const background = await manyOtherResults(pool, siteId, keywordId, marketId, backgroundPages)
  return {
    address: written.address || null,
    title: written.title,
    words: splitWords(written.text).length,
    fields: put.fields.map(each => ({ ...each, text: each.text?.slice(0, 300) ?? null })),
    fit: put.facts.fit,
    coverage: put.facts.coverage,
    similarity: put.facts.similarity,
    sharedPhrase: put.facts.sharedPhrase,
    siteLevel: put.facts.siteStanding === null ? null : onScale(put.facts.siteStanding, scale),
    linkingSites: put.facts.linkingSites,
    assumedLinks: !written.address,
    level: onScale(standingForStrength(put.strength, model), scale),
    position: put.position,
    ranksAt: own >= 0 ? page.organic[own]!.position : null,
    chances: put.chances,
    likelyFrom: put.likely.from,
    likelyTo: put.likely.to,
    lacks: put.lacks,
    terms: tellingTerms(group, background, market.language, mostTerms).map(({ term, pages }) => ({
      term,
      pages,
      mine: has(term, ['phrase', 'near']),
    })),
    results: group.length,
    questions: page.features.questions.map(question => ({ question, mine: has(question, ['phrase', 'near', 'all']) })),
    headSearches: near.find(row => row.keywordId === keywordId)?.searches ?? null,
    longer,
    unknown: [...new Set(failures.map(failure => failure.message))],
  }
}

async function fetchPage(context: Context, text: string): Promise<WrittenPage> {
  const address = pageAddress(text.includes('://') ? text : `https://${text}`)
  if (!address || !/^https?:\/\/[^/]*\./.test(address))
    throw new AppError('badInput', `"${text.slice(0, 100)}" is no web address`)
  const outcomes = await follow(context, address, AbortSignal.timeout(longestWait))
  await savePages(context.pool, graphId, new AddressBook(graphId), outcomes, new Date(), db =>
    countWebUse(db, outcomes),
  )
  const last = outcomes.at(-1)!
  if (!last.facts)
    throw new AppError(
      'badInput',
      `${last.url} could not be read: ${last.problem ?? (last.status === 200 ? 'it is no HTML page' : `it answered with status ${last.status}`)}. Paste its text instead`,
    )
  return {
    address: last.url,
    title: last.facts.title,
    description: last.facts.description,
    headings: last.facts.headings.map(heading => heading.text),
    text: last.facts.text,
    snippet: null,
    above: null,
  }
}

/** A draft as HTML, or as plain text whose first line is the title. */
function readDraft(draft: string): WrittenPage {
  if (/<(?:!doctype|html|head|body|h1|p|div|title)\b/i.test(draft)) {
    const { title, description, headings, blocks } = extractPage(draft, 'https://draft.example/')
    const heads = headings.map(heading => heading.text)
    return {
      address: '',
      title: title ?? heads[0] ?? null,
      description,
      headings: heads,
      text: blocks.map(block => block.text).join('\n'),
      snippet: null,
      above: null,
    }
  }
  const [first = '', ...rest] = draft.trim().split('\n')
  return {
    address: '',
    title: first.trim(),
    description: null,
    headings: [],
    text: rest.join('\n') || first,
    snippet: null,
    above: null,
  }
}
