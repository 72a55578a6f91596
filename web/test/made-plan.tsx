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
import { beforeEach } from 'vitest'
import { madeBrief } from './made-brief.ts'
import { madePage } from './made-page.ts'
import { answer, showScreen } from './show-screen.tsx'
import PlanScreen from '../src/features/plan/PlanScreen.tsx'

beforeEach(() => {
  localStorage.clear()
  sessionStorage.clear()
})

export const keyword = (id: number, phrase: string, searches: number | null): PlannedPage['keywords'][number] => ({
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
export const kilns = madePage({
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
export const late = madePage({ id: 5, title: 'Glazes', address: null, deadline: '2026-10-01', late: true })
export const nodes = {
  home: 'page:00000000-0000-0000-0000-000000000001',
  shop: 'page:00000000-0000-0000-0000-000000000002',
  wheels: 'page:00000000-0000-0000-0000-000000000003',
}
export const madeMap = (more: Partial<SiteMap> = {}): SiteMap => ({
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
export const outlook = {
  months: Array.from({ length: 12 }, (_, i) => `2026-${String(i + 1).padStart(2, '0')}`),
  today: Array.from({ length: 12 }, () => 4_500),
  withPlan: Array.from({ length: 12 }, () => 4_660),
  low: Array.from({ length: 12 }, () => 4_520),
  high: Array.from({ length: 12 }, () => 4_900),
}
export const show = (path = '/1/plan', map: SiteMap | Error = madeMap(), pages: PlannedPage[] = [kilns, late]) =>
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
