// @vitest-environment jsdom
import {
  chooseFirst,
  listOutcomes,
  readBrief,
  readCalendarLink,
  readForBrief,
  renewCalendarLink,
  saveBrief,
} from '@dew-trail/contract/brief'
import { listJobs } from '@dew-trail/contract/jobs'
import {
  changePage,
  createPage,
  listPages,
  orderKeywords,
  type PlannedPage,
  setKeywordSpot,
} from '@dew-trail/contract/plan'
import {
  acceptAssignments,
  listAssignments,
  listThemeKeywordsLeft,
  movePage,
  readSiteMap,
  readUnlinkedPages,
  type SiteMap,
} from '@dew-trail/contract/site-map'
import { screen, waitFor, within } from '@testing-library/react'
import readXlsxFile from 'read-excel-file/node'
import { beforeEach, describe, expect, test } from 'vitest'
import { madeBrief } from '../../../test/made-brief.ts'
import { madePage } from '../../../test/made-page.ts'
import { answer, footText, showScreen } from '../../../test/show-screen.tsx'
import PlanScreen from './PlanScreen.tsx'

beforeEach(() => {
  localStorage.clear()
  sessionStorage.clear()
})

const keyword = (id: number, phrase: string, searches: number | null): PlannedPage['keywords'][number] => ({
  id,
  phrase,
  searches,
  hidden: false,
  match: { exact: 900, inOrder: 1_500, anyOrder: 1_600 },
  cpc: 1.2,
  difficulty: 40,
  chance: 0.4,
  visits: 90,
  tracked: false,
  position: null,
  standing: null,
  visitsNow: null,
  spot: null,
  theme: 'kiln',
})
const kilns = madePage({
  state: 'writing',
  deadline: '2026-12-18',
  owner: 'Mara',
  effort: 2,
  searches: 1_700,
  visits: 180,
  visitsNow: 20,
  low: 40,
  high: 420,
  gain: 160,
  worth: 96.5,
  themes: ['kiln'],
  rules: [{ rule: 'oneTheme', met: true, text: 'All its keywords belong to the theme "kiln"' }],
  keywords: [keyword(11, 'kiln price', 1_200), keyword(12, 'home kiln', 500)],
})
const late = madePage({ id: 5, title: 'Glazes', address: null, deadline: '2026-10-01', late: true })
const nodes = {
  home: 'page:00000000-0000-0000-0000-000000000001',
  shop: 'page:00000000-0000-0000-0000-000000000002',
  wheels: 'page:00000000-0000-0000-0000-000000000003',
}
const madeMap = (more: Partial<SiteMap> = {}): SiteMap => ({
  nodes: [nodes.home, nodes.shop, nodes.wheels, 'page:00000000-0000-0000-0000-000000000004', 'plan:5'],
  parents: [-1, 0, 1, 0, 0],
  names: ['Home', 'Shop', 'Wheels', 'Choosing a kiln', 'Glazes'],
  addresses: [
    'https://kilnandtide.example/',
    'https://kilnandtide.example/shop',
    'https://kilnandtide.example/shop/wheels',
    'https://kilnandtide.example/guides/kilns',
    null,
  ],
  planned: [null, null, null, 4, 5],
  kinds: [null, null, null, 'new', 'new'],
  states: [null, null, null, 'writing', 'idea'],
  deadlines: [null, null, null, '2026-12-18', '2026-10-01'],
  themes: ['pottery', null, 'pottery wheel', 'kiln', null],
  leads: ['pottery', null, 'pottery wheel', 'kiln price', null],
  positions: [7, null, 9, null, null],
  searches: [48_300, null, 31_450, 1_700, null],
  visitsNow: [2_600, null, 1_900, 20, null],
  visits: [2_600, null, 1_900, 180, null],
  flags: [0, 0, 2, 0, 9],
  details: [null, null, 'Home', null, '2026-10-01'],
  visitsOfSite: 4_500,
  visitsWithPlan: 4_660,
  crawled: 3,
  crawledOn: '2026-11-20',
  seenOnly: 0,
  without: { themes: 14, searches: 39_800 },
  ...more,
})
const outlook = {
  months: Array.from({ length: 12 }, (_, i) => `2026-${String(i + 1).padStart(2, '0')}`),
  today: Array.from({ length: 12 }, () => 4_500),
  withPlan: Array.from({ length: 12 }, () => 4_660),
  low: Array.from({ length: 12 }, () => 4_520),
  high: Array.from({ length: 12 }, () => 4_900),
}
const show = (path = '/1/plan', map: SiteMap | Error = madeMap(), pages: PlannedPage[] = [kilns, late]) =>
  showScreen(
    <PlanScreen />,
    [
      answer(readSiteMap, () => map),
      answer(readUnlinkedPages, () => [nodes.wheels]),
      answer(listPages, () => pages),
      answer(listJobs, () => []),
      answer(readBrief, () => madeBrief()),
      answer(saveBrief, ({ body }) =>
        (body.text as { title: string }).title === 'Refused'
          ? new Error('Somebody changed this brief meanwhile.')
          : { actId: 50, version: Number(body.version) + 1 },
      ),
      answer(readForBrief, () => ({ jobId: 7, pages: 10 })),
      answer(movePage, () => ({ actId: 51 })),
      answer(createPage, () => ({ id: 9, takenOff: 0, actId: 52 })),
      answer(changePage, ({ body }) => ({ id: 4, actId: 53, version: Number(body.version) + 1 })),
      answer(orderKeywords, () => ({ actId: 54 })),
      answer(setKeywordSpot, () => ({ actId: 55 })),
      answer(listAssignments, () => ({
        grouping: 'Kept',
        rows: [
          {
            themeId: 1,
            theme: 'kiln shelf',
            lead: 'kiln shelf',
            keywords: 3,
            searches: 9_870,
            visits: 400,
            level: 'article' as const,
            to: 'new' as const,
            pageId: null,
            title: 'Kiln shelf',
            address: null,
            parentTheme: null,
            done: false,
            why: 'No page of yours stands for it',
          },
          {
            themeId: 2,
            theme: 'raku',
            lead: 'raku',
            keywords: 2,
            searches: null,
            visits: null,
            level: 'article' as const,
            to: 'planned' as const,
            pageId: 4,
            title: 'Choosing a kiln',
            address: null,
            parentTheme: null,
            done: false,
            why: 'Both stand on it already',
          },
        ],
      })),
      answer(acceptAssignments, () => ({ actId: 56, pages: 1, fresh: 1, keywords: 3, takenOff: 0 })),
      answer(listThemeKeywordsLeft, () => [{ phrase: 'kiln for sale', theme: 'kiln', searches: 90, difficulty: null }]),
      answer(chooseFirst, () => ({
        unit: 'money' as const,
        until: '2028-02',
        settle: 60,
        settleFrom: 0,
        total: 1_544,
        below: 0.004,
        bySearches: 1_200,
        chosen: [
          {
            pageId: 4,
            title: 'Choosing a kiln',
            kind: 'new',
            month: '2026-12',
            effort: 2,
            gain: 160,
            worth: 96.5,
            value: 1_544,
            mustBeIn: false,
            peak: 7,
            outBy: '2027-06-02',
            inTime: true,
          },
        ],
        missed: [{ pageId: 5, title: 'Glazes', worth: 10, costs: 84 }],
        oneMore: 84,
        unfit: [],
        left: [{ pageId: 6, title: 'Empty', why: 'No keyword stands on it' }],
        outlook,
      })),
      answer(listOutcomes, () => [
        {
          pageId: 4,
          title: 'Old page',
          publishedOn: '2026-01-10',
          dueOn: '2026-03-11',
          before: null,
          expected: 100,
          low: 40,
          high: 200,
          came: 20,
        },
      ]),
      answer(readCalendarLink, () => ({ address: '/calendar/abc.ics', madeOn: '2026-11-01', endsOn: null })),
      answer(renewCalendarLink, () => ({ address: null, madeOn: null, endsOn: null })),
    ],
    path,
  )
