import { neighbourResidualsOf } from './neighbour-residuals.ts'
import { describe, expect, test } from 'vitest'
import {
  calibrationError,
  learnStrength,
  pagesToLearn,
  pairAccuracy,
  type RankedPage,
  reliabilityOf,
} from './learn-strength.ts'
import { fitLogistic, sigmoid, solvePositive } from './logistic.ts'
import { normalDraw } from './normal-draw.ts'
import { pageShare } from './page-share.ts'
import { coverageShares } from './term-coverage.ts'
import {
  curveAt,
  defaultModel,
  curveReaches,
  newPageFacts,
  newPageStrength,
  type ResultFacts,
  resultStrength,
  usualNewPage,
  standingForStrength,
} from './strength.ts'

/** Numbers from 0 to 1, the same in every run. */
function numbers(seed: number): () => number {
  let state = seed
  return () => {
    state = (state * 48_271) % 2_147_483_647
    return state / 2_147_483_647
  }
}

describe('logistic regression', () => {
  test('solves small systems', () => {
    const x = solvePositive(
      [
        [4, 0, 0],
        [2, 5, 0],
        [1, 2, 6],
      ].map((row, i, all) => row.map((_, j) => (j <= i ? row[j]! : all[j]![i]!))),
      [7, 9, 9],
    )
    expect(x.map(value => Math.round(value * 1e9) / 1e9)).toEqual([1, 1, 1])
    expect(() => solvePositive([[0]], [1])).toThrow(RangeError)
  })
  test('finds the weights that made the samples, and stops at 0 where it must', () => {
    const random = numbers(5)
    const rows = 20_000
    const x = new Float64Array(rows * 3)
    const happened = new Uint8Array(rows)
    for (let i = 0; i < rows; i++) {
      for (let f = 0; f < 3; f++) x[i * 3 + f] = normalDraw(random)
      happened[i] = random() < sigmoid(1.5 * x[i * 3]! - 0.7 * x[i * 3 + 1]!) ? 1 : 0
    }
    const samples = { features: 3, x, happened }
    const free = fitLogistic(samples, { penalty: 0.001, atLeastZero: [false, false, false] })
    expect(free[0]).toBeCloseTo(1.5, 0.9)
    expect(free[1]).toBeCloseTo(-0.7, 0.9)
    expect(Math.abs(free[2]!)).toBeLessThan(0.06)
    const bound = fitLogistic(samples, { penalty: 0.001, atLeastZero: [true, true, true] })
    expect(bound[0]).toBeGreaterThan(1)
    expect(bound[1]).toBe(0)
  })
})

describe('curves', () => {
  const curve = { log: false, x: [0, 50, 100], y: [-1, 1, 1.5] }
  test('are read between their points, level beyond, 0 for the unknown', () => {
    expect([-5, 0, 25, 50, 75, 100, 150].map(value => curveAt(curve, value))).toEqual([-1, -1, 0, 1, 1.25, 1.5, 1.5])
    expect(curveAt(curve, null)).toBe(0)
  })
  test('are undone, beyond the ends along the last rising line', () => {
    for (const value of [0, 10, 50, 80, 100]) expect(curveReaches(curve, curveAt(curve, value))).toBeCloseTo(value)
    expect(curveReaches(curve, -3)).toBeCloseTo(-50)
    expect(curveReaches(curve, 2)).toBeCloseTo(150)
    expect(curveReaches({ log: false, x: [0, 10, 20, 30], y: [0, 0, 1, 1] }, 0.5)).toBeCloseTo(15)
    expect(() => curveReaches({ log: false, x: [0, 1], y: [0, 0] }, 1)).toThrow(RangeError)
  })
})

describe('words that a page rewards', () => {
  const result = (title: string) => ({ title, url: 'https://x.example/', snippet: '' })
  test('count by how many results show them', () => {
    const results = [result('Throwing wheel'), result('Throwing wheels, tried'), result('Deluxe glaze'), result('')]
    const [both, plural, ornament, none] = coverageShares('deluxe throwing wheel', results, 'en')
    expect(both).toBe(plural)
    expect(both).toBeGreaterThan(ornament! * 2)
    expect(none).toBe(0)
  })
  test('are all there in a page that has all of them everywhere; nothing breaks without results', () => {
    const all = { title: 'kick wheel', url: 'https://x.example/kick-wheel', snippet: 'a kick wheel' }
    expect(coverageShares('kick wheel', [all], 'en')[0]).toBeCloseTo(100)
    expect(coverageShares('kick wheel', [], 'en')).toEqual([])
  })
})

