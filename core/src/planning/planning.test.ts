import { describe, expect, test } from 'vitest'
import { toMarkdown } from '../text/blocks.ts'
import { assignThemes, type OpenTheme } from './assign-themes.ts'
import { briefBlocks } from './brief-blocks.ts'
import { checkBrief } from './check-brief.ts'
import { named, pageRules, type RuleKeyword } from './page-rules.ts'
import { monthlyVisits, outBefore, peakMonth, seasonIndex } from './season.ts'
import { cutToWidth, lineLimits, textWidth } from './text-width.ts'
import { visitsRange } from './visits-range.ts'

describe('the width of a line', () => {
  test('is that of Arimo at its size', () => {
    // From the font's table: A 1366, b 1139, space 569, dash 1139, é 1139 of 2048 units.
    expect(textWidth('Ab', 20)).toBeCloseTo((2_505 / 2_048) * 20, 9)
    expect(textWidth('A  b', 20)).toBeCloseTo((3_074 / 2_048) * 20, 9)
    expect(textWidth('e\u0301', 14)).toBe(textWidth('é', 14))
    expect(textWidth('窯', 14)).toBe(14)
    expect(textWidth('', 20)).toBe(0)
  })
  test('is cut after a whole word, a single long word within', () => {
    const { size, desktop } = lineLimits.title
    const title = 'Kiln shelves: sizes, stilts and what holds what, with a table of all makers and their prices'
    const cut = cutToWidth(title, size, desktop)
    expect(title.startsWith(cut.replace(/ …$/, ''))).toBe(true)
    expect(textWidth(cut, size)).toBeLessThanOrEqual(desktop)
    expect(cutToWidth('Short', size, desktop)).toBe('Short')
    const long = cutToWidth('w'.repeat(200), size, desktop)
    expect([long.endsWith('w…'), textWidth(long, size) <= desktop]).toEqual([true, true])
  })
})

describe('the season', () => {
  const twoYears = [...Array.from({ length: 11 }, () => 100), 400]
  test('is what each calendar month has of the demand, flat where it is not called one', () => {
    const index = seasonIndex([...twoYears, ...twoYears], 1, true)
    expect([index[0], index[11]]).toEqual([0.8, 3.2])
    expect(index.reduce((sum, each) => sum + each, 0)).toBeCloseTo(12, 9)
    // The months begin in March: the peak is February.
    expect(seasonIndex([...twoYears, ...twoYears], 3, true).indexOf(3.2)).toBe(1)
    expect(new Set(seasonIndex(twoYears, 1, false))).toEqual(new Set([1]))
    expect(new Set(seasonIndex([null, 3, 4], 1, true))).toEqual(new Set([1]))
    expect(
      new Set(
        seasonIndex(
          twoYears.map(() => 0),
          1,
          true,
        ),
      ),
    ).toEqual(new Set([1]))
  })
  test('of several keywords is the sum of theirs, and its peak stands out by a fifth', () => {
    const flat = Array.from({ length: 12 }, () => 1)
    const summer = flat.map((_, i) => (i === 7 ? 2 : 10 / 11))
    const months = monthlyVisits([
      { visits: 10, season: flat },
      { visits: 30, season: summer },
    ])
    expect(months[7]).toBe(70)
    expect([peakMonth(months), peakMonth(flat), peakMonth(flat.map(() => 0))]).toEqual([7, null, null])
  })
  test('asks for a page sixty days before the peak that comes next', () => {
    expect(outBefore(7, '2026-11-20', 60)).toBe('2027-06-02')
    expect(outBefore(0, '2026-10-20', 60)).toBe('2026-11-02')
    expect(outBefore(0, '2026-11-20', 60)).toBe('2027-11-02')
  })
})