const rows = () => [...document.querySelectorAll<HTMLElement>('.tree-row')]
const names = () => rows().map(row => row.querySelector('.tree-open')!.textContent)
const rowOf = (name: string) => rows().find(row => row.querySelector('.tree-open')!.textContent === name)!

describe('the site map', () => {
  test('draws the tree with what each page brings, says what to look at, and what stands without a page', async () => {
    show()
    await screen.findByText('Wheels')
    await waitFor(() => expect(rowOf('Wheels').textContent).toContain('competes with Home'))
    expect(names()).toEqual(['Home', 'Shop', 'Wheels', 'Choosing a kiln', 'Glazes'])
    expect(rows().map(row => row.getAttribute('aria-level'))).toEqual(['1', '2', '3', '2', '2'])
    expect(within(rowOf('Choosing a kiln')).getByRole('img').getAttribute('aria-label')).toBe(
      'about 20 visits a month now, about 180 with the plan',
    )
    expect(rowOf('Glazes').textContent).toContain('late since Oct 1, 2026')
    expect(screen.getByRole('button', { name: '1 no own page links here' })).toBeTruthy()
    expect(screen.getByRole('button', { name: /Without a page/ }).textContent).toContain('14 themes39,800 searches/mo')
    expect(footText()).toContain('5 pages, 2 planned')
    expect(footText()).toContain('4,500 visits/mo now, 4,660 with the plan')
  })

  test('is walked, closed and opened by keys, and shows what is looked for with what stands above it', async () => {
    const { user } = show()
    const tree = await screen.findByRole('treegrid')
    tree.focus()
    await user.keyboard('jj')
    expect(rowOf('Shop').getAttribute('aria-selected')).toBe('true')
    await user.keyboard('{ArrowLeft}')
    expect(names()).toEqual(['Home', 'Shop', 'Choosing a kiln', 'Glazes'])
    await user.keyboard('{ArrowRight}{ArrowRight}')
    expect(rowOf('Wheels').getAttribute('aria-selected')).toBe('true')
    await user.type(screen.getByRole('textbox', { name: 'Find a page' }), 'wheel')
    await waitFor(() => expect(names()).toEqual(['Home', 'Shop', 'Wheels']))
    await user.clear(screen.getByRole('textbox', { name: 'Find a page' }))
    await user.click(screen.getByRole('button', { name: '1 late' }))
    await waitFor(() => expect(names()).toEqual(['Home', 'Glazes']))
  })

  test('moves a page by keys at once, before the server tells of it', async () => {
    const { user, bodies } = show()
    const tree = await screen.findByRole('treegrid')
    tree.focus()
    await user.keyboard('{End}{Alt>}{ArrowRight}{/Alt}')
    await waitFor(() => expect(rowOf('Glazes').getAttribute('aria-level')).toBe('3'))
    expect(names()).toEqual(['Home', 'Shop', 'Wheels', 'Choosing a kiln', 'Glazes'])
    await waitFor(() =>
      expect(bodies(movePage)).toEqual([{ node: 'plan:5', under: 'page:00000000-0000-0000-0000-000000000004' }]),
    )
    expect(await screen.findByText('"Glazes" moved')).toBeTruthy()
  })

  test('a page that is not planned tells what it does and comes to the plan', async () => {
    const { user, bodies } = show(`/1/plan?page=${nodes.wheels}`)
    const panel = await screen.findByRole('complementary', { name: 'Wheels' })
    expect(panel.textContent).toContain('It stands at 9 for "pottery wheel", and gets about 1,900 visits a month.')
    await user.click(within(panel).getByRole('button', { name: 'Rework' }))
    await waitFor(() =>
      expect(bodies(createPage)).toEqual([
        { title: 'Wheels', address: 'https://kilnandtide.example/shop/wheels', kind: 'rework' },
      ]),
    )
  })

  test('themes are accepted one by one or all together', async () => {
    const { user, bodies } = show()
    await user.click(await screen.findByRole('button', { name: /Without a page/ }))
    const dialog = await screen.findByRole('dialog')
    expect(await within(dialog).findByText('No page of yours stands for it')).toBeTruthy()
    await user.click(within(dialog).getByRole('checkbox', { name: 'raku' }))
    await user.click(within(dialog).getByRole('button', { name: 'Accept 1' }))
    await waitFor(() => expect(bodies(acceptAssignments)).toEqual([{ marketId: 1, ids: [1] }]))
    expect(await screen.findByText('3 keywords put on 1 page, 1 of them new')).toBeTruthy()
  })

  test('without a page says how they come; what cannot be read says why', async () => {
    const empty = madeMap({
      ...Object.fromEntries(
        Object.entries(madeMap()).flatMap(([key, value]) => (Array.isArray(value) ? [[key, []]] : [])),
      ),
      crawledOn: null,
    })
    show('/1/plan', empty)
    expect(await screen.findByText('No page is known yet')).toBeTruthy()
    expect(screen.getByRole('button', { name: 'Assign 14 themes' })).toBeTruthy()
  })
  test('that cannot be read says why', async () => {
    show('/1/plan', new Error('The database is away'))
    expect((await screen.findByRole('alert')).textContent).toBe('The database is away')
  })
})

