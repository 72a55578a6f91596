// @vitest-environment jsdom
import { keepPhrases } from '@dew-trail/contract/gather'
import {
  changeGrouping,
  changeTheme,
  checkGrouping,
  chooseThemes,
  compareGroupings,
  type CompetingRow,
  countToGroup,
  createGrouping,
  type GroupedKeyword,
  type Grouping,
  listCompeting,
  listGroupedKeywords,
  listGroupings,
  listThemes,
  mergeThemes,
  moveToTheme,
  planThemes,
  type Preview,
  readGrouping,
  readTheme,
  type ThemeRow,
} from '@dew-trail/contract/group'
import { listJobs } from '@dew-trail/contract/jobs'
import { listLists } from '@dew-trail/contract/lists'
import { listGatherings } from '@dew-trail/contract/gather'
import { getTrail } from '@dew-trail/contract/sites'
import { trackKeywords } from '@dew-trail/contract/track'
import { fireEvent, screen, waitFor, within } from '@testing-library/react'
import readXlsxFile from 'read-excel-file/node'
import { beforeEach, describe, expect, test } from 'vitest'
import { answer, footText, linesOf, sheetRows, showScreen } from '../../../test/show-screen.tsx'
import GroupScreen from './GroupScreen.tsx'

beforeEach(() => localStorage.clear())

const grouping: Grouping = {
  id: 3,
  marketId: 1,
  name: 'Kept keywords',
  source: 'Kept keywords',
  basis: 'results',
  threshold: 4,
  method: 'lead',
  compared: 20,
  searchesFrom: 'known',
  oldestDays: 30,
  leftOut: [],
  current: true,
  createdAt: '2026-11-20T10:00:00Z',
  groupedAt: '2026-11-20T10:01:00Z',
  jobId: null,
  jobState: null,
  keywords: 6,
  themes: 2,
  grouped: 5,
  version: 1,
}
const theme = (id: number, lead: string, more: Partial<ThemeRow> = {}): ThemeRow => ({
  id,
  leadId: id * 10,
  lead,
  name: null,
  keywords: 3,
  searches: 1_200,
  searchesUnknown: 0,
  together: 6.5,
  difficultyFrom: 40,
  difficultyTo: 62,
  chance: 0.6,
  cpc: 1.2,
  intents: [0.2, 0, 0.8, 0, 0],
  intent: 'buy',
  visits: 80,
  visitsUnknown: 0,
  ownPage: 'https://kilnandtide.example/shop/wheels',
  ownPosition: 4,
  competing: 0,
  planned: null,
  plannedId: null,
  onPlan: 0,
  tracked: 0,
  byHand: 0,
  locked: false,
  ...more,
})
const wheels = theme(1, 'pottery wheel')
const glaze = theme(2, 'glaze kit', {
  keywords: 2,
  searches: null,
  searchesUnknown: 2,
  ownPage: null,
  ownPosition: null,
})
const previews: Preview[] = (['lead', 'pairs'] as const).flatMap(method =>
  [1, 2, 3, 4, 5, 6, 7, 8, 9].map(threshold => ({
    threshold,
    method,
    possible: threshold < 9,
    themes: 10 - threshold,
    grouped: 20 - 2 * threshold,
    searches: 1 - threshold / 10,
    largest: 5,
    steadiness: 0.8,
  })),
)
const member = (id: number, phrase: string, shared: number | null) => ({
  id,
  phrase,
  strip: shared === null ? [false, false] : [true, shared > 5],
  shared,
  searches: 400,
  hidden: false,
  own: id === 10 ? 4 : null,
  ownPage: null,
  byHand: false,
  kept: true,
  tracked: id === 10,
  planned: null,
})
const keyword = (id: number, phrase: string, more: Partial<GroupedKeyword> = {}): GroupedKeyword => ({
  id,
  phrase,
  themeId: 1,
  theme: 'pottery wheel',
  lead: 'pottery wheel',
  isLead: false,
  shared: 7.5,
  searches: 400,
  family: id,
  own: null,
  ownPage: null,
  nearestId: 2,
  nearest: 'glaze kit',
  nearestShared: 1,
  hasResults: true,
  byHand: false,
  planned: null,
  kept: true,
  tracked: false,
  ...more,
})
const done = { actId: 9 }
const alone = keyword(30, 'kiln shelf', { themeId: null, theme: null, lead: null, shared: null, nearestShared: 3.5 })