describe('the range of visits', () => {
  const atPosition = Array.from({ length: 20 }, (_, i) => 1_000 / (i + 2))
  const keyword = (within3: number, within10: number, within20: number, part = 1) => ({
    within3,
    within10,
    within20,
    atPosition,
    part,
  })
  test('holds the expected visits, and is wider the less sure positions are', () => {
    const sure = visitsRange([{ keywords: [keyword(1, 1, 1)], beside: [] }])!
    const unsure = visitsRange([{ keywords: [keyword(0.3, 0.6, 0.8)], beside: [] }])!
    expect(sure.low).toBeGreaterThan(100)
    expect(sure.high).toBeLessThan(900)
    expect(unsure.low).toBe(0)
    expect(unsure.high - unsure.low).toBeGreaterThan(sure.high - sure.low)
  })
  test('of pages together is narrower than the sum of their ranges', () => {
    const one = { keywords: [keyword(0.3, 0.6, 0.8)], beside: [] }
    const single = visitsRange([one])!
    const many = visitsRange(Array.from({ length: 10 }, () => one))!
    expect(many.high - many.low).toBeLessThan(5 * (single.high - single.low))
    expect(many.low).toBeGreaterThan(10 * single.low)
  })
  test('counts forms of one keyword once and what a page brings beside them', () => {
    const whole = visitsRange([{ keywords: [keyword(1, 1, 1)], beside: [] }])!
    const halves = visitsRange([{ keywords: [keyword(1, 1, 1, 0.5)], beside: [] }])!
    expect(halves.high).toBeCloseTo(whole.high / 2, 9)
    const [none, forty] = [[0], [40]].map(beside => visitsRange([{ keywords: [keyword(1, 1, 1)], beside }])!)
    expect(forty!.low).toBeCloseTo(none!.low + 40, 9)
  })
  test('of nothing is not known', () => {
    expect(visitsRange([])).toBeNull()
    expect(visitsRange([{ keywords: [], beside: [5] }])).toBeNull()
  })
})

describe('pages for themes', () => {
  const theme = (id: number, lead: string, more: Partial<OpenTheme> = {}): OpenTheme => ({
    id,
    name: lead,
    lead,
    searches: 100,
    keywords: 3,
    own: null,
    planned: null,
    ...more,
  })
  const home = { address: 'https://a.example/', title: 'Home page', pageId: null }
  const themes = [
    theme(1, 'pottery', { searches: 9_000 }),
    theme(2, 'pottery wheel'),
    theme(3, 'electric pottery wheel'),
    theme(4, 'small pottery wheel'),
    theme(5, 'raku firing'),
    theme(6, 'pottery class', {
      own: {
        address: 'https://a.example/class',
        title: '/class',
        position: 7.4,
        visits: 1_240,
        keywords: 2,
        pageId: null,
      },
    }),
    theme(7, 'kiln', { planned: { pageId: 70, title: 'Kilns', keywords: 2 } }),
  ]
  test('the home page takes the broadest, sections what others narrow down, articles the rest', () => {
    const found = assignThemes(themes, home, 'en')
    expect(found.map(each => [each.id, each.level, each.to, each.parent])).toEqual([
      [1, 'home', 'own', null],
      [2, 'section', 'new', null],
      [3, 'article', 'new', 2],
      [4, 'article', 'new', 2],
      [5, 'article', 'new', null],
      [6, 'article', 'own', null],
      [7, 'article', 'planned', null],
    ])
    expect(found[0]!.address).toBe('https://a.example/')
    expect(found[2]!.why).toContain('"pottery wheel"')
    expect(found[5]!.why).toBe('It stands for 2 of its 3 keywords, at best at 7, about 1,240 visits a month')
    expect([found[6]!.pageId, found[6]!.why]).toEqual([70, '2 of its 3 keywords stand on it already'])
  })
  test('a home page that is taken gets none, and the broadest becomes a section', () => {
    const [first] = assignThemes(themes, null, 'en')
    expect([first!.level, first!.to]).toEqual(['section', 'new'])
  })
})