describe('a brief', () => {
  test('takes in headings, terms and links with a click, and is saved each time over the version before', async () => {
    const { user, bodies } = show('/1/plan?page=4')
    await user.click(await screen.findByRole('button', { name: /\+ What size of kiln\?/ }))
    await user.click(screen.getByRole('button', { name: /^stilts/ }))
    await user.click(screen.getByRole('button', { name: /\+ \/guides\/firing/ }))
    await user.click(screen.getByRole('button', { name: 'Take that length' }))
    await waitFor(() => expect(bodies(saveBrief)).toHaveLength(4))
    expect(bodies(saveBrief).map(body => body.version)).toEqual([0, 1, 2, 3])
    expect(bodies(saveBrief).at(-1)!.text).toMatchObject({
      headings: ['What size of kiln?'],
      terms: ['stilts'],
      links: [{ from: 'https://kilnandtide.example/guides/firing', anchor: 'kiln price' }],
      wordsFrom: 800,
      wordsTo: 1_200,
    })
  })

  test('measures its title as it is typed, says which keywords it carries, and keeps what was refused', async () => {
    const { user, bodies } = show('/1/plan?page=4')
    const title = await screen.findByRole('textbox', { name: 'Title' })
    await user.type(title, 'Prices of a kiln')
    expect(await screen.findByText(/The title carries "kiln price" of 2 keywords/)).toBeTruthy()
    expect(screen.getAllByText(/^\d+ of 580 px$/)).toHaveLength(1)
    await user.clear(title)
    await user.type(title, 'Refused')
    await user.tab()
    expect(await screen.findByText(/Yours is not saved yet/)).toBeTruthy()
    expect((title as HTMLInputElement).value).toBe('Refused')
    await user.click(screen.getByRole('button', { name: 'Take theirs' }))
    await waitFor(() => expect((title as HTMLInputElement).value).toBe(''))
    expect(bodies(saveBrief)).toHaveLength(1)
  })

  test('asks for the first results to be read, and goes out as Markdown', async () => {
    const { user, requests, saved } = show('/1/plan?page=4')
    await user.click(await screen.findByRole('button', { name: 'Read the first results' }))
    await waitFor(() => expect(requests.some(each => each.spec === readForBrief)).toBe(true))
    await user.click(screen.getByRole('button', { name: 'Markdown' }))
    await waitFor(() => expect(saved).toHaveLength(1))
    expect(saved[0]!.name).toBe('kilnandtide.example-brief-choosing-a-kiln.md')
    expect(await saved[0]!.blob.text()).toContain('| kiln price (lead) | 1,200 | 40 | anywhere |')
  })
  test('goes out as DOCX', async () => {
    const { user, saved } = show('/1/plan?page=4')
    await user.click(await screen.findByRole('button', { name: 'DOCX' }))
    await waitFor(() => expect(saved).toHaveLength(1))
    const { unzipSync, strFromU8 } = await import('fflate')
    const files = unzipSync(new Uint8Array(await saved[0]!.blob.arrayBuffer()))
    const text = strFromU8(files['word/document.xml']!)
    expect(text).toContain('Choosing a kiln')
    expect(text).toContain('kiln price (lead)')
  })

  test('keywords are put higher, and said where they go', async () => {
    const { user, bodies } = show('/1/plan?page=4')
    await user.click(await screen.findByRole('button', { name: 'Keywords 2' }))
    await user.click(await screen.findByRole('button', { name: 'Make home kiln the lead' }))
    await waitFor(() => expect(bodies(orderKeywords)).toEqual([{ keywordIds: [12, 11] }]))
    await user.selectOptions(screen.getByRole('combobox', { name: 'Where "home kiln" goes' }), 'heading')
    await waitFor(() => expect(bodies(setKeywordSpot)).toEqual([{ keywordIds: [12], spot: 'heading' }]))
  })
})

