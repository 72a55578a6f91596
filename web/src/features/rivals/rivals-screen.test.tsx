// @vitest-environment jsdom
import { listJobs } from '@dew-trail/contract/jobs'
import { listNotes } from '@dew-trail/contract/notes'
import {
  type Coverage,
  judgeRival,
  listLandingPages,
  listOverlap,
  listPaidKeywords,
  listRankedKeywords,
  listRivalMonths,
  listRivals,
  readMonthChanges,
  loadRankings,
  type OverlapKeyword,
  type PaidKeyword,
  type RankedKeyword,
  readOverlap,
  readRivalProfiles,
  type RivalProfile,
  type RivalSite,
  takeOverKeywords,
} from '@dew-trail/contract/rivals'
import { listSweeps, setSweep, startSweep } from '@dew-trail/contract/sweeps'
import { trackKeywords } from '@dew-trail/contract/track'
import { screen, waitFor, within } from '@testing-library/react'
import { beforeEach, describe, expect, test } from 'vitest'
import { answer, footText, linesOf, sheetRows, showScreen } from '../../../test/show-screen.tsx'
import RivalsScreen from './RivalsScreen.tsx'

beforeEach(() => localStorage.clear())

const coverage: Coverage = {
  keywords: 40,
  fed: 900,
  notFed: [],
  from: '2026-11-20',
  to: '2026-11-28',
  depth: 20,
  sources: [
    { source: 'lantern', keywords: 40, to: '2026-11-28' },
    { source: 'full', keywords: 900, to: '2026-11-01' },
  ],
}
const profile = (domain: string, more: Partial<RivalProfile> = {}): RivalProfile => ({
  target: domain,
  kind: 'site',
  domain,
  own: domain === 'kilnandtide.example',
  within: { 1: 2, 3: 5, 10: 11, 30: 20, 100: 38 },
  visits: 4_210,
  visitsUnknown: 0,
  worth: 950,
  worthUnknown: 0,
  brandShare: 0.25,
  subjects: [{ word: 'kiln', searches: 900 }],
  pages: 7,
  entered: 3,
  left: 1,
  standing: 44,
  linkingSites: 120,
  paid: { month: '2026-11-01', keywords: 31, spend: 840, most: [{ phrase: 'kiln shelf', spend: 120 }] },
  ...more,
})
const rival = (domain: string, more: Partial<RivalSite> = {}): RivalSite => ({
  domain,
  keywords: 9,
  above: 6,
  within10: 4,
  visits: 300,
  score: 0.21,
  shared: 0.4,
  kind: 'shop',
  reasons: [`stands within twenty for 9 of 12 keywords, above you for 6`, 'has a cart'],
  standing: 51,
  state: 'proposed',
  ...more,
})
const ranked = (id: number, phrase: string, more: Partial<RankedKeyword> = {}): RankedKeyword => ({
  id,
  phrase,
  family: id,
  now: 4,
  before: 9,
  entered: false,
  page: 'https://claycorner.example/kilns',
  pages: 1,
  searches: 800,
  cpc: 0.5,
  visits: 60,
  visitsShare: 0.6,
  worth: 30,
  worthShare: 0.6,
  own: null,
  difficulty: null,
  chance: null,
  results: 48_200,
  features: ['answer', 'ads'],
  held: ['answer'],
  withheld: null,
  brand: false,
  kept: false,
  tracked: false,
  fed: false,
  ...more,
})
const gap = (id: number, phrase: string, more: Partial<OverlapKeyword> = {}): OverlapKeyword => ({
  id,
  phrase,
  family: id,
  searches: 500,
  cpc: 0.4,
  difficulty: null,
  chance: null,
  could: null,
  pageWorth: null,
  worth: null,
  positions: [null, 3, 8],
  spend: null,
  bestPage: 'https://claycorner.example/kilns',
  bidLow: 0.2,
  bidHigh: 0.6,
  kept: false,
  tracked: false,
  ...more,
})