function show(path: string, more: ReturnType<typeof answer>[] = []) {
  return showScreen(
    <GroupScreen />,
    [
      ...more,
      answer(listGroupings, () => [grouping, { ...grouping, id: 4, name: 'Older', current: false }]),
      answer(readGrouping, () => ({
        grouping,
        previews,
        proposed: { lead: 4, pairs: 5 },
        withoutResults: 1,
        searches: 2_000,
        searchesUnknown: 2,
        searchesGrouped: 1_200,
        oldest: '2026-11-18',
        newest: '2026-11-20',
        common: [],
        competing: 2,
      })),
      answer(listThemes, ({ url }) =>
        url.includes('threshold=5')
          ? { rows: [{ ...wheels, id: -10, keywords: 2 }], kept: false }
          : { rows: [wheels, glaze], kept: true },
      ),
      answer(readTheme, () => ({
        members: [
          member(10, 'pottery wheel', 10),
          member(11, 'cheap pottery wheel', 6.5),
          member(12, 'used wheel', null),
        ],
        results: [
          { url: 'https://clay.example/wheels', domain: 'clay.example', own: false, rival: true },
          { url: 'https://kilnandtide.example/shop/wheels', domain: 'kilnandtide.example', own: true, rival: false },
        ],
        resultsDay: '2026-11-20',
        marked: [{ word: 'wheel', keywords: 2 }],
        questions: [{ question: 'which wheel is best', keywords: 1 }],
        proposal: {
          kind: 'own' as const,
          pageId: null,
          title: 'Wheels',
          address: 'https://kilnandtide.example/shop/wheels',
          why: 'It stands for 2 of its 3 keywords, at best at 4',
        },
      })),
      answer(listGroupedKeywords, () => ({
        rows: [
          keyword(10, 'pottery wheel', { isLead: true, tracked: true }),
          keyword(11, 'cheap pottery wheel'),
          alone,
        ],
        kept: true,
      })),
      answer(listJobs, () => []),
      answer(moveToTheme, ({ body }) => ({ ...done, moved: (body.keywordIds as number[]).length, themeId: 2 })),
      answer(mergeThemes, () => ({ ...done, moved: 3 })),
      answer(changeTheme, () => done),
      answer(chooseThemes, () => ({ ...done, themes: 1 })),
      answer(planThemes, () => ({ ...done, pages: 1, fresh: 0, keywords: 3, takenOff: 1 })),
      answer(trackKeywords, ({ body }) => ({ ...done, changed: body.keywordIds as number[] })),
      answer(keepPhrases, () => ({ ...done, changed: [77] })),
    ],
    path,
  )
}
const bodyOf = (requests: Array<{ spec: object; body: Record<string, unknown> }>, spec: object) =>
  requests.find(each => each.spec === spec)?.body