/** Pages whose order follows a rule that flattens: half of the words matter more than the other half. */
function madePages(count: number): RankedPage[] {
  const random = numbers(17)
  return Array.from({ length: count }, (_, i) => {
    const results = Array.from({ length: 60 }, () => {
      const facts: ResultFacts = {
        siteStanding: 100 * random(),
        pageStanding: null,
        trust: null,
        linkingSites: Math.floor(30 * random() ** 3),
        fit: 32 + 68 * random() ** 2,
        coverage: 100 * random(),
        similarity: null,
        sharedPhrase: null,
        pathType: null,
        subject: null,
        modifiers: null,
        named: null,
        ageYears: random() < 0.2 ? null : 20 * random(),
      }
      const score =
        facts.siteStanding! / 25 + Math.min(50, facts.coverage!) / 12 + facts.fit! / 60 + 0.8 * normalDraw(random)
      return { facts, score }
    })
    return { key: `keyword ${i}`, results: results.sort((a, b) => b.score - a.score).map(each => each.facts) }
  })
}

describe('learning', () => {
  const pages = madePages(120)
  const { model, report } = learnStrength(pages, 'learnt')!
  test('orders pages that it has not seen better than the default and than standing alone', () => {
    expect(report.pages).toBe(120)
    expect(report.pairAccuracy).toBeGreaterThan(report.defaultAccuracy + 0.01)
    expect(report.pairAccuracy).toBeGreaterThan(report.standingAccuracy + 0.1)
  })
  test('finds where a curve flattens, and that links and age tell nothing', () => {
    const { coverage, linkingSites, ageYears, siteStanding } = model.curves
    expect(curveAt(coverage, 50) - curveAt(coverage, 0)).toBeGreaterThan(
      4 * (curveAt(coverage, 100) - curveAt(coverage, 50)),
    )
    const reach = ({ y }: { y: number[] }): number => y.at(-1)! - y[0]!
    expect(reach(linkingSites)).toBeLessThan(0.15 * reach(siteStanding))
    expect(reach(ageYears)).toBeLessThan(0.15 * reach(siteStanding))
  })
  test('no curve ever falls, and every strength has one standing', () => {
    for (const { y } of Object.values(model.curves))
      for (let i = 1; i < y.length; i++) expect(y[i]).toBeGreaterThanOrEqual(y[i - 1]!)
    for (const standing of [0, 20, 55, 90, 100])
      expect(standingForStrength(resultStrength(newPageFacts(standing), model).strength, model)).toBeCloseTo(standing)
  })
  test('its chances happen as often as they say', () => {
    expect(report.calibrationError).toBeLessThan(0.05)
    expect(report.reliability.reduce((sum, bin) => sum + bin.count, 0)).toBe(120 * 60)
  })
  test('does not hang on the order of the pages', () =>
    expect(learnStrength(pages.toReversed(), 'learnt')).toEqual({ model, report }))
  test('says nothing when there are too few pages, or when standing tells nothing', () => {
    expect(learnStrength(pages.slice(0, pagesToLearn - 1), 'learnt')).toBeNull()
    const blind = pages.map(({ key, results }) => ({
      key,
      results: results.map(facts => ({ ...facts, siteStanding: null })),
    }))
    expect(learnStrength(blind, 'learnt')).toBeNull()
  })
})

