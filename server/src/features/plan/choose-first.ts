import type { chooseFirst } from '@dew-trail/contract/brief'
import {
  type Candidate,
  type Capacity,
  type PageChoice,
  type WeighedChoice,
  weighChoices,
} from '@dew-trail/core/planning/choose-pages'
import { monthlyVisits, outBefore, peakMonth, withMore } from '@dew-trail/core/planning/season'
import { pageVisits } from '@dew-trail/core/rivals/page-visits'
import { visitsRange } from '@dew-trail/core/planning/visits-range'
import type pg from 'pg'
import type { z } from 'zod'
import { runInThread } from '../../platform/jobs/run-in-thread.ts'
import { type PageFigures, sumOf, uncertain, visitsOfPage, worthOfPage } from './page-figures.ts'
import { type Plan, readPlan } from './read-plan.ts'

type Answer = z.output<(typeof chooseFirst)['output']>
type Ask = z.output<(typeof chooseFirst)['input']>
/** A page is looked at for a year after the last planned month, so that the late ones count too. */
const monthsAfter = 12
const defaultEffort = 1
const outlookMonths = 12

/** Up to here a choice is worked out at once; more would keep other requests waiting. */
const mostAtOnce = 20

type Item = {
  figures: PageFigures
  /** What part of its gain is believed in a choice among many (`pageVisits`). */
  believed: number
  effort: number
  gain: number
  worth: number | null
  /** Visits gained by calendar month. */
  gainByMonth: number[]
  peak: number | null
}

/**
 * The best set of planned pages for what can be made a month, with what just missed, what one more would bring, and visits over the next
 * year.
 */
export async function chooseWhatFirst(pool: pg.Pool, ask: Ask): Promise<Answer> {
  const plan = await readPlan(pool, ask.siteId, ask.marketId)
  const { items, left } = itemsOf(plan)
  const unit = items.some(item => item.worth !== null) ? 'money' : 'visits'
  const perVisit = meanWorth(items)
  const first = firstMonth(ask.today)
  const settle = plan.settling.days
  const candidates = items.map(item =>
    candidateOf(item, unit === 'money' ? perVisit : null, { first, months: ask.months, settle }),
  )
  const capacity: Capacity = {
    of: ask.of,
    aMonth: ask.of === 'pages' ? Math.max(1, Math.floor(ask.aMonth)) : ask.aMonth,
  }
  const { choice, oneMore, missed } = await weighed({ candidates, months: ask.months, capacity })
  const byId = new Map(items.map(item => [item.figures.page.id, item]))
  const titleOf = (id: number): string => byId.get(id)!.figures.page.title
  const worthOf = (item: Item): number => (unit === 'money' ? (item.worth ?? item.gain * perVisit!) : item.gain)
  return {
    unit,
    until: nameOf(first + ask.months + monthsAfter - 1),
    settle,
    settleFrom: plan.settling.pages,
    total: choice.total,
    below: choice.total > 0 ? Math.max(0, choice.bound / choice.total - 1) : 0,
    bySearches: bySearches(items, candidates, ask.months, capacity),
    chosen: choice.chosen.map(({ id, month, value }) => {
      const item = byId.get(id)!
      const { page } = item.figures
      const outBy = item.peak === null ? null : outBefore(item.peak, ask.today, settle)
      return {
        pageId: id,
        title: page.title,
        kind: page.kind,
        month: nameOf(first + month),
        effort: item.effort,
        gain: item.gain,
        worth: worthOf(item),
        value,
        mustBeIn: page.mustBeIn,
        peak: item.peak,
        outBy,
        inTime: outBy === null ? null : lastDayOf(first + month) <= outBy,
      }
    }),
    missed: missed.map(({ id, costs }) => ({
      pageId: id,
      title: titleOf(id),
      worth: worthOf(byId.get(id)!),
      costs,
    })),
    oneMore,
    unfit: choice.unfit.map(id => ({ pageId: id, title: titleOf(id) })),
    left,
    outlook: outlookOf(plan, items, choice, first),
  }
}