const show = (path: string, more: Parameters<typeof showScreen>[1] = []) =>
  showScreen(
    <RivalsScreen />,
    [
      ...more,
      answer(listJobs, () => []),
      answer(listRivals, () => ({
        rivals: [rival('claycorner.example'), rival('glazehouse.example', { kind: 'unknown', standing: null })],
        keywords: 12,
        kept: true,
        coverage,
      })),
      answer(readRivalProfiles, ({ body }) => ({
        profiles: (body.targets as string[]).map(target => profile(target)),
        coverage,
      })),
      answer(readOverlap, () => ({
        regions: [
          { mask: 0b110, keywords: 31, searches: 900, unknown: 2 },
          { mask: 0b111, keywords: 12, searches: 4_000, unknown: 0 },
          { mask: 0b001, keywords: 5, searches: 90, unknown: 0 },
        ],
        belowFirst: { keywords: 17, searches: 700, unknown: 0 },
        coverage,
      })),
      answer(listOverlap, () => ({
        rows: [
          gap(7, 'kiln price', { difficulty: 40, could: 25, worth: 10 }),
          gap(-3, 'raku kiln'),
          gap(9, 'clay'),
          gap(10, 'slab roller'),
        ],
        total: 60_000,
      })),
      answer(listNotes, () => [
        { id: 1, day: '2026-09-10', text: 'New shop', touches: {}, about: null, version: 1 },
        { id: 2, day: '2020-01-01', text: 'Long ago', touches: {}, about: null, version: 1 },
      ]),
      answer(loadRankings, () => ({ jobId: 3 })),
      answer(listRivalMonths, () => ({ domains: [], months: [] })),
    ],
    path,
    { refresh: () => undefined },
  )

describe('profiles', () => {
  test('compare the own site with those that take most above it, in the same rows; unknown is a word', async () => {
    const { bodies } = show('/1/rivals', [
      answer(readRivalProfiles, ({ body }) => ({
        profiles: (body.targets as string[]).map((target, i) =>
          profile(
            target,
            i ? { visits: null, worth: null, standing: null, within: { ...profile('a.example').within, 10: 19 } } : {},
          ),
        ),
        coverage,
      })),
    ])
    const row = (await screen.findByRole('rowheader', { name: 'Within 10' })).closest('tr')!
    expect(
      within(row)
        .getAllByRole('cell')
        .map(cell => cell.textContent),
    ).toEqual(['11', '19', '19'])
    expect(within(row).getAllByText('19')[0]!.tagName).toBe('B')
    const visits = screen.getByRole('rowheader', { name: 'Visits a month' }).closest('tr')!
    expect(
      within(visits)
        .getAllByRole('cell')
        .map(cell => cell.textContent),
    ).toEqual(['4,210', 'unknown', 'unknown'])
    const [kiln] = screen.getAllByRole('link', { name: 'kiln' })
    expect(kiln!.getAttribute('href')).toContain('where=phrase%3Ahas%3Akiln')
    expect(bodies(readRivalProfiles).at(-1)).toMatchObject({
      targets: ['kilnandtide.example', 'claycorner.example', 'glazehouse.example'],
    })
    expect(
      screen.getByTitle(/^Results of 40 keywords fetched, .*up to 20 deep; rankings feed: full part of 900/),
    ).toBeTruthy()
  })
  test('a site of which the feed was not asked is said to stand by fetched results alone', async () => {
    show('/1/rivals?with=claycorner.example', [
      answer(readRivalProfiles, ({ body }) => ({
        profiles: (body.targets as string[]).map(target => profile(target)),
        coverage: { ...coverage, notFed: ['claycorner.example'] },
      })),
    ])
    expect(
      await screen.findByTitle(/^Not loaded for claycorner\.example, so it stands by fetched results alone\./),
    ).toBeTruthy()
  })
  test('of a site that stands for nothing that is known no figure is zero', async () => {
    show('/1/rivals?with=claycorner.example', [
      answer(readRivalProfiles, () => ({
        profiles: [
          profile('kilnandtide.example'),
          profile('claycorner.example', {
            within: { 1: 0, 3: 0, 10: 0, 30: 0, 100: 0 },
            visits: 0,
            worth: 0,
            left: 0,
            subjects: [],
            standing: 51,
          }),
        ],
        coverage,
      })),
    ])
    const lastOf = (name: string) =>
      within(screen.getByRole('rowheader', { name }).closest('tr')!).getAllByRole('cell').at(-1)!.textContent
    expect(await screen.findByText(/Nothing is known of/)).toBeTruthy()
    expect(['First', 'Keywords', 'Visits a month', 'Subjects', 'Standing'].map(lastOf)).toEqual([
      'unknown',
      'unknown',
      'unknown',
      'unknown',
      '51',
    ])
  })
  test('a site is replaced in place, what is no address is refused, and one can be left out', async () => {
    const { user, bodies } = show('/1/rivals?with=claycorner.example,glazehouse.example')
    const last = () => bodies(readRivalProfiles).at(-1)!.targets
    await user.click(await screen.findByTitle(/^claycorner\.example: press/))
    const field = screen.getByRole('textbox', { name: 'In place of claycorner.example' })
    await user.clear(field)
    await user.type(field, 'not an address{Enter}')
    expect(screen.getByText('Such as clay.example')).toBeTruthy()
    await user.clear(field)
    await user.type(field, 'https://Studio.example/guides/*{Enter}')
    await waitFor(() =>
      expect(last()).toEqual(['kilnandtide.example', 'studio.example/guides/*', 'glazehouse.example']),
    )
    await user.click(screen.getByRole('button', { name: 'Compare with glazehouse.example no longer' }))
    await waitFor(() => expect(last()).toEqual(['kilnandtide.example', 'studio.example/guides/*']))
  })
  test('the feed is asked about all that are compared', async () => {
    const { user, bodies } = show('/1/rivals?with=claycorner.example')
    const load = await screen.findByRole('button', { name: 'Load rankings' })
    expect(load.title).toContain('At least 4 requests')
    await user.click(load)
    await waitFor(() =>
      expect(bodies(loadRankings)).toEqual([
        { marketId: 1, targets: ['kilnandtide.example', 'claycorner.example'], months: 0 },
      ]),
    )
  })
})