describe('themes', () => {
  test('stand with their sums, unknown ones told as such, under the number of them all', async () => {
    show('/1/group')
    await screen.findByText('glaze kit')
    expect(sheetRows().map(row => row.textContent)).toEqual([
      expect.stringContaining('pottery wheel31,2006.540–62'),
      expect.stringContaining('glaze kit2unknown'),
    ])
    const head = screen.getByRole('region', { name: 'Summary' })
    expect(head.textContent).toContain('2themes of 5 keywords')
    expect(head.textContent).toContain('60% of 2,000 searches are in a theme')
    expect(within(head).getByRole('link', { name: '2 pairs of your pages compete' })).toBeTruthy()
  })
  test('of another threshold are looked at by arrow key, and kept by a button', async () => {
    const { user, requests } = show('/1/group')
    const slider = await screen.findByRole('slider', { name: 'Shared pages asked for' })
    expect(slider.getAttribute('aria-valuetext')).toBe('4 shared pages: 6 themes, 60% of the searches in one')
    slider.focus()
    await user.keyboard('{ArrowRight}')
    await waitFor(() => expect(screen.getByRole('status').textContent).toContain('around a lead, 5 shared pages'))
    await waitFor(() => expect(sheetRows()).toHaveLength(1))
    expect(document.querySelector('.headline')!.textContent).toBe('1')
    await user.click(screen.getByRole('button', { name: 'Keep these themes' }))
    await waitFor(() => expect(bodyOf(requests, chooseThemes)).toMatchObject({ threshold: 5, method: 'lead' }))
    await waitFor(() => expect(sheetRows()).toHaveLength(2))
  })
  test('that no keyword has results for cannot be chosen', async () => {
    const { user } = show('/1/group?threshold=8')
    const slider = await screen.findByRole('slider')
    slider.focus()
    await user.keyboard('{ArrowRight}')
    expect(slider.getAttribute('aria-valuenow')).toBe('8')
    expect((screen.getByRole('button', { name: 'Look at 9 shared pages' }) as HTMLButtonElement).disabled).toBe(true)
  })
  test('go on pages with P, are tracked with T, named with R and merged with M', async () => {
    const { user, requests } = show('/1/group')
    await screen.findByText('glaze kit')
    sheetRows()[0]!.focus()
    await user.keyboard('p')
    await screen.findByText('3 keywords put on 1 page; 1 was on another page')
    expect(bodyOf(requests, planThemes)).toMatchObject({ themeIds: [1] })
    await user.keyboard('t')
    await waitFor(() => expect(bodyOf(requests, trackKeywords)).toMatchObject({ keywordIds: [11], tracked: true }))
    sheetRows()[0]!.focus()
    await user.keyboard('r')
    await user.type(await screen.findByLabelText('Name'), 'Wheels{Enter}')
    await waitFor(() => expect(bodyOf(requests, changeTheme)).toMatchObject({ name: 'Wheels' }))
    sheetRows()[0]!.focus()
    await user.keyboard('m')
    await user.type(await screen.findByLabelText('Theme'), 'gla{Enter}')
    await user.click(screen.getByRole('button', { name: 'Merge' }))
    await waitFor(() => expect(bodyOf(requests, mergeThemes)).toMatchObject({ themeId: 2, themeIds: [1] }))
  })
  test('unfold to what each keyword shares; a keyword moves by M, by its box, and by being dragged', async () => {
    const { user, requests } = show('/1/group?open=1')
    await screen.findByText('The lead’s first page'.replace('’', "'"), { exact: false })
    expect(screen.getAllByRole('img', { name: "Shows the lead's results 1, 2" })).toHaveLength(2)
    expect(screen.getByText('no result page')).toBeTruthy()
    expect(screen.getByText(/It stands for 2 of its 3 keywords/)).toBeTruthy()
    await user.click(screen.getByRole('checkbox', { name: 'Choose cheap pottery wheel' }))
    await user.click(screen.getByRole('button', { name: 'Let go' }))
    await waitFor(() => expect(bodyOf(requests, moveToTheme)).toMatchObject({ keywordIds: [11], alone: true }))
    const dragged: Record<string, string> = {}
    const dataTransfer = {
      setData: (type: string, text: string) => {
        dragged[type] = text
      },
      getData: (type: string) => dragged[type] ?? '',
    }
    fireEvent.dragStart(screen.getByText('used wheel').closest('tr')!, { dataTransfer })
    fireEvent.drop(sheetRows().find(row => row.textContent!.startsWith('glaze kit'))!, { dataTransfer })
    await screen.findByText('1 keyword moved to "glaze kit"')
    await user.click(screen.getAllByRole('button', { name: 'Keep it as a keyword' })[1]!)
    await waitFor(() => expect(bodyOf(requests, keepPhrases)).toMatchObject({ phrases: ['which wheel is best'] }))
  })
  test('are made without pages of sites that somebody names', async () => {
    const { user, requests } = show('/1/group', [answer(changeGrouping, () => done)])
    await screen.findByText('glaze kit')
    await user.click(screen.getByRole('button', { name: 'More' }))
    await user.click(await screen.findByRole('menuitem', { name: 'Leave pages of sites out …' }))
    await user.type(await screen.findByLabelText('Domains, with commas between'), 'Bazaar.example, wiki.example{Enter}')
    await waitFor(() =>
      expect(bodyOf(requests, changeGrouping)).toEqual({ leftOut: ['bazaar.example', 'wiki.example'] }),
    )
  })
  test('are being made: it says so', async () => {
    const waiting = { ...grouping, groupedAt: null, themes: 0, grouped: 0, jobState: 'running' }
    show('/1/group', [answer(listGroupings, () => [waiting]), answer(listThemes, () => ({ rows: [], kept: true }))])
    await screen.findByText('The themes are being made')
  })
  test('are saved as a workbook with a sheet a theme', async () => {
    const { user, saved } = show('/1/group')
    await screen.findByText('glaze kit')
    await user.click(screen.getByRole('button', { name: 'Workbook, a sheet a theme' }))
    await waitFor(() => expect(saved.map(file => file.name)).toEqual(['kilnandtide.example-themes.xlsx']))
    const sheets = await readXlsxFile(Buffer.from(await saved[0]!.blob.arrayBuffer()))
    expect(sheets.map(each => each.sheet)).toEqual(['pottery wheel', 'In no theme'])
    expect(sheets[0]!.data[2]!.slice(0, 4)).toEqual(['cheap pottery wheel', 'pottery wheel', 7.5, 400])
  })
})