export type ChoiceQuestion = { candidates: Candidate[]; months: number; capacity: Capacity }
const weighed = async (question: ChoiceQuestion): Promise<WeighedChoice> =>
  question.candidates.length <= mostAtOnce
    ? weighChoices(question.candidates, question.months, question.capacity)
    : runInThread<WeighedChoice>(new URL('./choose-thread.ts', import.meta.url), question, new AbortController().signal)

/** Pages that are still to be made and whose gain is known; of the others, why it is not. */
function itemsOf({ pages, reader: _ }: Plan): { items: Item[]; left: Answer['left'] } {
  const items: Item[] = []
  const left: Answer['left'] = []
  for (const figures of pages) {
    const { page, keywords } = figures
    if (page.state === 'published' || page.kind === 'keep') continue
    const leave = (why: string): void => void left.push({ pageId: page.id, title: page.title, why })
    if (page.kind === 'remove' || page.kind === 'merge') {
      leave('What removing or merging a page brings is not estimated')
      continue
    }
    if (!keywords.length) {
      leave('No keyword stands on it')
      continue
    }
    const { gain } = visitsOfPage(figures)
    if (gain === null) {
      leave('None of its keywords is weighed in this market with known searches')
      continue
    }
    const gainByMonth = withMore(
      monthlyVisits(
        keywords.flatMap(({ inSums, season }) => (inSums.gain === null ? [] : [{ visits: inSums.gain, season }])),
      ),
      figures.besideExpected,
    )
    items.push({
      figures,
      believed: 1,
      effort: page.effort ?? defaultEffort,
      gain,
      worth: worthOfPage(figures),
      gainByMonth,
      peak: peakMonth(gainByMonth),
    })
  }
  believe(items)
  return { items, left }
}

/** Tells what part of the gains of new pages is believed: the highest of many estimates are high by error, too. */
function believe(items: Item[]): void {
  const fresh = items.filter(({ figures }) => figures.page.kind === 'new')
  const visits = pageVisits(
    fresh.map(({ gain, figures }) => gain - figures.besideExpected),
    fresh.map(({ figures }) => figures.around || Number.NaN),
    mean(fresh.map(({ figures }) => figures.besideExpected)),
  )
  for (const [i, item] of fresh.entries()) if (item.gain > 0) item.believed = visits[i]! / item.gain
}
const mean = (list: readonly number[]): number => list.reduce((sum, each) => sum + each, 0) / (list.length || 1)

/** What a visit is worth on average over the pages of which that is known; null where it is of none. */
function meanWorth(items: readonly Item[]): number | null {
  let [worth, visits] = [0, 0]
  for (const item of items)
    if (item.worth !== null && item.gain > 0) {
      worth += item.worth
      visits += item.gain
    }
  return visits > 0 ? worth / visits : items.some(item => item.worth !== null) ? 0 : null
}

/** Months since year 0 of a day. */
const monthOf = (day: string): number => Number(day.slice(0, 4)) * 12 + Number(day.slice(5, 7)) - 1
/** The month in which work can begin: this one in its first third, else the next. */
const firstMonth = (day: string): number => monthOf(day) + (Number(day.slice(8)) > 10 ? 1 : 0)
const nameOf = (month: number): string => `${Math.floor(month / 12)}-${String((month % 12) + 1).padStart(2, '0')}`
const lastDayOf = (month: number): string =>
  new Date(Date.UTC(Math.floor(month / 12), (month % 12) + 1, 0)).toISOString().slice(0, 10)
/** Share of a month's days that a page has settled, when it is out at the end of another. */
function settledShare(outMonth: number, month: number, settle: number): number {
  const out = Date.UTC(Math.floor(outMonth / 12), (outMonth % 12) + 1, 1)
  const begins = Date.UTC(Math.floor(month / 12), month % 12, 1)
  const ends = Date.UTC(Math.floor(month / 12), (month % 12) + 1, 1)
  const settled = out + settle * 86_400_000
  return Math.min(1, Math.max(0, (ends - settled) / (ends - begins)))
}

