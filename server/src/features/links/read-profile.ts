import type { LinkProfile, LinkRow } from '@dew-trail/contract/link-profile'
import { AppError } from '@dew-trail/contract/errors'
import { anchorClass } from '@dew-trail/core/links/anchor-class'
import { findBursts } from '@dew-trail/core/links/bursts'
import { linkKinds, relTokens } from '@dew-trail/core/links/link-codes'
import { pageAddress } from '@dew-trail/core/links/page-address'
import { pullOf } from '@dew-trail/core/links/standing'
import { contentStems } from '@dew-trail/core/words/coverage'
import { splitWords } from '@dew-trail/core/words/split-words'
import { stem } from '@dew-trail/core/words/stem'
import type pg from 'pg'
import { domainOf } from '../../domain/pages/page-key.ts'
import {
  countLinks,
  type LinkFilter,
  manyAnchors,
  manyGained,
  manyLinks,
  manySubjects,
  maybePageScale,
  maybePhrase,
  maybeSiteTotals,
  maybeSubjects,
  maybeTarget,
  onePageTotals,
} from './profile-queries.ts'

const graphId = 1
const mostAnchors = 5_000
const listedAnchors = 12
const mostSubjects = 500
/** Topics with a smaller part in a site's standing are not told. */
const leastShare = 0.05
const weeks = 52
const weekMs = 7 * 86_400_000

type Wanted = { siteId: number; url: string; scope: 'page' | 'site' }

async function targetOf(pool: pg.Pool, { url, scope }: Wanted) {
  const address = pageAddress(url.includes('://') ? url : `https://${url}`)
  if (!address) throw new AppError('badInput', `"${url}" is no web address`)
  const domain = domainOf(address)
  return { domain, target: await maybeTarget(pool, graphId, domain, scope === 'page' ? address : null) }
}

/** What the graph knows of the links to a page or site: sums, linking sites by standing, anchors, how many on topic, growth and its bursts. */
export async function readProfile(
  pool: pg.Pool,
  wanted: Wanted & { keywordId?: number | undefined },
  today: string,
): Promise<LinkProfile> {
  const { domain, target } = await targetOf(pool, wanted)
  const keyword = wanted.keywordId === undefined ? undefined : await maybePhrase(pool, wanted.siteId, wanted.keywordId)
  const totals =
    target && (target.pageId === null ? await maybeSiteTotals(pool, target) : await onePageTotals(pool, target))
  if (!target || !totals?.links)
    return {
      domain,
      scope: wanted.scope,
      known: false,
      links: 0,
      there: 0,
      follow: 0,
      linkingPages: 0,
      linkingSites: 0,
      bands: null,
      anchors: { looked: 0, classes: {}, list: [] },
      topic: null,
      subjects: null,
      gained: [],
      undated: 0,
      bursts: [],
    }
  const [anchors, subjects, gained, behind] = await Promise.all([
    manyAnchors(pool, target, mostAnchors),
    keyword ? manySubjects(pool, target, mostSubjects) : null,
    manyGained(pool, target),
    maybeSubjects(pool, target, leastShare),
  ])
  const about = { domain, brand: [], phrases: keyword ? [keyword.phrase] : [], language: keyword?.language ?? 'en' }
  const classes: Record<string, number> = {}
  // Words and the words of a picture are one anchor where they say the same.
  const byText = new Map<string, { text: string; kind: string; links: number }>()
  for (const { text, kind, links } of anchors) {
    const of = anchorClass(text, linkKinds[kind]!, about)
    classes[of] = (classes[of] ?? 0) + links
    const key = `${of} ${text}`
    const known = byText.get(key)
    if (known) known.links += links
    else byText.set(key, { text, kind: of, links })
  }
  const classed = [...byText.values()].sort((a, b) => b.links - a.links)
  return {
    domain,
    scope: wanted.scope,
    known: true,
    ...totals,
    anchors: {
      looked: anchors.reduce((sum, each) => sum + each.links, 0),
      classes,
      list: classed.slice(0, listedAnchors),
    },
    topic: keyword && subjects ? topicOf(subjects, keyword) : null,
    subjects: behind ?? null,
    ...growthOf(gained, today),
  }
}

/** A link is on topic when its anchor, the words around it or the title of its page have a content word of the keyword. */
function topicOf(
  subjects: ReadonlyArray<{ anchor: string; around: string | null; title: string | null }>,
  { phrase, language }: { phrase: string; language: string },
): NonNullable<LinkProfile['topic']> {
  const wanted = new Set(contentStems(phrase, language))
  let [on, unknown] = [0, 0]
  for (const { anchor, around, title } of subjects) {
    const words = splitWords([anchor, around ?? '', title ?? ''].join(' '))
    if (words.some(word => wanted.has(stem(word, language)))) on++
    else if (around === null && title === null) unknown++
  }
  return { looked: subjects.length, on, unknown }
}

function growthOf(
  rows: ReadonlyArray<{ week: string | null; sites: number }>,
  today: string,
): Pick<LinkProfile, 'gained' | 'undated' | 'bursts'> {
  const byWeek = new Map(rows.map(row => [row.week, row.sites]))
  const day = new Date(`${today}T00:00:00Z`)
  const monday = day.getTime() - ((day.getUTCDay() + 6) % 7) * 86_400_000
  // Twice as far as shown, so that what is usual is known where the picture begins.
  const all = Array.from({ length: 2 * weeks }, (_, i) => {
    const week = new Date(monday - (2 * weeks - 1 - i) * weekMs).toISOString().slice(0, 10)
    return { week, sites: byWeek.get(week) ?? 0 }
  })
  const bursts = findBursts(all.map(each => each.sites))
  return {
    gained: all.slice(weeks),
    undated: byWeek.get(null) ?? 0,
    bursts: bursts
      .filter(burst => burst.at >= weeks)
      .map(burst => ({ week: all[burst.at]!.week, sites: burst.count, usual: burst.usual })),
  }
}

/** Links to a page or site that meet the conditions, a page at a time. They are counted for the first page only. */
export async function readLinks(
  pool: pg.Pool,
  wanted: Wanted & LinkFilter & { after: string | null; most: number },
): Promise<{ count: number | null; links: LinkRow[]; next: string | null }> {
  const { target } = await targetOf(pool, wanted)
  if (!target) return { count: 0, links: [], next: null }
  const after = wanted.after?.split(',').map(Number) ?? null
  const [count, rows, scale] = await Promise.all([
    after ? null : countLinks(pool, target, wanted),
    manyLinks(pool, target, wanted, after, wanted.most),
    maybePageScale(pool, graphId),
  ])
  return {
    count,
    links: rows.map(({ key: _, kind, rel, rank, linksOut, ...row }) => ({
      ...row,
      kind: linkKinds[kind]!,
      rel: relTokens(rel),
      pull:
        scale && rank !== null && linksOut !== null && rel === 0
          ? pullOf(rank, linksOut, scale.pages, scale.floor, Math.max(scale.reference, scale.floor * 1.001))
          : null,
    })),
    next: rows.length === wanted.most ? rows.at(-1)!.key : null,
  }
}
