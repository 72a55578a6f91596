import { describe, expect, test } from 'vitest'
import { fallingFit } from './falling-fit.ts'
import {
  type Chances,
  chancePositions,
  difficulty,
  levelsAtPositions,
  likelyPositions,
  ownLevels,
  positionChances,
  terrainOf,
} from './first-page.ts'
import { placeRuns, readTerrain } from './read-terrain.ts'
import {
  defaultModel as model,
  isWrittenFor,
  type Named,
  newPageFacts,
  type ResultFacts,
  resultStrength,
  standingForStrength,
} from './strength.ts'

/** A scale on which every level is where it is by linking sites. */
const even = { levels: Array.from({ length: 101 }, (_, i) => ((i + 0.5) / 101) * 100) }
const facts = (standing: number | null, more: Partial<ResultFacts> = {}): ResultFacts => ({
  siteStanding: standing,
  pageStanding: null,
  trust: null,
  linkingSites: 2,
  fit: 80,
  coverage: 95,
  similarity: 50,
  sharedPhrase: 100,
  pathType: null,
  subject: null,
  modifiers: null,
  named: null,
  ageYears: 5,
  ...more,
})
const strengthsOf = (standings: number[]): number[] =>
  standings.map(standing => resultStrength(facts(standing), model).strength)

let seed = 3
const random = (): number => (seed = (seed * 48271) % 2147483647) / 2147483647

describe('strength', () => {
  test('a page is written for a keyword when it has its words and answers its modifier words, or has no modifier words to answer', () => {
    const written = { fit: 92, coverage: 100, modifiers: 60 }
    expect(isWrittenFor(written)).toBe(true)
    expect(isWrittenFor({ ...written, modifiers: null })).toBe(true)
    expect(isWrittenFor({ ...written, modifiers: 40 })).toBe(false)
    expect(isWrittenFor({ ...written, fit: 60 })).toBe(false)
    expect(isWrittenFor({ ...written, coverage: null })).toBe(false)
  })
  test('is the sum of its parts; unknown parts add nothing', () => {
    const { strength, parts } = resultStrength(facts(null), model)
    expect(strength).toBeCloseTo(parts.reduce((sum, part) => sum + part.adds, 0))
    expect(parts.filter(part => part.value === null).every(part => part.adds === 0)).toBe(true)
  })
  test('more of any feature never makes a result weaker', () => {
    for (const feature of [
      'siteStanding',
      'pageStanding',
      'trust',
      'linkingSites',
      'fit',
      'coverage',
      'similarity',
      'sharedPhrase',
      'ageYears',
    ] as const)
      expect(resultStrength(facts(50, { [feature]: 60 }), model).strength).toBeGreaterThan(
        resultStrength(facts(50, { [feature]: 10 }), model).strength,
      )
  })
  test('the standing scale undoes strength exactly', () => {
    for (const standing of [0, 17, 63, 100])
      expect(standingForStrength(resultStrength(newPageFacts(standing), model).strength, model)).toBeCloseTo(standing)
  })
})

describe('falling fit', () => {
  test('never rises, keeps the sum, leaves falling values alone', () => {
    for (let round = 0; round < 200; round++) {
      const values = Array.from({ length: 1 + Math.floor(random() * 12) }, () => random() * 10)
      const fitted = fallingFit(values)
      expect(fitted.length).toBe(values.length)
      for (let i = 1; i < fitted.length; i++) expect(fitted[i]!).toBeLessThanOrEqual(fitted[i - 1]! + 1e-12)
      expect(fitted.reduce((a, b) => a + b, 0)).toBeCloseTo(values.reduce((a, b) => a + b, 0))
      expect(fallingFit(fitted)).toEqual(fitted.map(value => expect.closeTo(value, 9)))
    }
    expect(fallingFit([3, 2, 1])).toEqual([3, 2, 1])
    expect(fallingFit([3, 1, 2])).toEqual([3, 1.5, 1.5])
    expect(fallingFit([])).toEqual([])
  })
  test('is the closest of all falling sequences (slow search over pooled blocks)', () => {
    const cost = (a: number[], b: number[]): number => a.reduce((sum, value, i) => sum + (value - b[i]!) ** 2, 0)
    for (let round = 0; round < 60; round++) {
      const values = Array.from({ length: 6 }, () => Math.round(random() * 9))
      let best = Number.POSITIVE_INFINITY
      for (let cuts = 0; cuts < 32; cuts++) {
        const blocks: number[][] = [[values[0]!]]
        for (let i = 1; i < 6; i++)
          if (cuts & (1 << (i - 1))) blocks.push([values[i]!])
          else blocks.at(-1)!.push(values[i]!)
        const means = blocks.map(block => block.reduce((a, b) => a + b, 0) / block.length)
        if (means.every((mean, i) => !i || mean <= means[i - 1]! + 1e-12))
          best = Math.min(
            best,
            cost(
              values,
              blocks.flatMap((block, i) => block.map(() => means[i]!)),
            ),
          )
      }
      expect(cost(values, fallingFit(values))).toBeCloseTo(best)
    }
  })
})