describe('the board', () => {
  test('has each page by its state and moves it by keys', async () => {
    const { user, bodies } = show('/1/plan?see=board')
    const writing = await screen.findByRole('region', { name: 'Writing' })
    const card = within(writing).getByRole('button', { name: /Choosing a kiln/ })
    expect(card.textContent).toContain('about 160 more visits/mo')
    card.focus()
    await user.keyboard('{Alt>}{ArrowRight}{/Alt}')
    await waitFor(() => expect(bodies(changePage)).toEqual([{ version: 1, state: 'published' }]))
    expect(screen.getByText('Deadlines kept: 0% of 1')).toBeTruthy()
  })
})

describe('what comes first', () => {
  test('says what is made when, what just missed, what is not compared, and what came of what was published', async () => {
    const { user, bodies } = show('/1/plan?see=first')
    expect(await screen.findAllByText('1,544')).toHaveLength(2)
    const summary = screen.getByRole('region', { name: 'Summary' }).textContent!
    expect(summary).toContain('29% more than the most searched first would bring')
    expect(summary).toContain('No other choice brings more than 0.4% more. One page more a month would add 84.00.')
    expect(screen.getByText('peak Aug, in time')).toBeTruthy()
    expect(screen.getByText('putting it in would cost 84.00')).toBeTruthy()
    expect(await screen.findByText('less than expected')).toBeTruthy()
    await user.click(screen.getByRole('button', { name: 'Make it due Dec 31, 2026: Choosing a kiln' }))
    await waitFor(() => expect(bodies(changePage)).toEqual([{ version: 1, deadline: '2026-12-31' }]))
    await user.click(screen.getByRole('button', { name: 'It must be in: Glazes' }))
    await waitFor(() => expect(bodies(changePage).at(-1)).toEqual({ version: 1, mustBeIn: true }))
  })
})

