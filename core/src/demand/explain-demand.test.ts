import { describe, expect, test } from 'vitest'
import {
  type DemandFacts,
  explainLog,
  explainRange,
  explainSearches,
  explainSeason,
  explainTrend,
  explainFirst,
  explainVisits,
} from './explain-demand.ts'

const facts: DemandFacts = {
  months: [100, null, 300],
  searches: 200,
  hidden: false,
  low: 180,
  high: 220.4,
  rounded: true,
  state: 'known',
  source: 'ads',
  date: '2026-11-20',
  trend: 'rising',
  yearly: 0.254,
  season: 0.81,
  peaks: [11, 12],
  logSearches: null,
  logImpressions: null,
  logPosition: null,
}
const none: DemandFacts = {
  ...facts,
  months: null,
  searches: null,
  low: null,
  high: null,
  trend: null,
  season: null,
  state: 'nothing',
}

describe('figures explain themselves', () => {
  test('with value, formula, inputs of the row, source and date', () => {
    expect(explainSearches(facts)).toMatchObject({
      value: '200',
      source: 'ads data',
      date: '2026-11-20',
      inputs: [{ value: 2 }, { value: 100 }, { value: 300 }],
    })
    expect(explainRange(facts).value).toBe('180 to 220')
    expect(explainTrend(facts).value).toBe('rising, +25% a year')
    expect(explainSeason(facts).value).toBe('peak in November, December')
    expect(explainSearches({ ...facts, source: 'import' }).source).toBe('your file')
  })
  test('an unknown figure has no value and says why', () => {
    for (const explanation of [
      explainSearches(none),
      explainRange(none),
      explainTrend(none),
      explainSeason(none),
      explainLog(none),
    ]) {
      expect(explanation.value).toBeNull()
      expect(explanation.note).toBeTruthy()
    }
    expect(explainSearches(none).note).toContain('not zero')
  })
  test('hidden demand says on what it rests', () => {
    const ofLog = { ...none, hidden: true, searches: 42.4, logSearches: 42.4, logImpressions: 30, logPosition: 6 }
    const log = explainLog(ofLog)
    expect(explainSearches(ofLog)).toEqual({ ...log, figure: 'Searches a month' })
    expect(explainRange({ ...ofLog, low: null, high: null })).toMatchObject({
      value: null,
      note: 'The query log tells only how many searches there are at the least.',
    })
    expect(explainLog({ ...ofLog, state: 'known' }).inputs).toContainEqual({ name: 'searches by ads data', value: '0' })
    expect(log).toMatchObject({ figure: 'Hidden demand', value: 'at least 42 a month' })
    expect(log.inputs).toContainEqual({ name: 'searches by ads data', value: null })
  })
  test('visits name the click curve that was used', () => {
    const base = {
      searches: 100,
      hidden: false,
      visits: 12.3,
      cpc: 2,
      worth: 24.6,
      pagePosition: null,
      chance: 0.5,
      date: null,
    }
    expect(explainVisits({ ...base, pagePosition: 7, curve: 'fitted', organicShare: null }).inputs).toContainEqual({
      name: 'place of your page',
      value: 7,
    })
    expect(explainVisits({ ...base, curve: 'fitted', organicShare: 0.64 }).inputs).toContainEqual({
      name: 'click curve',
      value: 'fitted from your query log',
    })
    expect(explainVisits({ ...base, curve: 'set', organicShare: null }).inputs).toContainEqual({
      name: 'click curve',
      value: 'by the share at the first place that you set',
    })
    expect(explainVisits({ ...base, curve: 'default', organicShare: null, visits: null, worth: null })).toMatchObject({
      value: null,
    })
    expect(explainVisits({ ...base, hidden: true, curve: 'fitted', organicShare: null })).toMatchObject({
      value: 'at least 12 visits, worth 25',
      source: 'weighing of the first page; your query log, which shows a part of the searches',
    })
  })
})

describe('visits if first', () => {
  const base = {
    searches: 1_000,
    hidden: false,
    visits: 280,
    worth: 140,
    cpc: 0.5,
    curve: 'default' as const,
    organicShare: null,
    date: '2026-11-20',
  }
  test('say what they rest on', () => {
    const { value, inputs } = explainFirst(base)
    expect(value).toBe('280 visits, worth 140')
    expect(inputs).toContainEqual({ name: 'share of clicks there', value: '28%' })
    expect(inputs.map(each => each.name)).not.toContain('worth of a visit to you')
    expect(explainFirst({ ...base, worth: 840 }).inputs).toContainEqual({
      name: 'worth of a visit to you',
      value: '3.00',
    })
  })
  test('of hidden demand are at least so many, from the log', () => {
    const hidden = explainFirst({
      ...base,
      searches: 50,
      hidden: true,
      visits: 14,
      worth: null,
      cpc: null,
    })
    expect(hidden.value).toBe('at least 14 visits')
    expect(hidden.inputs).toContainEqual({ name: 'searches a month by your query log', value: '50' })
    expect(explainFirst({ ...base, searches: null, visits: null }).value).toBeNull()
  })
})
