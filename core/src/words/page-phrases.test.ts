import { describe, expect, test } from 'vitest'
import { pagePhrases, type PageText } from './page-phrases.ts'

const page = (more: Partial<PageText>): PageText => ({
  title: null,
  headings: [],
  description: null,
  text: '',
  ...more,
})
const phrases = (pages: PageText[], language = 'en'): string[] =>
  pagePhrases(pages, language, 100).map(each => each.phrase)

describe('phrases of a page', () => {
  test('title first, then headings, description and what the text repeats', () => {
    const list = phrases([
      page({
        title: 'Raku kilns | Kiln & Tide',
        headings: ['Gas burners for firing'],
        description: 'Pit firing at home',
        text: 'A saggar holds the pot. The saggar is sealed. Once only.',
      }),
    ])
    expect(list[0]).toBe('raku kilns')
    expect(list).toContain('gas burners for firing')
    expect(list).toContain('pit firing at home')
    expect(list).toContain('saggar')
    expect(list).not.toContain('once')
    expect(list.indexOf('gas burners for firing')).toBeLessThan(list.indexOf('saggar'))
  })
  test('phrases run across no mark and neither begin nor end with a function word', () => {
    const list = phrases([page({ title: 'Glaze recipes: the best of the year, tested' })])
    expect(list).toEqual(expect.arrayContaining(['glaze recipes', 'best of the year', 'tested']))
    expect(list.every(each => !/^(the|of) | (the|of)$/.test(each))).toBe(true)
  })
  test('a part that stands nowhere else is left out, one that does is kept', () => {
    expect(phrases([page({ title: 'Pottery wheel' })])).toEqual(['pottery wheel'])
    expect(phrases([page({ title: 'Pottery wheel', headings: ['Pottery at home'] })])).toContain('pottery')
  })
  test('what nearly every page of a site has is furniture', () => {
    const pages = Array.from({ length: 8 }, (_, i) => page({ title: `Subject ${'abcdefgh'[i]}x | Kiln Shop` }))
    expect(phrases(pages)).not.toContain('kiln shop')
    expect(phrases(pages)).toContain('subject ax')
    expect(phrases(pages.slice(0, 3))).toContain('kiln shop')
  })
  test('German function words, empty pages and numbers', () => {
    expect(phrases([page({ title: 'Der Ton und die Glasur' })], 'de')).toContain('ton und die glasur')
    expect(phrases([page({})])).toEqual([])
    expect(phrases([page({ title: '2026 12' })])).toEqual([])
  })
})