const listed = (target: string, total: number) => ({ target, total, met: total })

describe('keywords of a rival', () => {
  const rows = [
    ranked(5, 'kiln', { own: 14 }),
    ranked(-8, 'raku kiln', { fed: true, visits: 40, visitsShare: 0.4, worth: null, worthShare: null, cpc: null }),
  ]
  const answers = (): Parameters<typeof showScreen>[1] => [
    answer(listRankedKeywords, () => ({ rows, ...listed('claycorner.example', 2), visits: 100, worth: 30, coverage })),
    answer(takeOverKeywords, () => ({ keywordIds: [31] })),
    answer(trackKeywords, () => ({ actId: 2, changed: [31] })),
  ]
  test('stand by visits, with shares that give the row back', async () => {
    show('/1/rivals?see=keywords&of=claycorner.example&with=claycorner.example', answers())
    await screen.findByTitle('raku kiln')
    expect(sheetRows().map(row => row.querySelector('.keyword-name')!.textContent)).toEqual(['kiln', 'raku kiln'])
    expect(sheetRows()[0]!.textContent).toContain('60%')
    await waitFor(() => expect(footText()).toContain('2 keywords'))
    expect(footText()).toContain('100')
  })
  test('one that only the feed knows is taken over before it is tracked', async () => {
    const { user, bodies } = show('/1/rivals?see=keywords&of=claycorner.example&with=claycorner.example', answers())
    await user.click(await screen.findByTitle('raku kiln'))
    await user.keyboard('t')
    await waitFor(() => expect(bodies(trackKeywords)).toHaveLength(1))
    expect(bodies(takeOverKeywords)).toEqual([{ marketId: 1, known: [8] }])
    expect(bodies(trackKeywords)[0]).toMatchObject({ keywordIds: [31] })
  })
})

test('profiles draw the months that were loaded; a site without any is unknown', async () => {
  const month = (day: string, visits: number | null) => ({
    domain: 'claycorner.example',
    month: day,
    within3: 1,
    within10: 4,
    within30: 9,
    keywords: 20,
    visits,
    worth: null,
    paid: null,
    spend: null,
  })
  show('/1/rivals?with=claycorner.example', [
    answer(listRivalMonths, () => ({
      domains: ['kilnandtide.example', 'claycorner.example'],
      months: [month('2026-09-01', 80.4), month('2026-10-01', null), month('2026-11-01', 120)],
    })),
  ])
  const row = (await screen.findByRole('rowheader', { name: 'Visits by month' })).closest('tr')!
  const [own, theirs] = within(row).getAllByRole('cell')
  expect(own!.textContent).toBe('unknown')
  expect(within(theirs!).getByRole('img', { name: 'Visits by month: 80, unknown, 120' })).toBeTruthy()
})