describe('chances', () => {
  test('rise with k, with the own strength, and fall with the others', () => {
    const strong = strengthsOf([90, 88, 85, 80, 80, 78, 75, 74, 70, 70])
    const weak = strengthsOf([40, 38, 35, 30, 30, 28, 25, 24, 20, 20])
    let before = 0
    for (const position of chancePositions) {
      const chance = positionChances(0, weak, model)![position]
      expect(chance).toBeGreaterThanOrEqual(before)
      expect(positionChances(1, weak, model)![position]).toBeGreaterThan(chance)
      expect(positionChances(0, strong, model)![position]).toBeLessThan(chance)
      before = chance
    }
  })
  test('a new page is made as pages are on average, so its chance is told with less doubt; what is even stays even', () => {
    const learnt = { ...model, pageShare: 0.36 }
    const strong = strengthsOf([90, 85, 80, 80, 75, 70, 70, 65, 60, 60])
    const logit = (chance: number): number => Math.log(chance / (1 - chance))
    const [surer, usual] = [positionChances(1, strong, learnt)!, positionChances(1, strong, model)!]
    for (const position of chancePositions) expect(logit(surer[position])).toBeCloseTo(logit(usual[position]) / 0.8)
    expect(positionChances(1, strong, learnt, false)).toEqual(usual)
    expect(difficulty(strong, learnt, even)).toBe(difficulty(strong, model, even))
    const [own, before] = [ownLevels(50, {}, learnt, even), ownLevels(50, {}, model, even)]
    expect(own.comfortable).toBeGreaterThan(before.comfortable)
    expect(own.stretch).toBeLessThan(before.stretch)
  })
  test('where the keyword names a site, a page that fits is one of that site, for which less standing is enough', () => {
    const strengths = strengthsOf([80, 75, 70, 60, 60, 55, 50, 50, 45, 45, 40, 40])
    expect(difficulty(strengths, model, even, 'own')!).toBeLessThan(difficulty(strengths, model, even)! - 5)
  })
  test('an empty page tells nothing', () => {
    expect(positionChances(0, [], model)).toBeNull()
    expect(difficulty([], model, even)).toBeNull()
    expect(levelsAtPositions([])).toBeNull()
  })
  test('a short page is judged by its last places', () => expect(levelsAtPositions([3, 2])![10]).toBeCloseTo(2.5))
  test('likely places enclose six chances in ten', () => {
    const chances: Chances = { 1: 0.05, 3: 0.2, 5: 0.5, 10: 0.8, 20: 0.95 }
    expect(likelyPositions(chances)).toEqual({ from: 3, to: 10 })
    expect(likelyPositions({ 1: 0.9, 3: 0.95, 5: 0.96, 10: 0.97, 20: 0.98 })).toEqual({ from: 1, to: 1 })
    expect(likelyPositions({ 1: 0, 3: 0, 5: 0, 10: 0.05, 20: 0.1 })).toEqual({ from: null, to: null })
  })
})

describe('difficulty', () => {
  test('is where a slow search finds an even chance', () => {
    for (let round = 0; round < 30; round++) {
      const strengths = strengthsOf(Array.from({ length: 10 }, () => random() * 100))
      const found = difficulty(strengths, model, even)!
      const chance = (standing: number): number =>
        positionChances(resultStrength(newPageFacts(standing), model).strength, strengths, model)![10]
      let slow = 0
      while (slow < 100 && chance(slow) < 0.5) slow += 0.05
      expect(Math.abs(found - Math.min(100, slow))).toBeLessThan(0.1)
    }
  })
  test('stays within 0 and 100 and grows with the standing of the results', () => {
    expect(
      difficulty(
        strengthsOf(new Array(10).fill(0)).map(s => s - 9),
        model,
        even,
      ),
    ).toBe(0)
    expect(
      difficulty(
        strengthsOf(new Array(10).fill(100)).map(s => s + 9),
        model,
        even,
      ),
    ).toBe(100)
    expect(difficulty(strengthsOf(new Array(10).fill(70)), model, even)!).toBeGreaterThan(
      difficulty(strengthsOf(new Array(10).fill(40)), model, even)!,
    )
  })
  test('own levels say where the chance is 0.8 and 0.4', () => {
    const levels = ownLevels(60, { domain: 'own.example' }, model, even)
    expect(levels.comfortable).toBeLessThan(60)
    expect(levels.stretch).toBeGreaterThan(60)
    const lead = (standing: number): number =>
      model.slope[10]! *
      (resultStrength(newPageFacts(60), model).strength - resultStrength(newPageFacts(standing), model).strength)
    expect(1 / (1 + Math.exp(-lead(levels.comfortable)))).toBeCloseTo(0.8)
    expect(1 / (1 + Math.exp(-lead(levels.stretch)))).toBeCloseTo(0.4)
    // What is known of the site counts, and an unknown age adds nothing.
    const at = (site: Parameters<typeof ownLevels>[1], of = model): number => ownLevels(60, site, of, even).comfortable
    expect(at({ ageYears: 25 })).toBeGreaterThan(at({ ageYears: 1 }))
    expect(at({ ageYears: null })).toBe(at({}))
    const known = { ...model, siteEffects: { 'own.example': 0.5 } }
    expect(at({ domain: 'own.example' }, known)).toBeGreaterThan(at({ domain: 'other.example' }, known))
  })
})

