import { describe, expect, test } from 'vitest'
import { modifierShares, WordTally } from './modifier-words.ts'

const result = (title: string, snippet = '', i = 0) => ({ title, snippet, url: `https://site-${i}.example/` })

/** What many other results say: glazes of all kinds, hardly ever designs or ideas. */
const usual = (() => {
  const tally = new WordTally()
  tally.add(
    Array.from({ length: 200 }, (_, i) =>
      result(`${['Ash', 'Clear', 'Matte', 'Raku'][i % 4]} glaze ${i % 50 ? 'recipe' : 'designs'}`, 'Read on.', i),
    ),
    'en',
  )
  return tally.counts()
})()

describe('modifier words of a keyword', () => {
  const page = [
    ...Array.from({ length: 6 }, (_, i) =>
      result('Ash glaze designs', 'Ash glaze designs: pictures. Also: ash glaze recipe.', i),
    ),
    result('Ash glaze recipe', 'Ash glaze recipe: what to mix. Also: ash glaze designs.', 6),
    result('Clear glaze designs', 'Clear glaze designs: pictures.', 7),
    result('Ash glaze ideas', 'Ash glaze ideas, all of them.', 8),
    result('Ash glaze – Designs and More', 'Ash glaze: what it is.', 9),
  ]
  const shares = modifierShares('ash glaze ideas', page, 'en', usual)
  test('is led with by pages that say it in the words of the others, be it of another subject', () => {
    expect(shares[0]).toBeGreaterThan(55)
    expect(shares[7]).toBeCloseTo(shares[0]!, 0)
  })
  test('the words of the keyword itself count though no other result has them', () => {
    expect(shares[8]).toBeGreaterThan(shares[6]! + 10)
    expect(shares[8]).toBeLessThan(shares[0]!)
  })
  test('who says it last, or only in its name, leads with something else', () => {
    expect(shares[6]).toBeLessThan(35)
    expect(shares[9]).toBeLessThan(35)
  })
  test('50 is the mean of the first ten, whatever stands behind them', () => {
    const mean = (list: typeof shares): number => list.slice(0, 10).reduce<number>((sum, each) => sum + each!, 0) / 10
    expect(mean(shares)).toBeCloseTo(50)
    expect(mean(modifierShares('ash glaze ideas', [...page, ...page], 'en', usual))).toBeCloseTo(50)
  })
  test('is unknown before words were counted, and where every word is the subject or usual', () => {
    expect(modifierShares('ash glaze ideas', page, 'en', undefined)).toEqual(page.map(() => null))
    const plain = Array.from({ length: 5 }, (_, i) => result('Ash glaze', '', i))
    expect(modifierShares('ash glaze', plain, 'en', usual)).toEqual(plain.map(() => null))
    expect(modifierShares('ash glaze', [], 'en', usual)).toEqual([])
  })
})

describe('words of many results', () => {
  test('an address counts once, rare words are left out, words are stems', () => {
    const tally = new WordTally()
    tally.add([result('Glazes', 'one', 1), result('Glaze', 'two', 2)], 'en')
    tally.add([result('Glazes again', 'one', 1)], 'en')
    expect(tally.counts()).toEqual({ results: 2, having: { glaze: 2 } })
  })
  test('a word that every object has is a word', () => {
    const page = ['constructor', 'constructor', 'wheel'].map((title, i) => result(title, '', i))
    const [mentioned, , other] = modifierShares('toy wheel', page, 'en', usual)
    expect(mentioned).toBeGreaterThan(other!)
    expect(mentioned).toBeLessThanOrEqual(100)
  })
})