describe('rules of a page', () => {
  const keyword = (phrase: string, more: Partial<RuleKeyword> = {}): RuleKeyword => ({
    phrase,
    family: phrase,
    searches: 100,
    difficulty: 50,
    theme: 'kiln',
    standing: null,
    ...more,
  })
  const rules = (keywords: RuleKeyword[], elsewhere: Array<[string, string]> = []) =>
    Object.fromEntries(
      pageRules(keywords, new Map(elsewhere), address => address === '/mine').map(rule => [rule.rule, rule]),
    )
  test('are all met by a lead that is searched most with easier ones of its theme', () => {
    const met = rules([
      keyword('kiln', { searches: 900, difficulty: 60, standing: '/mine' }),
      keyword('small kiln'),
      keyword('home kiln', { difficulty: 40 }),
    ])
    expect(Object.values(met).map(rule => rule.met)).toEqual([true, true, true, true])
  })
  test('say which keywords do not meet them', () => {
    const broken = rules(
      [
        keyword('kiln', { searches: 10, difficulty: 20 }),
        keyword('glaze', { theme: 'glaze', standing: '/other' }),
        keyword('raku', { theme: null }),
      ],
      [['glaze', 'Glaze shop']],
    )
    expect(Object.values(broken).map(rule => rule.met)).toEqual([false, false, false, false])
    expect(broken.oneTheme!.text).toBe('"glaze" and "raku" are not in the theme "kiln" of the lead')
    expect(broken.leadAndEasier!.text).toBe('"glaze" and "raku" are searched more than the lead')
    expect(broken.onePageOnly!.text).toBe('Forms of "glaze" stand on "Glaze shop" too')
    expect(broken.rightPage!.text).toBe('For "glaze" another page of the site stands: /other')
  })
  test('are unknown where nothing is known, and none without keywords', () => {
    const unknown = rules([keyword('kiln', { theme: null, difficulty: null })])
    expect([unknown.oneTheme!.met, unknown.leadAndEasier!.met]).toEqual([null, null])
    expect(pageRules([], new Map(), () => false)).toEqual([])
    expect([named([]), named(['a']), named(['a', 'b', 'c'])]).toEqual(['', '"a"', '"a", "b" and 1 more'])
  })
})

describe('a brief', () => {
  const brief = {
    title: 'Kiln shelves: sizes',
    description: 'Which shelf fits.',
    headings: ['What size of shelf?', 'How thick for stoneware?', 'How to clean them'],
    terms: ['stilts', 'kiln wash', 'cordierite'],
    wordsFrom: 800,
    wordsTo: 1_200,
    links: [
      { from: '/guides/firing', anchor: 'kiln shelf' },
      { from: '/shop', anchor: 'shelves' },
      { from: '/none', anchor: '' },
    ],
    remarks: '# not a heading\n*stars*',
  }
  test('held against a page says of each line whether it is done, missing or different', () => {
    const checks = checkBrief(
      brief,
      {
        title: 'Kiln Shelves – sizes',
        description: 'Something else',
        headings: ['What size of shelf', 'Stoneware: how thick?'],
        text: 'Use a stilt and kiln wash on the shelf.',
        words: 640,
        linkedFrom: new Map([
          ['a.example/guides/firing', ['Kiln shelf']],
          ['a.example/shop', ['here']],
        ]),
      },
      ['kiln shelf', 'raku'],
      'en',
      from => `a.example${from}`,
    )
    expect(checks.map(({ what, state }) => `${what} ${state}`)).toEqual([
      'title done',
      'description different',
      'heading done',
      'heading different',
      'heading missing',
      'term done',
      'term done',
      'term missing',
      'keyword done',
      'keyword missing',
      'words different',
      'link done',
      'link different',
      'link missing',
    ])
    expect(checks.find(check => check.what === 'words')).toMatchObject({
      wanted: '800 to 1,200 words',
      has: '640 words',
    })
  })
  test('goes out as Markdown in which no text is read as a mark', () => {
    const blocks = briefBlocks(
      {
        title: 'Shelves | all',
        address: '/shelves',
        work: 'New page',
        state: 'idea',
        deadline: 'Dec 18, 2026',
        owner: 'Mara',
        effort: 2,
        visits: 1_150.4,
        low: 300,
        high: 2_100,
        keywords: [
          { phrase: 'kiln shelf', searches: 1_200, difficulty: 41.3, spot: null },
          { phrase: 'half_shelf', searches: null, difficulty: null, spot: 'heading' },
        ],
      },
      brief,
      [{ url: 'https://b.example/', title: 'B', position: 1, words: 900 }],
    )
    const text = toMarkdown(blocks)
    expect(text).toContain(
      '# Shelves \\| all\n\nNew page · state: idea · due Dec 18, 2026 · owner: Mara · 2 days of work\n',
    )
    expect(text).toContain('About 1,150 visits a month, likely 300 to 2,100.')
    expect(text).toContain(
      '| kiln shelf (lead) | 1,200 | 41 | anywhere |\n| half\\_shelf | unknown | unknown | heading |',
    )
    expect(text).toContain('1. What size of shelf?\n2. How thick for stoneware?')
    expect(text).toContain('\\# not a heading\\\n\\*stars\\*')
    expect(text).toContain('800 to 1,200 words')
    expect(text).toContain('- 1\\. B, https://b.example/, 900 words')
  })
})