describe('terrain', () => {
  const page = [facts(95), facts(92), facts(50, { fit: 95 }), facts(30, { fit: 40, linkingSites: 0 })]
  test('names openings, the locked top and precedents', () => {
    const terrain = terrainOf(page, 60, model, even)
    expect(terrain.lockedTop).toBe(2)
    expect(terrain.openings).toContain(4)
    expect(terrain.precedents).toEqual([3])
    expect(readTerrain(terrain, page)).toContain('the first 2 far above')
  })
  test('for a keyword that names another site nothing is open, and the sentence says why', () => {
    const terrain = terrainOf(page, 60, model, even, true)
    expect(terrain).toMatchObject({ lockedTop: 2, openings: [], precedents: [] })
    expect(terrain.positions.map(each => each.level)).toEqual(
      terrainOf(page, 60, model, even).positions.map(each => each.level),
    )
    expect(readTerrain(terrain, page, 'clayharbour.example')).toMatch(/^The keyword names clayharbour\.example/)
    const strengths = page.map(each => resultStrength(each, model).strength)
    const chanceOf = (names: Named): number =>
      positionChances(
        resultStrength(newPageFacts(60, { domain: 'own.example' }, names), model).strength,
        strengths,
        model,
      )![10]
    expect(chanceOf('other')).toBeLessThan(chanceOf(null) / 2)
    expect(chanceOf('own')).toBeGreaterThan(chanceOf(null))
  })
  test('a place of the own site is no opening and no precedent for a page of it', () => {
    const { openings, precedents, positions } = terrainOf(page, 60, model, even)
    const at = precedents[0]! - 1
    const own = page.map((each, i) => (i === at ? { ...each, domain: 'own.example' } : each))
    const terrain = terrainOf(own, 60, model, even, false, 'own.example')
    expect(terrain.openings).toEqual(openings.filter(position => position !== at + 1))
    expect(terrain.precedents).toEqual(precedents.slice(1))
    expect(terrain.positions.map(each => each.level)).toEqual(positions.map(each => each.level))
    expect(terrain.own).toEqual([at + 1])
  })
  test('the sentence counts the own places neither as above nor as below', () => {
    const sentenceOf = (levels: Array<number | 'own'>): string => {
      const results = levels.map(level => (level === 'own' ? { ...facts(40), domain: 'own.example' } : facts(level)))
      return readTerrain(terrainOf(results, 60, model, even, false, 'own.example'), results)
    }
    expect(sentenceOf([95, 'own', 90])).toMatch(/^All places but your own, 2, stand above your level/)
    expect(sentenceOf([95, 'own', 94, 20, 90])).toMatch(/^Places 1 and 3 stand above your level.*An opening at place 4/)
    expect(sentenceOf(['own', 20, 10])).toMatch(/^The whole page lies below your level/)
    expect(sentenceOf(['own', 20, 95])).toMatch(/^An opening at place 2/)
    expect(sentenceOf(['own', 'own'])).toBe('All places are yours.')
  })
  test('an unknown own level names nothing and says so', () => {
    const terrain = terrainOf(page, null, model, even)
    expect(terrain).toMatchObject({ lockedTop: 0, openings: [], precedents: [] })
    expect(readTerrain(terrain, page)).toContain('unknown')
  })
  test('sentences for a page all above, all below, and empty', () => {
    expect(readTerrain(terrainOf([facts(95), facts(95)], 10, model, even), [])).toContain(
      'All 2 places stand above your level',
    )
    expect(readTerrain(terrainOf([facts(5), facts(5)], 90, model, even), [facts(5), facts(5)])).toContain(
      'The whole page lies below your level',
    )
    expect(readTerrain(terrainOf([], 50, model, even), [])).toContain('no results')
  })
  test('runs of places in words', () => {
    expect(placeRuns([6, 7, 8, 10])).toBe('6–8 and 10')
    expect(placeRuns([1, 3, 5])).toBe('1, 3 and 5')
    expect(placeRuns([])).toBe('')
  })
})
