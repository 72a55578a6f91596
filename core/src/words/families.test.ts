import { describe, expect, test } from 'vitest'
import { brandFinder, brandWordings, findBrand } from './brand-words.ts'
import { groupFamilies } from './families.ts'
import { wordTree } from './word-tree.ts'

const member = (id: number, family: string, searches: number | null, months: number[] | null = null) => ({
  id,
  family,
  searches,
  months,
})

describe('families', () => {
  test('the face is the most searched member; identical figures count once, different ones add up', () => {
    const families = groupFamilies([
      member(1, 'a', 50, [40, 60]),
      member(2, 'a', 50, [40, 60]),
      member(3, 'b', 10),
      member(4, 'b', 30),
      member(5, 'b', null),
    ])
    expect(families.get('a')).toMatchObject({ face: 1, oneFigure: true, searches: 50, members: [1, 2] })
    expect(families.get('b')).toMatchObject({ face: 4, oneFigure: false, searches: 40, members: [3, 4, 5] })
  })
  test('a family nobody has figures for is unknown, not zero', () =>
    expect(groupFamilies([member(1, 'a', null), member(2, 'a', null)]).get('a')).toMatchObject({
      face: 1,
      searches: null,
      oneFigure: false,
    }))
  test('the same average from other months is another figure', () =>
    expect(groupFamilies([member(1, 'a', 50, [40, 60]), member(2, 'a', 50, [60, 40])]).get('a')).toMatchObject({
      oneFigure: false,
      searches: 100,
    }))
})

describe('brand words', () => {
  const brands = [
    { owner: 'kilnandtide.example', own: true, words: brandWordings('Kiln & Tide', 'kilnandtide.example') },
    { owner: 'clay.example', own: false, words: brandWordings('Clay Harbour', 'clay-harbour.example') },
  ]
  test('names, "and" for "&", and domains are known', () => {
    expect(brands[0]!.words).toEqual(['kiln tide', 'kiln and tide', 'kilnandtide'])
    expect(findBrand('Kiln & Tide opening hours', brands)?.own).toBe(true)
    expect(findBrand('kiln and tide opening hours', brands)?.own).toBe(true)
    expect(findBrand('kilnandtide', brands)?.own).toBe(true)
    expect(findBrand('clay harbour reviews', brands)?.owner).toBe('clay.example')
  })
  test('parts of words and words apart are not the brand', () => {
    expect(findBrand('kiln at high tide', brands)).toBeNull()
    expect(findBrand('clay harbours', brands)).toBeNull()
    expect(brandWordings('Ox', 'ox.example')).toEqual([])
  })
  test('a finder for many phrases says the same, also of words with signs', () => {
    const odd = [...brands, { owner: 'odd.example', own: false, words: ['a+b (c', ''] }]
    const find = brandFinder(odd)
    for (const phrase of ['Kiln & Tide hours', 'kiln at high tide', 'clay harbour', 'raku', 'a+b (c'])
      expect(find(phrase)).toBe(findBrand(phrase, odd))
    expect(brandFinder([])('kiln and tide')).toBeNull()
  })
})

describe('the word tree', () => {
  const tree = wordTree('kiln', [
    { id: 1, phrase: 'kiln for home', weight: 10 },
    { id: 2, phrase: 'kiln for home use', weight: 5 },
    { id: 3, phrase: 'kiln for sale', weight: null },
    { id: 4, phrase: 'how to load a kiln', weight: 7 },
    { id: 5, phrase: 'kilns price', weight: 2 },
    { id: 6, phrase: 'pottery wheel', weight: 1 },
    { id: 7, phrase: 'kiln', weight: 100 },
  ])
  test('branches to both sides, joins steps without a choice, sums known weights', () => {
    expect(tree.after.map(node => node.words)).toEqual(['for', 'price'])
    const [first] = tree.after
    expect(first).toMatchObject({ phrases: 3, weight: 15, id: null })
    expect(first!.children.map(node => [node.words, node.id, node.weight])).toEqual([
      ['home', 1, 15],
      ['sale', 3, null],
    ])
    expect(first!.children[0]!.children).toMatchObject([{ words: 'use', id: 2 }])
    expect(tree.before).toMatchObject([{ words: 'how to load a', id: 4, phrases: 1 }])
  })
  test('counts what does not have the seed, and takes plurals for it', () => {
    expect(tree.left).toBe(1)
    expect(tree.phrases).toBe(6)
    expect(tree.after.find(node => node.words === 'price')?.id).toBe(5)
  })
  test('every phrase with the seed and more stands in it once', () => {
    const count = (nodes: typeof tree.after): number =>
      nodes.reduce((sum, node) => sum + (node.id === null ? 0 : 1) + count(node.children), 0)
    expect(count(tree.before) + count(tree.after)).toBe(5)
    expect(wordTree('', [{ id: 1, phrase: 'a b', weight: 1 }])).toMatchObject({ before: [], after: [], left: 1 })
  })
})