describe('advertising', () => {
  const paid = (id: number, phrase: string, more: Partial<PaidKeyword> = {}): PaidKeyword => ({
    id,
    phrase,
    position: 2,
    spend: 120,
    spendShare: 0.25,
    searches: 900,
    cpc: 0.6,
    bidLow: 0.3,
    bidHigh: 0.9,
    stands: 7,
    own: null,
    kept: false,
    tracked: false,
    ...more,
  })
  test('lists what a site pays for, most spent first, with its month and sum', async () => {
    show('/1/rivals?see=paid&with=claycorner.example&of=claycorner.example', [
      answer(listPaidKeywords, () => ({
        rows: [
          paid(4, 'kiln shelf', { spend: 300, spendShare: 0.75 }),
          paid(-9, 'slip trailer', { spend: 100, stands: null }),
        ],
        total: 2,
        spend: 400,
        month: '2026-11-01',
        domain: 'claycorner.example',
      })),
    ])
    await waitFor(() =>
      expect(sheetRows().map(row => row.querySelector('.keyword-name')!.textContent)).toEqual([
        'kiln shelf',
        'slip trailer',
      ]),
    )
    expect(sheetRows()[0]!.textContent).toContain('75%')
    expect(screen.getByTitle('By the ads data, Nov 2026')).toBeTruthy()
    await waitFor(() => expect(footText()).toContain('about 400 a month'))
  })
  test('a site that nobody asked about is not one that pays for nothing', async () => {
    const { user, bodies } = show('/1/rivals?see=paid&with=claycorner.example&of=claycorner.example', [
      answer(listPaidKeywords, () => ({ rows: [], total: 0, spend: 0, month: null, domain: 'claycorner.example' })),
    ])
    expect(await screen.findByText('What claycorner.example pays for is not known yet')).toBeTruthy()
    await user.click(screen.getAllByRole('button', { name: 'Load rankings' }).at(-1)!)
    await waitFor(() => expect(bodies(loadRankings)[0]).toMatchObject({ targets: ['claycorner.example'] }))
  })
  test('the overlap of what sites pay for has its own regions and no first page', async () => {
    const { user, bodies } = show('/1/rivals?see=overlap&with=claycorner.example,glazehouse.example&within=10')
    await user.click(await screen.findByRole('button', { name: 'What they pay for' }))
    await waitFor(() => expect(bodies(readOverlap).at(-1)).toMatchObject({ of: 'paid', within: 100 }))
    expect(screen.queryByRole('button', { name: /You below the first page/ })).toBeNull()
    expect(screen.queryByRole('button', { name: 'Within 10' })).toBeNull()
    await user.click(screen.getByRole('button', { name: 'What they stand for' }))
    expect(await screen.findByRole('button', { name: /You below the first page/ })).toBeTruthy()
  })
})

describe('overlap', () => {
  const path = '/1/rivals?see=overlap&with=claycorner.example,glazehouse.example'
  test('asks first what several rivals have and the own site lacks; a region opens its keywords', async () => {
    const { user, bodies } = show(path)
    await screen.findByTitle('kiln price')
    expect(bodies(listOverlap)).toEqual([expect.objectContaining({ masks: [0b110], within: 100 })])
    expect(screen.getByRole('button', { name: /^At least two rivals, not you 31$/ }).getAttribute('aria-pressed')).toBe(
      'true',
    )
    expect(
      screen.getByText(/1 of these 4 keywords lies within your comfortable level: about 25 visits a month\./),
    ).toBeTruthy()
    await waitFor(() =>
      expect(screen.getByRole('note').textContent).toBe('of 60,000 in all, the 4 most searched are listed'),
    )
    await user.click(screen.getByRole('button', { name: 'you: 5 keywords' }))
    await waitFor(() => expect(bodies(listOverlap).at(-1)).toMatchObject({ masks: [0b001] }))
    await user.click(screen.getByRole('button', { name: /^You below the first page, a rival on it 17$/ }))
    await waitFor(() => expect(bodies(listOverlap).at(-1)).toMatchObject({ masks: null }))
  })
  test('how deep a site must stand is chosen, and regions can be ordered by searches', async () => {
    const { user, bodies } = show(path)
    await screen.findByTitle('kiln price')
    await user.click(screen.getByRole('button', { name: 'Within 10' }))
    await waitFor(() => expect(bodies(readOverlap).at(-1)).toMatchObject({ within: 10 }))
    await waitFor(() => expect(bodies(listOverlap).at(-1)).toMatchObject({ within: 10 }))
    const order = () => screen.getAllByRole('button', { name: /: \d+ keywords$/ }).map(each => each.textContent)
    expect(order()).toEqual(['31', '12', '5'])
    await user.click(screen.getByRole('button', { name: 'Searches a month' }))
    expect(order()).toEqual(['12', '31', '5'])
  })
  test('ad groups of what is listed are saved with bids', async () => {
    const { user, saved } = show(path)
    await screen.findByTitle('kiln price')
    await user.click(screen.getByRole('button', { name: 'Ad groups' }))
    const dialog = await screen.findByRole('dialog', undefined, { timeout: 8_000 })
    await within(dialog).findByText('Ad groups of 4 keywords')
    const least = within(dialog).getByLabelText('Keywords in a group, at least')
    await user.clear(least)
    await user.type(least, '2')
    await user.click(within(dialog).getByRole('button', { name: 'CSV for ads' }))
    await waitFor(() => expect(saved).toHaveLength(1))
    const lines = await linesOf(saved[0]!)
    expect(lines[0]).toBe('Campaign,Ad group,Keyword,Match type,Highest bid')
    expect(lines.slice(1).toSorted()).toEqual([
      '"Kiln & Tide, gaps",Others,clay,Phrase,0.4',
      '"Kiln & Tide, gaps",Others,slab roller,Phrase,0.4',
      '"Kiln & Tide, gaps",kiln,kiln price,Phrase,0.4',
      '"Kiln & Tide, gaps",kiln,raku kiln,Phrase,0.4',
    ])
  })
  test('one site alone is told to be compared with another', async () => {
    show('/1/rivals?see=overlap&with=')
    expect(await screen.findByText('Name a site to compare with')).toBeTruthy()
  })
})