/**
 * What a page brings in the time that is looked at when it is made in each of the planned months: visits of the months after it has
 * settled × worth.
 */
function candidateOf(
  item: Item,
  perVisit: number | null,
  { first, months, settle }: { first: number; months: number; settle: number },
): Candidate {
  const { page } = item.figures
  const each = perVisit === null ? 1 : item.worth !== null && item.gain > 0 ? item.worth / item.gain : perVisit
  const end = first + months + monthsAfter
  const values = Array.from({ length: months }, (_, m) => {
    let visits = 0
    for (let month = first + m; month < end; month++)
      visits += item.gainByMonth[month % 12]! * settledShare(first + m, month, settle)
    return visits * each * item.believed
  })
  return {
    id: page.id,
    values,
    effort: item.effort,
    mustBeIn: page.mustBeIn,
    earliest: page.notBefore === null ? 0 : Math.max(0, monthOf(page.notBefore) - first),
  }
}

/** What the same capacity would bring if the most searched pages were made first: what a choice without chances comes to. */
function bySearches(
  items: readonly Item[],
  candidates: readonly Candidate[],
  months: number,
  capacity: Capacity,
): number {
  const searchesOf = (item: Item): number => sumOf(item.figures.keywords, each => each.inSums.searches).sum ?? 0
  const order = items.map((_, i) => i).sort((a, b) => searchesOf(items[b]!) - searchesOf(items[a]!))
  const room = new Array<number>(months).fill(capacity.aMonth)
  let total = 0
  for (const i of order) {
    const { effort, earliest, values } = candidates[i]!
    const needs = capacity.of === 'pages' ? 1 : effort
    const month = room.findIndex((left, m) => m >= earliest && left >= needs)
    if (month < 0) continue
    room[month]! -= needs
    total += values[month]!
  }
  return total
}

/** Visits a month over the next twelve: as today, and with the chosen pages once each has settled. */
function outlookOf(
  { pages, standings, reader, settling }: Plan,
  items: readonly Item[],
  choice: PageChoice,
  first: number,
): Answer['outlook'] {
  const months = Array.from({ length: outlookMonths }, (_, i) => first + i)
  // What the site brings now by all keywords known, with the season of those that are planned.
  let now = 0
  for (const list of standings.byKeyword.values()) for (const each of list) now += each.visits ?? 0
  const planned = pages.flatMap(each => each.keywords)
  const ofPlanned = planned.reduce((sum, each) => sum + (each.inSums.now ?? 0), 0)
  const seasons = monthlyVisits(planned.map(each => ({ visits: each.inSums.now ?? 0, season: each.season })))
  const today = months.map(month => now - ofPlanned + seasons[month % 12]!)
  const slots = new Map(choice.chosen.map(each => [each.id, first + each.month]))
  const chosen = items.filter(item => slots.has(item.figures.page.id))
  const gains = months.map(month =>
    chosen.reduce(
      (sum, item) =>
        sum +
        item.believed *
          item.gainByMonth[month % 12]! *
          settledShare(slots.get(item.figures.page.id)!, month, settling.days),
      0,
    ),
  )
  // How far the sum of all chosen may lie from what is expected, in proportion, once all are out.
  const range = visitsRange(
    chosen.map(item => ({ keywords: uncertain(item.figures.keywords, reader), beside: item.figures.beside })),
  )
  const expected = chosen.reduce((sum, item) => sum + (visitsOfPage(item.figures).expected ?? 0), 0)
  const before = expected - chosen.reduce((sum, item) => sum + item.gain, 0)
  const ratio = (end: number): number => (expected > before ? Math.max(0, (end - before) / (expected - before)) : 1)
  const [low, high] = range ? [ratio(range.low), ratio(range.high)] : [1, 1]
  return {
    months: months.map(nameOf),
    today,
    withPlan: today.map((each, i) => each + gains[i]!),
    low: today.map((each, i) => each + gains[i]! * low),
    high: today.map((each, i) => each + gains[i]! * high),
  }
}