describe('measures', () => {
  test('pairs ordered rightly; equal ones count half', () => {
    expect(pairAccuracy([[3, 2, 1]])).toBe(1)
    expect(
      pairAccuracy([
        [1, 2],
        [2, 2],
      ]),
    ).toBe(0.25)
    expect(pairAccuracy([[1]])).toBeNull()
  })
  test('reliability and its error', () => {
    const table = reliabilityOf([
      [0.05, false],
      [0.05, true],
      [1, true],
    ])
    expect(table).toEqual([
      { from: 0, to: 0.1, count: 2, predicted: 0.05, happened: 0.5 },
      { from: 0.9, to: 1, count: 1, predicted: 1, happened: 1 },
    ])
    expect(calibrationError(table)).toBeCloseTo((2 * 0.45) / 3)
    expect(calibrationError([])).toBe(0)
  })

  test('a site whose results stand higher than their features tell gets a record; few results keep little of it', () => {
    const random = numbers(5)
    const made = madePages(120).map(
      (each, at): RankedPage => ({
        ...each,
        results: each.results
          .map((facts, i) => ({
            ...facts,
            domain: i % 20 === 3 ? 'better.example' : `site-${(i * 7 + at) % 40}.example`,
          }))
          .map((facts, i) => ({ facts, position: i - (facts.domain === 'better.example' ? 14 : 0) + random() / 2 }))
          .sort((a, b) => a.position - b.position)
          .map(({ facts }) => facts),
      }),
    )
    const once = made.map((each, at) =>
      at ? each : { ...each, results: [{ ...each.results[0]!, domain: 'once.example' }, ...each.results.slice(1)] },
    )
    const learnt = learnStrength(once, 'learnt')!.model
    const { 'better.example': better, 'once.example': rare, ...others } = learnt.siteEffects!
    expect(better).toBeGreaterThan(0.3)
    expect(better).toBeGreaterThan(Math.max(...Object.values(others)))
    if (rare !== undefined) expect(Math.abs(rare)).toBeLessThan(better!)
    const fact = newPageFacts(50, { domain: 'better.example' })
    const { strength, parts } = resultStrength(fact, learnt)
    expect(strength - resultStrength(newPageFacts(50), learnt).strength).toBeCloseTo(better!)
    expect(parts.at(-1)).toEqual({ feature: 'siteEffect', value: null, adds: better })
  })

  test('a new page is taken to be as those written for their keyword are on average, of which there must be enough', () => {
    const withPhrase = (least: number): RankedPage[] =>
      madePages(120).map(
        (each): RankedPage => ({
          ...each,
          results: each.results.map(facts => {
            const written = facts.fit! >= least && facts.coverage! >= least
            return {
              ...facts,
              fit: written ? 95 : 40,
              coverage: written ? 95 : facts.coverage,
              sharedPhrase: written ? 70 : 10,
            }
          }),
        }),
      )
    expect(learnStrength(withPhrase(80), 'learnt')!.model.newPage).toEqual({ ...usualNewPage, sharedPhrase: 70 })
    expect(learnStrength(withPhrase(101), 'learnt')!.model.newPage).toEqual(usualNewPage)
    const model = { ...defaultModel, newPage: { ...usualNewPage, sharedPhrase: 40 } }
    expect(newPageStrength(50, model)).toBeLessThan(newPageStrength(50, defaultModel))
  })

  test('keeps its pages, by which a page is known that stands higher than its strength tells at near keywords', () => {
    const made = madePages(120).map(
      (each): RankedPage => ({
        ...each,
        results: each.results
          .map((facts, i) => ({
            ...facts,
            domain: `site-${i % 12}.example`,
            url: `https://site-${i % 12}.example/${i}`,
          }))
          .map((facts, i) => ({ facts, position: i === 30 ? 5.5 : i }))
          .sort((a, b) => a.position - b.position)
          .map(({ facts }) => facts),
      }),
    )
    const { known, pageShare: learntShare } = learnStrength(made, 'learnt')!.model
    expect(learntShare).toBe(pageShare(known!))
    const urls = made[0]!.results.map(result => result.url!)
    const near = neighbourResidualsOf(known!).of('another keyword', urls)
    const moved = near[urls.indexOf('https://site-6.example/30')]!
    expect(moved).toBeGreaterThan(0.3)
    expect(moved).toBeGreaterThan(near[20]!)
    const fact = newPageFacts(50)
    const { parts, strength } = resultStrength({ ...fact, neighbours: moved }, defaultModel)
    expect(parts.at(-1)).toEqual({ feature: 'neighbours', value: null, adds: moved })
    expect(strength - resultStrength(fact, defaultModel).strength).toBeCloseTo(moved)
  })
})
