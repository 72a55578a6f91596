import type { PlannedPage, WorkKind } from '@dew-trail/contract/plan'
import { figureParts } from '@dew-trail/core/demand/shared-figures'
import { pageRules } from '@dew-trail/core/planning/page-rules'
import { monthlyVisits, outBefore, peakMonth, seasonIndex, withMore } from '@dew-trail/core/planning/season'
import { type UncertainKeyword, visitsRange } from '@dew-trail/core/planning/visits-range'
import { familyKey } from '@dew-trail/core/words/family-key'
import type { OwnPage } from '../../domain/chances/own-pages.ts'
import type { VisitReader } from '../../domain/chances/visits-of.ts'
import { pageKey } from '../../domain/pages/page-key.ts'
import type { PageKeywordRow, PageRow } from '../../domain/plans/queries.ts'
import { visitsOf } from './standing-keywords.ts'

const positions = 20

export type KeywordFigures = PageKeywordRow & {
  /** What part of the page's sums it is. */
  part: number
  /** Visits a month of a new, fitting page, null = unknown. */
  could: number | null
  now: { position: number; page: string; visits: number | null } | null
  /** With the plan: never less than now. */
  expected: number | null
  /** As they enter sums, forms of one keyword once: what the log counted is each form's own. */
  inSums: { searches: number | null; now: number | null; expected: number | null; gain: number | null }
  worthEach: number | null
  season: number[]
  brand: boolean
}
/**
 * `around`: the chances of the first page around its lead (`subjectChances`), 0 where nothing is known of them. `beside`: what own pages get from
 * other keywords than as many as the page has, one figure a page, times that; `besideExpected`: the middle of these.
 */
export type PageFigures = {
  page: PageRow
  keywords: KeywordFigures[]
  around: number
  beside: readonly number[]
  besideExpected: number
}

/** What each keyword of a page brings now and could bring. */
export function keywordFigures(
  rows: readonly PageKeywordRow[],
  kind: WorkKind,
  reader: VisitReader,
  standing: ReadonlyMap<number, readonly OwnPage[]>,
): KeywordFigures[] {
  const parts = figureParts(rows)
  return rows.map((row, i) => {
    const brand = reader.brandOf(row.phrase) !== null
    const own = standing.get(row.id)
    const best = own?.[0]
    const now = best ? { position: best.position, page: best.page, visits: visitsOf(own) } : null
    const could = reader.visits(row.searches, row, brand)
    const part = parts[i]!
    const nowIn = now && now.visits !== null ? now.visits * (best!.seen === 'results' ? part : 1) : null
    const expectedIn = withPlan(kind, nowIn, could === null ? null : could * part)
    return {
      ...row,
      part,
      brand,
      could,
      now,
      expected: withPlan(kind, now?.visits ?? null, could),
      inSums: {
        searches: row.searches === null ? null : row.searches * part,
        now: nowIn,
        expected: expectedIn,
        // A gain is known where what could be is; what the site does not stand for brings nothing now.
        gain: expectedIn === null ? null : expectedIn - (nowIn ?? 0),
      },
      worthEach: reader.worthOf(row.id, row.cpc),
      season: seasonIndex(row.months ?? [], row.monthsFrom ? Number(row.monthsFrom.slice(5, 7)) : 1, row.seasonal),
    }
  })
}

/**
 * Visits with the plan: a page that stays brings what it does, one that goes nothing, work brings what a fitting page could and never
 * less than now.
 */
function withPlan(kind: WorkKind, today: number | null, could: number | null): number | null {
  if (kind === 'remove') return 0
  if (kind === 'keep' || kind === 'merge') return today
  if (could === null) return today
  return Math.max(could, today ?? 0)
}

/** Sum over keywords whose figure is known; null where none is. */
export function sumOf(
  keywords: readonly KeywordFigures[],
  pick: (keyword: KeywordFigures) => number | null,
): { sum: number | null; unknown: number } {
  let [sum, known] = [0, 0]
  for (const keyword of keywords) {
    const value = pick(keyword)
    if (value === null) continue
    sum += value
    known++
  }
  return { sum: known ? sum : null, unknown: keywords.length - known }
}

/** What a keyword's gain is worth a month; null where either is unknown. */
export const worthOfGain = ({ inSums, worthEach }: KeywordFigures): number | null =>
  inSums.gain === null || worthEach === null ? null : inSums.gain * worthEach

/** What is drawn of keywords to tell between what their visits lie; those that are not weighed are left out. */
export function uncertain(keywords: readonly KeywordFigures[], reader: VisitReader): UncertainKeyword[] {
  return keywords.flatMap(({ chance3, chance10, chance20, searches, organicShare, brand, part, now }) => {
    if (chance3 === null || chance10 === null || chance20 === null || searches === null) return []
    const least = now?.visits ?? 0
    const atPosition = Array.from({ length: positions }, (_, i) =>
      Math.max(least, reader.visitsAt(i + 1, searches, organicShare, brand) ?? 0),
    )
    return [{ within3: chance3, within10: chance10, within20: chance20, atPosition, part }]
  })
}