describe('keywords', () => {
  test('alone ones join the nearest theme with A; a family counts once in the foot', async () => {
    const { user, requests } = show('/1/group?see=keywords')
    await screen.findByText('kiln shelf')
    const row = sheetRows().find(each => each.textContent!.includes('kiln shelf'))!
    expect(row.textContent).toContain('alone')
    row.focus()
    await user.keyboard('a')
    await waitFor(() => expect(bodyOf(requests, moveToTheme)).toMatchObject({ keywordIds: [30], themeId: 2 }))
    await waitFor(() => expect(footText()).toContain('1,200 searches/mo'))
  })
  test('are exported a line each with theme, lead and what they share', async () => {
    const { user, saved } = show('/1/group?see=keywords')
    await screen.findByText('kiln shelf')
    await user.click(screen.getByRole('button', { name: 'Export' }))
    await user.click(await screen.findByRole('menuitem', { name: 'CSV' }))
    await waitFor(() => expect(saved).toHaveLength(1))
    const lines = await linesOf(saved[0]!)
    expect(lines[0]).toMatch(/^Keyword,Theme,Lead,Shared with lead,Searches/)
    expect(lines[2]).toMatch(/^cheap pottery wheel,pottery wheel,pottery wheel,7.5,400/)
  })
})

test('pages that compete stand with the one that should have the theme', async () => {
  const pair: CompetingRow = {
    id: 1,
    themeId: 1,
    theme: 'pottery wheel',
    keep: 'https://kilnandtide.example/shop/wheels',
    give: 'https://kilnandtide.example/guides/wheels',
    keepLeads: ['pottery wheel'],
    giveLeads: [],
    keepVisits: 90,
    giveVisits: null,
    keepPosition: 4,
    givePosition: 9.4,
    seen: 'both',
  }
  show('/1/group?see=competing&open=1', [answer(listCompeting, () => ({ rows: [pair], logged: '2026-11-15' }))])
  await screen.findByText('none: the other stands above it for all')
  expect(sheetRows()[0]!.textContent).toContain('/shop/wheels4about 901/guides/wheels9unknown0on both')
  expect(screen.getByText(/query log up to Nov 15, 2026/)).toBeTruthy()
})

