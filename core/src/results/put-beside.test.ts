import { describe, expect, test } from 'vitest'
import { logLikelihood, tellingTerms, termsOf } from '../words/telling-terms.ts'
import { bestPassage } from './phrase-fit.ts'
import { expectedPosition, putBeside, type WrittenPage } from './put-beside.ts'
import { defaultModel as model, type ResultFacts } from './strength.ts'

const facts = (siteStanding: number, linkingSites: number): ResultFacts => ({
  siteStanding,
  pageStanding: null,
  trust: null,
  linkingSites,
  fit: 80,
  coverage: 80,
  similarity: 50,
  sharedPhrase: 100,
  pathType: 50,
  subject: 100,
  modifiers: null,
  named: null,
  ageYears: null,
})
const others = Array.from({ length: 12 }, (_, i) => ({
  title: 'Kick wheel, tried',
  url: `https://site-${i}.example/kick-wheel`,
  snippet: 'A kick wheel turns without a motor.',
  facts: facts(70 - 3 * i, 8),
}))
const page = (more: Partial<WrittenPage>): WrittenPage => ({
  address: 'https://own.example/shop/17',
  title: 'Wheels',
  description: null,
  headings: [],
  text: 'We sell wheels.',
  snippet: null,
  above: null,
  ...more,
})
const known = { siteStanding: 50, trust: null, pageStanding: null, linkingSites: 1, ageYears: null }

describe('a page beside the results', () => {
  test('says how the keyword stands in each field, and what is missing, most places first', () => {
    const beside = putBeside('kick wheel', page({}), known, others, model, 'en')
    expect(Object.fromEntries(beside.fields.map(each => [each.field, each.match]))).toEqual({
      title: 'some',
      headings: 'none',
      text: 'some',
      address: 'none',
      description: 'none',
    })
    const positions = beside.lacks.map(lack => lack.positions ?? -1)
    expect(positions).toEqual([...positions].sort((a, b) => b - a))
    expect(beside.lacks[0]).toMatchObject({ what: 'title', want: 'phrase' })
    const titled = putBeside('kick wheel', page({ title: 'Kick wheel' }), known, others, model, 'en')
    expect(titled.lacks.find(lack => lack.what === 'links')).toMatchObject({ now: '1', want: '8' })
    // The results' own headings and texts are not seen on a result page.
    expect(beside.lacks.find(lack => lack.what === 'text')!.positions).toBeNull()
  })
  test('words do not help where the keyword names another site, but that site itself they do', () => {
    const named = [
      { ...others[0]!, url: 'https://kickwheel.example/', facts: { ...others[0]!.facts, domain: 'kickwheel.example' } },
      ...others.slice(1),
    ]
    const beside = (more: Partial<WrittenPage>, domain: string) =>
      putBeside('kick wheel', page(more), { ...known, domain }, named, model, 'en')
    const titled = { title: 'Kick wheel', description: 'A kick wheel.' }
    expect(beside(titled, 'own.example').position).toBeCloseTo(beside({}, 'own.example').position)
    expect(beside(titled, 'kickwheel.example').position).toBeLessThan(beside({}, 'kickwheel.example').position - 1)
    const promised = beside({}, 'own.example').lacks.filter(lack => lack.positions !== null && lack.what !== 'links')
    expect(promised).toEqual([])
  })
  test('a page that begins with the modifier word gains by it, by the words of the model', () => {
    const requests = others.map(other => ({ ...other, title: 'Kick wheel plans', snippet: 'Plans to build one.' }))
    const words = { results: 1_000, having: { kick: 90, wheel: 200, plan: 12 } }
    const rising = { ...model.curves.modifiers, y: [-0.5, 0.5] }
    const learnt = { ...model, words, curves: { ...model.curves, modifiers: rising } }
    const beside = (title: string, by = learnt) => putBeside('kick wheel', page({ title }), known, requests, by, 'en')
    const { modifiers: answered } = beside('Kick wheel plans').facts
    const { modifiers: missed } = beside('Kick wheel history').facts
    expect(answered).toBeGreaterThan(missed! + 20)
    const gain = (by: typeof model): number =>
      beside('Kick wheel plans', by as typeof learnt).strength -
      beside('Kick wheel history', by as typeof learnt).strength
    expect(gain(learnt)).toBeCloseTo(gain({ ...model, words }) + (answered! - missed!) / 100)
    expect(putBeside('kick wheel', page({}), known, requests, model, 'en').facts.modifiers).toBeNull()
  })
  test('a phrase that most results say and the page does not is told, with what it would gain', () => {
    const priced = others.map(other => ({ ...other, snippet: 'The price of a kick wheel, told plainly.' }))
    const own = page({ title: 'Kick wheel cost', description: 'What ours takes.', text: '' })
    const beside = putBeside('kick wheel cost', own, known, priced, model, 'en')
    const lack = beside.lacks.find(each => each.what === 'sharedPhrase')!
    expect(lack.want).toBe('price of a kick wheel')
    const after = putBeside(
      'kick wheel cost',
      { ...own, description: `${lack.want}. What ours takes.` },
      known,
      priced,
      model,
      'en',
    )
    expect(beside.position - after.position).toBeCloseTo(lack.positions!)
    expect(after.lacks.map(each => each.what)).not.toContain('sharedPhrase')
    // Where they share the keyword itself, the fields tell it.
    expect(putBeside('kick wheel', page({}), known, others, model, 'en').lacks.map(each => each.what)).not.toContain(
      'sharedPhrase',
    )
  })
  test('doing what it says gains what it says', () => {
    const before = putBeside('kick wheel', page({}), known, others, model, 'en')
    const gain = before.lacks.find(lack => lack.what === 'title')!.positions!
    const after = putBeside('kick wheel', page({ title: 'kick wheel Wheels' }), known, others, model, 'en')
    expect(before.position - after.position).toBeCloseTo(gain)
    expect(after.strength).toBeGreaterThan(before.strength)
  })
  test('a page without a description is shown by the sentence where the keyword stands best', () => {
    const text = 'We sell wheels. Our kick wheel is made here. A wheel.'
    expect(bestPassage('kick wheel', text, 'en')).toBe('Our kick wheel is made here.')
    expect(bestPassage('glaze', text, 'en')).toBe('')
    const beside = putBeside('kick wheel', page({ text }), known, others, model, 'en')
    expect(beside.lacks.map(lack => lack.what)).not.toContain('description')
    expect(beside.strength).toBeGreaterThan(putBeside('kick wheel', page({}), known, others, model, 'en').strength)
  })
  test('a page that has everything lacks nothing', () => {
    const all = page({
      address: 'https://own.example/kick-wheel',
      title: 'Kick wheel',
      description: 'Kick wheel',
      headings: ['Kick wheel'],
      text: 'Kick wheel',
    })
    const beside = putBeside('kick wheel', all, { ...known, linkingSites: 9 }, others, model, 'en')
    expect(beside.lacks).toEqual([])
    expect(beside.chances![20]).toBeGreaterThanOrEqual(beside.chances![10])
  })
  test('without results there is one place and no chance to tell', () => {
    const beside = putBeside('kick wheel', page({}), known, [], model, 'en')
    expect(beside.position).toBe(1)
    expect(beside.chances).toBeNull()
  })
  test('the expected place lies between the first and one past the last', () => {
    expect(expectedPosition(0, [0, 0])).toBe(2)
    expect(expectedPosition(50, [0, 0])).toBeCloseTo(1)
    expect(expectedPosition(-50, [0, 0])).toBeCloseTo(3)
  })
})