describe('handing over', () => {
  test('a workbook has an overview and a sheet a page, chosen keywords marked, with the columns that were kept', async () => {
    const { user, saved } = show('/1/plan?see=board')
    await user.click(await screen.findByRole('button', { name: 'Hand over' }))
    const dialog = await screen.findByRole('dialog')
    await user.click(within(dialog).getByRole('checkbox', { name: 'Difficulty' }))
    await user.click(within(dialog).getByRole('button', { name: 'Save as XLSX' }))
    await waitFor(() => expect(saved).toHaveLength(1))
    const bytes = Buffer.from(await saved[0]!.blob.arrayBuffer())
    const sheets = await readXlsxFile(bytes)
    expect(sheets.map(each => each.sheet)).toEqual(['Overview', 'Choosing a kiln', 'Glazes'])
    const page = sheets[1]!.data
    const head = page.findIndex(row => row[0] === 'Keyword')
    expect(page[head]!.slice(0, 8)).toEqual([
      'Keyword',
      'Chosen',
      'Searches a month',
      'Searches of exactly this',
      'Searches in this order',
      'Searches in any order',
      'CPC',
      'Chance of the first page',
    ])
    expect(page[head + 1]!.slice(3, 7)).toEqual([900, 1_500, 1_600, 1.2])
    expect(page.slice(head + 1).map(row => row.slice(0, 3))).toEqual([
      ['kiln price', 'lead', 1_200],
      ['home kiln', 'yes', 500],
      ['kiln for sale', 'no', 90],
    ])
    expect(localStorage.getItem('plan-workbook-left-out')).toBe('["difficulty"]')
  })
  test('the calendar has a secret address that can be renewed', async () => {
    const { user, bodies } = show('/1/plan?see=board')
    await user.click(await screen.findByRole('button', { name: 'Subscribe' }))
    const box = (await screen.findByRole('textbox', { name: 'Secret address to subscribe to' })) as HTMLInputElement
    expect(box.value).toMatch(/^http:\/\/localhost(:\d+)?\/calendar\/abc\.ics$/)
    await user.click(screen.getByRole('button', { name: 'Renew it' }))
    await waitFor(() => expect(bodies(renewCalendarLink)).toEqual([{ end: false }]))
  })
})