/**
 * Visits a month of a page: now, with the plan (with what it brings beside its keywords), and what the plan adds; null where nothing is
 * known.
 */
export function visitsOfPage({ keywords, besideExpected }: PageFigures) {
  const expected = sumOf(keywords, each => each.inSums.expected)
  const gain = sumOf(keywords, each => each.inSums.gain).sum
  return {
    now: sumOf(keywords, each => each.inSums.now).sum,
    expected: expected.sum === null ? null : expected.sum + besideExpected,
    unknown: expected.unknown,
    gain: gain === null ? null : gain + besideExpected,
  }
}

/**
 * What a page's gain is worth a month: visits beside its keywords count as much each as those of its keywords; null where nothing is
 * known.
 */
export function worthOfPage({ keywords, besideExpected }: PageFigures): number | null {
  const worth = sumOf(keywords, worthOfGain).sum
  const gain = sumOf(keywords, each => (worthOfGain(each) === null ? null : each.inSums.gain)).sum
  if (worth === null || gain === null) return worth
  return gain > 0 ? worth * (1 + besideExpected / gain) : worth
}

/** A page of the plan with all that is said of it. */
export function plannedPage(
  figures: PageFigures,
  reader: VisitReader,
  known: {
    themes: ReadonlyMap<number, string>
    elsewhere: ReadonlyMap<string, string>
    today: string
    /** Days until a page stands where it will. */
    settle: number
    language: string
  },
): PlannedPage {
  const { page, keywords } = figures
  const searches = sumOf(keywords, each => each.inSums.searches)
  const visits = visitsOfPage(figures)
  const difficulties = keywords.flatMap(each => (each.difficulty === null ? [] : [each.difficulty]))
  const priced = keywords.filter(each => each.cpc !== null && each.searches)
  const weight = priced.reduce((sum, each) => sum + each.searches! * each.part, 0)
  const works = page.kind === 'new' || page.kind === 'rework'
  const range = works ? visitsRange([{ keywords: uncertain(keywords, reader), beside: figures.beside }]) : null
  const byMonth =
    visits.expected === null
      ? null
      : withMore(
          monthlyVisits(
            keywords.flatMap(each =>
              each.inSums.expected === null ? [] : [{ visits: each.inSums.expected, season: each.season }],
            ),
          ),
          figures.besideExpected,
        )
  const peak = byMonth && peakMonth(byMonth)
  const lead = keywords[0]
  const { pageKey: key, ...fields } = page
  return {
    ...fields,
    late: page.state !== 'published' && page.deadline !== null && page.deadline < known.today,
    searches: searches.sum,
    searchesUnknown: searches.unknown,
    visits: visits.expected,
    visitsUnknown: visits.unknown,
    visitsNow: visits.now,
    beside: figures.besideExpected,
    low: range?.low ?? null,
    high: range?.high ?? null,
    gain: visits.gain,
    worth: worthOfPage(figures),
    byMonth,
    peak,
    outBy: peak === null ? null : outBefore(peak, known.today, known.settle),
    position: lead?.now?.position ?? null,
    rules: pageRules(
      keywords.map(each => ({
        ...each,
        family: familyKey(each.phrase, known.language),
        theme: known.themes.get(each.id) ?? null,
        standing: each.now?.page ?? null,
      })),
      known.elsewhere,
      address => key !== null && pageKey(address) === key,
    ),
    difficultyFrom: difficulties.length ? Math.min(...difficulties) : null,
    difficultyTo: difficulties.length ? Math.max(...difficulties) : null,
    cpc: weight > 0 ? priced.reduce((sum, each) => sum + each.cpc! * each.searches! * each.part, 0) / weight : null,
    themes: byCount(keywords.flatMap(each => known.themes.get(each.id) ?? [])),
    keywords: keywords.map(each => ({
      id: each.id,
      phrase: each.phrase,
      searches: each.searches,
      hidden: each.hidden,
      match: each.match,
      cpc: each.cpc,
      difficulty: each.difficulty,
      chance: each.chance10,
      visits: each.expected,
      tracked: each.tracked,
      position: each.now?.position ?? null,
      standing: each.now?.page ?? null,
      visitsNow: each.now?.visits ?? null,
      spot: each.spot,
      theme: known.themes.get(each.id) ?? null,
    })),
  }
}

/** Names by how often they come, most first. */
function byCount(names: readonly string[]): string[] {
  const counts = new Map<string, number>()
  for (const name of names) counts.set(name, (counts.get(name) ?? 0) + 1)
  return [...counts].sort(([a, m], [b, n]) => n - m || (a < b ? -1 : 1)).map(([name]) => name)
}