describe('telling terms', () => {
  test('log-likelihood is 0 for equal shares and grows with the difference', () => {
    expect(logLikelihood(5, 10, 50, 100)).toBeCloseTo(0)
    expect(logLikelihood(9, 10, 50, 100)).toBeGreaterThan(logLikelihood(7, 10, 50, 100))
    // By hand: 2·(3·ln(3/1.5) + 3·ln(3/1.5)) for 3 of 3 against 0 of 3.
    expect(logLikelihood(3, 3, 0, 3)).toBeCloseTo(12 * Math.LN2)
  })
  test('terms do not run across sentences or begin with function words', () => {
    const terms = termsOf('The price of clay. Stoneware clay', 'en')
    expect(terms).toContain('price of clay')
    expect(terms).toContain('stoneware clay')
    expect(terms).not.toContain('clay stoneware')
    expect(terms).not.toContain('the price')
  })
  test('what the group shares and the background does not comes first; parts of longer terms are left out', () => {
    const group = ['Cone six glaze recipes', 'A cone six glaze', 'Which cone six glaze', 'Glaze']
    const background = ['Glaze', 'Wheel glaze', 'Clay recipes', 'Glaze for all', 'Glaze']
    const terms = tellingTerms(group, background, 'en', 5).map(each => each.term)
    expect(terms[0]).toBe('cone six glaze')
    expect(terms).not.toContain('cone six')
    expect(terms).not.toContain('recipes')
  })
  test('few texts tell nothing', () => expect(tellingTerms(['a clay', 'a clay'], [], 'en', 5)).toEqual([]))
})
