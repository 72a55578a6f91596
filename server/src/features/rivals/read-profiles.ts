import type { RivalProfile } from '@dew-trail/contract/rivals'
import { subjectsOf } from '@dew-trail/core/rivals/subjects'
import { readTarget } from '@dew-trail/core/rivals/target'
import { topRows } from '@dew-trail/core/tables/top-rows'
import type pg from 'pg'
import { manyStandings } from '../../domain/graph/queries.ts'
import { type OpenMarket, type Ranked, readRanked, sumsOf } from './ranked.ts'
import { readPaid } from './read-paid.ts'

const graphId = 1
/** Subjects are read off so many keywords, those that bring most. */
const subjectKeywords = 2_000
const mostSubjects = 5
/** Of what a site pays for, so many are named in its profile. */
const mostNamed = 3
const depths = [1, 3, 10, 30, 100] as const

export async function readProfile(pool: pg.Pool, open: OpenMarket, text: string): Promise<RivalProfile> {
  const target = readTarget(text)!
  const [ranked, [known], paid] = await Promise.all([
    readRanked(pool, open, target),
    manyStandings(pool, graphId, [target.domain]),
    readPaid(pool, open, target.domain, mostNamed),
  ])
  const { month, keywords, spend, rows: most } = paid
  return {
    target: text,
    kind: target.kind,
    domain: target.domain,
    own: target.domain === open.site.domain,
    ...countsOf(ranked),
    ...sumsOf(ranked),
    subjects: ranked ? subjects(ranked, open.market.language) : [],
    standing: known?.standing ?? null,
    linkingSites: known?.linkingSites ?? null,
    paid:
      month === null
        ? null
        : { month, keywords, spend, most: most.map(row => ({ phrase: row.phrase, spend: row.spend })) },
  }
}

/** How many keywords stand how high, how many came and went, and what share of the visits comes by keywords that name the site. */
function countsOf(ranked: Ranked | null) {
  const within = { 1: 0, 3: 0, 10: 0, 30: 0, 100: 0 }
  if (!ranked) return { within, brandShare: null, pages: 0, entered: null, left: null }
  const { rankings, row, before, visits, named, part } = ranked
  const pages = new Set<number>()
  let [compared, entered, left, all, brand] = [0, 0, 0, 0, 0]
  for (let i = 0; i < row.length; i++) {
    const r = row[i]!
    const now = rankings.now[r]!
    if (rankings.compared[r]) compared++
    if (!now) {
      left++
      continue
    }
    for (const depth of depths) if (now <= depth) within[depth]++
    if (!before[i] && rankings.compared[r]) entered++
    pages.add(rankings.page[r]!)
    if (Number.isNaN(visits[i]!)) continue
    all += visits[i]! * part[i]!
    if (named[r]) brand += visits[i]! * part[i]!
  }
  return {
    within,
    brandShare: all ? brand / all : null,
    pages: pages.size,
    ...(compared ? { entered, left } : { entered: null, left: null }),
  }
}

function subjects({ rankings, row, visits }: Ranked, language: string): RivalProfile['subjects'] {
  const { searches } = rankings.figures
  const most = topRows(visits, subjectKeywords)
    .map(i => row[i]!)
    .filter(r => rankings.now[r] && !Number.isNaN(searches[r]!))
    .map(r => ({ phrase: rankings.phrases[r]!, weight: searches[r]! }))
  return subjectsOf(most, language, mostSubjects).map(({ word, weight }) => ({ word, searches: weight }))
}