test('a check moves what does not belong and merges what competes', async () => {
  const { user, requests } = show('/1/group?see=check', [
    answer(checkGrouping, () => ({
      threshold: 4,
      agreement: 0.62,
      themes: [{ id: 1, theme: 'pottery wheel', keywords: 3, cohesion: 0.4 }],
      misfits: [
        {
          id: 11,
          phrase: 'glaze for wheels',
          theme: 'pottery wheel',
          inside: 0,
          betterId: 2,
          better: 'glaze kit',
          there: 0.5,
        },
        { id: 12, phrase: 'odd one', theme: 'pottery wheel', inside: 0, betterId: null, better: null, there: 0 },
      ],
      overlaps: [
        { aId: 1, a: 'pottery wheel', bId: 2, b: 'glaze kit', pairs: 3, of: 6, pages: ['https://clay.example/x'] },
      ],
      withoutResults: 1,
    })),
  ])
  await user.click(await screen.findByRole('button', { name: 'Move it there: glaze for wheels' }))
  await waitFor(() => expect(bodyOf(requests, moveToTheme)).toMatchObject({ keywordIds: [11], themeId: 2 }))
  await user.click(screen.getByRole('button', { name: 'Merge these: glaze kit into pottery wheel' }))
  await waitFor(() => expect(bodyOf(requests, mergeThemes)).toMatchObject({ themeId: 1, themeIds: [2] }))
  expect(screen.getByText(/1 keyword without a result page is left out/)).toBeTruthy()
})

test('two groupings side by side tell what split, merged and moved', async () => {
  show('/1/group?see=beside', [
    answer(compareGroupings, () => ({
      agreement: 0.8,
      both: 6,
      onlyHere: 1,
      onlyThere: 0,
      same: 1,
      split: [
        {
          theme: 'pottery wheel',
          into: [
            { theme: 'wheel', keywords: 2 },
            { theme: 'used wheel', keywords: 1 },
          ],
        },
      ],
      merged: [],
      moved: [{ phrase: 'used wheel', here: 'pottery wheel', there: null }],
      movedTotal: 1,
    })),
  ])
  await screen.findByText('wheel (2), used wheel (1)')
  expect(screen.getByText(/Of 6 keywords in both/).textContent).toContain('1 theme is the same, 1 split and 0 merged')
})

test('without a grouping it says what grouping is for; what it would take is said before it begins', async () => {
  const { user, requests } = show('/1/group', [
    answer(listGroupings, () => []),
    answer(getTrail, () => ({ found: 9, kept: 6, weighed: 0, themes: 0, planned: 0, pages: 0, tracked: 0 })),
    answer(listLists, () => []),
    answer(listGatherings, () => []),
    answer(countToGroup, ({ body }) =>
      (body.from as { kind: string }).kind === 'kept'
        ? { keywords: 6, requests: 4, withoutSearches: 2, mostADay: 1_000 }
        : { keywords: 1, requests: 0, withoutSearches: 0, mostADay: null },
    ),
    answer(createGrouping, () => ({ groupingId: 5, jobId: 8 })),
  ])
  await screen.findByText('6 keywords are kept in this site.')
  await user.click(screen.getByRole('button', { name: 'Group keywords' }))
  await screen.findByText(/4 result pages would be fetched, one request each; at most 1,000 a day may be/)
  await user.click(screen.getByRole('button', { name: 'Group' }))
  await waitFor(() =>
    expect(bodyOf(requests, createGrouping)).toMatchObject({ from: { kind: 'kept' }, oldestDays: 30, compared: 20 }),
  )
})
