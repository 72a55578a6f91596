import { describe, expect, test } from 'vitest'
import { addressWords, fieldWeights, matchPhrase, phraseFit, unseenScore } from './phrase-fit.ts'

describe('how a phrase stands in a text', () => {
  test.each([
    ['pottery wheel', 'The pottery wheel, tried', 'phrase', 1],
    ['pottery wheel', 'wheels for pottery', 'near', 0.8],
    ['pottery wheel', 'a wheel that turns well and is made for fine pottery', 'all', 0.6],
    ['pottery wheel', 'a wheel', 'some', 0.2],
    ['pottery wheel', 'glaze', 'none', 0],
    ['pottery wheel', '', 'none', 0],
    ['kiln', 'kilns', 'near', 0.8],
  ])('%j in %j: %s', (keyword, text, match, score) =>
    expect(matchPhrase(keyword, text, 'en')).toEqual({ match, score }),
  )
  test('function words of the keyword need not be there', () =>
    expect(matchPhrase('wheel for pottery', 'pottery wheel', 'en').match).toBe('near'))
})

test('words of an address: path only, escapes read, broken ones left', () => {
  expect(addressWords('https://wheel.example/shop/kick-wheel_2.html?x=kiln')).toBe('shop kick wheel 2 html')
  expect(addressWords('https://x.example/t%C3%B6pfern')).toBe('töpfern')
  expect(addressWords('https://x.example/%E0%A4%A')).toContain('%E0')
})

describe('fit', () => {
  test('whole phrase everywhere is 100, nowhere 0, nothing known unknown', () => {
    const all = {
      title: 'kick wheel',
      headings: 'kick wheel',
      text: 'kick wheel',
      address: 'https://x.example/kick-wheel',
      description: 'kick wheel',
    }
    expect(phraseFit('kick wheel', all, 'en').fit).toBeCloseTo(100)
    expect(
      phraseFit(
        'kick wheel',
        { title: 'a', headings: 'a', text: 'a', address: 'https://x.example/a', description: 'a' },
        'en',
      ).fit,
    ).toBeCloseTo(0)
    expect(phraseFit('kick wheel', {}, 'en').fit).toBeNull()
  })
  test('fields not seen count as the words close together, and are not among the reasons', () => {
    const { fit, fields } = phraseFit('kick wheel', { title: 'kick wheel' }, 'en')
    expect(fit).toBeCloseTo(100 * (fieldWeights.title + (1 - fieldWeights.title) * unseenScore))
    expect(Object.keys(fields)).toEqual(['title'])
  })
  test('weights add up to one', () => expect(Object.values(fieldWeights).reduce((a, b) => a + b, 0)).toBeCloseTo(1))
})
