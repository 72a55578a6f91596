import { describe, expect, test } from 'vitest'
import { likeness, minHash, signatureLength } from './min-hash.ts'
import { addressWords, pageAddress } from './page-address.ts'
import { textLanguage } from './text-language.ts'

describe('addresses', () => {
  test('ways to write one address compare equal', () => {
    const one = 'http://clay.example/a/c?q=1'
    for (const href of ['HTTP://Clay.example:80/a/b/../c?q=1#top', '//clay.example/a/c?q=1', ' /a/c?q=1 ', './c?q=1'])
      expect(pageAddress(href, 'http://clay.example/a/x')).toBe(one)
  })
  test('what cannot be asked for is no address', () => {
    for (const href of [
      'mailto:a@b.example',
      'javascript:x',
      'http://',
      'http://u:p@clay.example/',
      `/${'x'.repeat(2_000)}`,
      'data:,x',
    ])
      expect(pageAddress(href, 'http://clay.example/')).toBeNull()
    expect(pageAddress('relative')).toBeNull()
  })
  const pieces = "a b7 Z - . .. / // ? & = ~ + % %2e _ : @ # xn-- 1 example net \u00e4 \\ * ! ' ( ;".split(' ')
  let seed = 3
  const draw = (): string => {
    seed = (seed * 48_271) % 2_147_483_647
    return pieces[seed % pieces.length]!
  }
  test('are what the standard makes of them, on 20,000 made-up ones', () => {
    seed = 3
    let kept = 0
    for (let i = 0; i < 20_000; i++) {
      const host = i % 3 ? 'shop.clay.example' : `${draw()}${draw()}.${draw()}`
      const text = `http${i % 2 ? 's' : ''}://${host}/${Array.from({ length: i % 7 }, draw).join('')}`
      let expected: string | null = null
      try {
        const url = new URL(text)
        url.hash = ''
        if (!url.username && !url.password) expected = url.href
      } catch {
        // No address.
      }
      expect(pageAddress(text), text).toBe(expected)
      if (expected === text) kept++
    }
    expect(kept).toBeGreaterThan(5_000)
  })
  test('links are what the standard makes of them on any page, on 20,000 made-up ones', () => {
    seed = 5
    const bases = [
      'http://shop.clay.example/a/b.html?q#x',
      'https://clay.example',
      'https://clay.example?a=/b',
      'https://Clay.example:443/a',
      'http://u:p@clay.example/a',
      'ftp://clay.example/a',
      'mailto:a@clay.example',
    ]
    let fromRoot = 0
    for (let i = 0; i < 20_000; i++) {
      const base = bases[i % bases.length]!
      const text = (i % 4 ? '/' : '') + Array.from({ length: 1 + (i % 6) }, draw).join('')
      let expected: string | null = null
      try {
        const url = new URL(text, base)
        url.hash = ''
        if (/^https?:$/.test(url.protocol) && url.hostname && !url.username && !url.password) expected = url.href
      } catch {
        // No address.
      }
      expect(pageAddress(text, base), `${text} on ${base}`).toBe(expected)
      if (expected?.endsWith(text)) fromRoot++
    }
    expect(fromRoot).toBeGreaterThan(3_000)
  })
  test('words of an address', () => {
    expect(addressWords('https://clay.example/raku-kilns/small_ones.html?sort=t%C3%B6pfe')).toBe(
      'raku kilns small ones sort töpfe',
    )
    expect(addressWords('http://clay.example/100%')).toBe('100')
    expect(addressWords('no address')).toBe('')
  })
})

describe('likeness of texts', () => {
  const words = (from: number, to: number): string[] => Array.from({ length: to - from }, (_, i) => `w${from + i}`)
  const shingles = (list: string[]): Set<string> => new Set(list.slice(4).map((_, i) => list.slice(i, i + 5).join(' ')))
  const jaccard = (a: string[], b: string[]): number => {
    const [left, right] = [shingles(a), shingles(b)]
    const both = [...left].filter(each => right.has(each)).length
    return both / (left.size + right.size - both)
  }
  test('near the true Jaccard likeness of the 5-word shingles', () => {
    const errors: number[] = []
    for (const [size, shared] of [
      [400, 390],
      [400, 300],
      [1_000, 500],
      [60, 50],
      [30, 20],
      [2_000, 100],
    ] as const)
      for (let round = 0; round < 20; round++) {
        const a = words(round * 10_000, round * 10_000 + size)
        const b = [
          ...a.slice(0, shared),
          ...words(5_000_000 + round * 10_000, 5_000_000 + round * 10_000 + size - shared),
        ]
        errors.push(likeness(minHash(a)!, minHash(b)!) - jaccard(a, b))
      }
    const mean = errors.reduce((sum, each) => sum + each, 0) / errors.length
    expect(Math.abs(mean)).toBeLessThan(0.02)
    expect(Math.sqrt(errors.reduce((sum, each) => sum + each * each, 0) / errors.length)).toBeLessThan(0.08)
  })
  test('the same text is 1, other texts about 0, order counts', () => {
    const a = words(0, 300)
    expect(likeness(minHash(a)!, minHash([...a])!)).toBe(1)
    expect(likeness(minHash(a)!, minHash(words(1_000, 1_300))!)).toBeLessThan(0.1)
    expect(likeness(minHash(a)!, minHash([...a].reverse())!)).toBeLessThan(0.1)
  })
  test('four words say nothing, and signatures of another length are refused', () => {
    expect(minHash(words(0, 4))).toBeNull()
    expect(minHash(words(0, 5))).toHaveLength(signatureLength)
    expect(() => likeness(new Uint32Array(3), new Uint32Array(3))).toThrow(RangeError)
  })
})

test('language is told from running text and left open for scraps', () => {
  expect(textLanguage('The wheel turns slowly and the clay rises between the hands of the potter.')).toBe('en')
  expect(textLanguage('Der Ton wird auf der Scheibe gedreht und danach im Ofen gebrannt.')).toBe('de')
  expect(textLanguage('42')).toBeNull()
})
