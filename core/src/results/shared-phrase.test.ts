import { describe, expect, test } from 'vitest'
import { sharedPhrases } from './shared-phrase.ts'

const result = (title: string, snippet = '', i = 0) => ({ title, snippet, url: `https://site-${i}.example/` })
/** Six results that call it "kiln price", two that call it "kiln cost", one on the subject alone, one on another subject's cost. */
const pages = [
  ...Array.from({ length: 6 }, (_, i) => result(`Guide ${i}`, 'All about it. Also: the price of a kiln.')),
  result('Kiln cost'),
  result('What a kiln costs'),
  result('Kiln repair', 'Bricks and coils.'),
  result('Wheel cost', 'Motors, trays.'),
]

describe('the phrase that results share', () => {
  const { shares, phrase } = sharedPhrases('kiln cost', pages, 'en')
  test('is what most of them say of the subject, in its own wording', () => expect(phrase).toBe('price of a kiln'))
  test('counts whole for those that say it, half at least for the keyword itself', () => {
    expect(shares.slice(0, 6)).toEqual(new Array(6).fill(100))
    // Half of the results' share of 5 of the other 9.
    for (const share of shares.slice(6, 8)) expect(share).toBeCloseTo((100 * 0.5) / (5 / 9))
  })
  test('the subject alone, and the question asked of another subject, are not it', () => {
    expect(shares[8]).toBe(0)
    expect(shares[9]).toBe(0)
  })
  test('words of two clauses make no phrase', () => {
    const apart = sharedPhrases(
      'kiln cost',
      [result('Kiln. Price'), result('Kiln: price'), result('Kiln – price')],
      'en',
    )
    expect(apart).toEqual({ shares: [null, null, null], phrase: null })
  })
  test('function words and order do not matter, forms of a word are one', () => {
    const { shares } = sharedPhrases(
      'wheel for beginners',
      [result('Beginner wheel'), result('Wheels for the beginner')],
      'en',
    )
    expect(shares).toEqual([100, 100])
  })
  test('other scripts are no error, and neither are no results or no words', () => {
    expect(sharedPhrases('ろくろ 価格', [result('ろくろ 価格'), result('ろくろ 価格')], 'ja').shares).toEqual([
      100, 100,
    ])
    expect(sharedPhrases('kiln', [], 'en')).toEqual({ shares: [], phrase: null })
    expect(sharedPhrases('', [result('Kiln')], 'en')).toEqual({ shares: [null], phrase: null })
  })
})