describe('over time', () => {
  const month = (domain: string, day: string, visits: number | null) => ({
    domain,
    month: day,
    within3: 1,
    within10: 4,
    within30: 9,
    keywords: 20,
    visits,
    worth: null,
    paid: null,
    spend: null,
  })
  test('the table says what the lines say, months nobody loaded are unknown, and notes of that time stand below', async () => {
    show('/1/rivals?see=time&with=claycorner.example', [
      answer(listRivalMonths, () => ({
        domains: ['kilnandtide.example', 'claycorner.example'],
        months: [
          month('kilnandtide.example', '2026-09-01', 120),
          month('kilnandtide.example', '2026-10-01', 150),
          month('claycorner.example', '2026-10-01', 900),
        ],
      })),
    ])
    const row = (await screen.findByRole('rowheader', { name: 'claycorner.example' })).closest('tr')!
    expect(
      within(row)
        .getAllByRole('cell')
        .map(cell => cell.textContent),
    ).toEqual(['unknown', '900'])
    const notes = await screen.findByRole('list', { name: 'Notes in these months' })
    expect(
      within(notes)
        .getAllByRole('listitem')
        .map(item => item.textContent),
    ).toEqual(['Sep 10, 2026: New shop'])
    expect(screen.getByRole('img', { name: /^Visits a month by month/ }).querySelectorAll('circle')).toHaveLength(3)
  })
  test('a month beside a known one opens what came and went', async () => {
    const { user, bodies } = show('/1/rivals?see=time&with=', [
      answer(listRivalMonths, () => ({
        domains: ['kilnandtide.example', 'claycorner.example'],
        months: [month('kilnandtide.example', '2026-09-01', 120), month('kilnandtide.example', '2026-10-01', 150)],
      })),
      answer(readMonthChanges, () => ({
        entered: 1,
        left: 1,
        rose: 0,
        fell: 0,
        rows: [
          { phrase: 'kiln', before: null, now: 4, page: 'https://kilnandtide.example/k', searches: 900, visits: 40.2 },
          { phrase: 'raku', before: 9, now: null, page: 'https://kilnandtide.example/r', searches: null, visits: null },
        ],
        pages: [{ url: 'https://kilnandtide.example/k', before: 0, now: 1 }],
      })),
    ])
    expect(screen.queryByRole('button', { name: '120' })).toBeNull()
    await user.click(await screen.findByRole('button', { name: '150' }))
    const table = await screen.findByRole('table', { name: 'Keywords' }, { timeout: 8_000 })
    expect(bodies(readMonthChanges)).toEqual([
      { marketId: 1, target: 'kilnandtide.example', before: '2026-09', month: '2026-10' },
    ])
    const [, kiln, raku] = within(table).getAllByRole('row')
    expect(kiln!.textContent).toBe('kilnnot4900+40kilnandtide.example/k')
    expect(raku!.textContent).toBe('raku9goneunknownunknownkilnandtide.example/r')
    expect(screen.getByText(/1 keyword entered, 1 left/)).toBeTruthy()
  })
  test('without any month it says how they come', async () => {
    const { user, bodies } = show('/1/rivals?see=time&with=claycorner.example', [
      answer(listRivalMonths, () => ({ domains: ['kilnandtide.example', 'claycorner.example'], months: [] })),
    ])
    await user.click(await screen.findByRole('button', { name: 'Load twelve months' }))
    await waitFor(() => expect(bodies(loadRankings)[0]).toMatchObject({ months: 12 }))
  })
})

describe('who they are', () => {
  test('each with its reason; accepting one can be undone', async () => {
    const { user, bodies, undone } = show('/1/rivals?see=who', [answer(judgeRival, () => ({ actId: 8 }))])
    const row = (await screen.findByRole('button', { name: 'Accept claycorner.example' })).closest('tr')!
    expect(within(row).getByText('shop')).toBeTruthy()
    expect(row.querySelector('td')!.title).toContain('above you for 6')
    await user.click(within(row).getByRole('button', { name: 'Accept claycorner.example' }))
    await waitFor(() => expect(bodies(judgeRival)).toEqual([expect.objectContaining({ state: 'accepted' })]))
    await user.click(await screen.findByRole('button', { name: 'Undo' }))
    await waitFor(() => expect(undone()).toEqual([8]))
  })
})

describe('own pages', () => {
  test('those that want something come first and say what and why', async () => {
    const page = {
      keywords: 3,
      within10: 1,
      visits: 20,
      visitsUnknown: 0,
      worth: 4,
      top: 'kiln',
      topPosition: 12,
      linkingSites: 0,
      words: 640,
      readOn: null,
      planned: null,
    }
    const { user } = show('/1/rivals?see=pages&with=claycorner.example', [
      answer(listLandingPages, () => ({
        rows: [
          { ...page, id: 1, url: 'https://kilnandtide.example/kilns', next: 'get links', why: 'no site links to it' },
          { ...page, id: 2, url: 'https://kilnandtide.example/clay', visits: 90, next: null, why: null },
        ],
        total: 2,
        coverage,
      })),
      answer(listRankedKeywords, () => ({
        rows: [ranked(5, 'kiln')],
        ...listed('', 1),
        visits: 60,
        worth: 30,
        coverage,
      })),
    ])
    await screen.findByTitle(/kilnandtide\.example\/kilns/)
    expect(sheetRows()[0]!.textContent).toContain('get links')
    expect(sheetRows()[1]!.textContent).not.toContain('get links')
    await user.click(screen.getByTitle(/kilnandtide\.example\/kilns/))
    await user.keyboard('{Enter}')
    expect(await screen.findByText(/no site links to it/)).toBeTruthy()
  })
})

describe('sweeps', () => {
  test('say what they ask of the engine, and are set and begun', async () => {
    const part = { rhythm: null, nextAt: null, lastAt: null, wasLate: false, lastError: null }
    const { user, bodies, requests } = show('/1/rivals?with=claycorner.example', [
      answer(listSweeps, () => ({
        timeZone: 'UTC',
        mostSearched: 2_000,
        mostADay: 500,
        sweeps: [
          { ...part, part: 'weekly' as const, depth: 20, keywords: 400, requests: 380 },
          { ...part, part: 'full' as const, depth: 100, keywords: 9_000, requests: 8_990 },
        ],
      })),
      answer(setSweep, () => ({})),
      answer(startSweep, () => ({ jobId: 5, requests: 380 })),
    ])
    await user.click(await screen.findByRole('button', { name: 'Sweeps' }))
    const dialog = await screen.findByRole('dialog', undefined, { timeout: 8_000 })
    expect(await within(dialog).findByText(/Your limit is 500 requests a day/)).toBeTruthy()
    await user.click(within(dialog).getByRole('combobox', { name: 'How often the weekly part is fetched' }))
    await user.click(await screen.findByRole('option', { name: 'Every week' }))
    await waitFor(() => expect(bodies(setSweep)).toEqual([{ rhythm: { every: 'week', hour: 5, weekday: 1 } }]))
    await user.click(within(dialog).getByRole('button', { name: 'Begin now: weekly part' }))
    await waitFor(() => expect(bodies(startSweep)).toHaveLength(1))
    expect(requests.find(each => each.spec === startSweep)!.url).toMatch(/\/rivals\/sweeps\/1\/weekly$/)
  })
})
