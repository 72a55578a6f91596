// @vitest-environment jsdom
import { keepPhrases } from '@dew-trail/contract/gather'
import { listJobs } from '@dew-trail/contract/jobs'
import { type FirstPage, getFirstPage, startWeighing, type WeighedResult } from '@dew-trail/contract/weigh'
import { cleanup, screen, within } from '@testing-library/react'
import { Route, Routes } from 'react-router'
import { describe, expect, test } from 'vitest'
import { answer, showScreen } from '../../../test/show-screen.tsx'
import { madeResult } from '../../../test/made-result.ts'
import FirstPageScreen from './FirstPageScreen.tsx'

const longTitle = 'A title of ninety characters, which tells everything that there is to say of kilns for home'
const longUrl = `https://long.example/${'guides-and-more/'.repeat(18)}kilns`
const result = (position: number, more: Partial<WeighedResult> = {}) =>
  madeResult(position, {
    snippet: 'A kiln.',
    marked: ['kiln'],
    level: 40 + position,
    siteLevel: 50,
    siteLinkingSites: 30,
    linkingSites: 2,
    links: 4,
    ageYears: 8,
    opening: position > 3,
    parts: [{ feature: 'fit', value: 75, adds: 0.5 }],
    ...more,
  })
const page = (more: Partial<FirstPage> = {}): FirstPage => ({
  keywordId: 7,
  phrase: 'kiln',
  marketId: 1,
  fetchedOn: '2026-11-20',
  dates: ['2026-11-20', '2026-10-20'],
  difficulty: 48,
  chances: { '1': 0.1, '3': 0.2, '5': 0.3, '10': 0.6, '20': 0.8 },
  likelyFrom: 4,
  likelyTo: 16,
  standing: null,
  ownLevel: 61,
  ownLinkingSites: 38,
  ownLinksAskedOn: '2026-11-20',
  scale: { takenOn: '2026-11-20', sites: 312, deep: true },
  lockedTop: 0,
  openings: [4, 5],
  precedents: [],
  sentence: 'Places 1–3 stand above your level.',
  model: 'learnt strengths',
  features: { answer: false, questions: [], images: true, shopping: 0, map: 0, ads: 1 },
  related: ['kiln kit'],
  weighedKeywords: 20,
  results: [1, 2, 3, 4, 5].map(position => result(position)),
  ownPage: null,
  unknown: [],
  ...more,
})
const show = (give: (day: string | null) => FirstPage | null | Error, path = '/1/weigh/page/7') =>
  showScreen(
    <Routes>
      <Route path="/:siteId/weigh/page/:keywordId" element={<FirstPageScreen />} />
    </Routes>,
    [
      answer(getFirstPage, ({ url }) => give(new URL(url, 'http://x').searchParams.get('date'))),
      answer(startWeighing, () => ({ jobId: 3, count: 1, fresh: 0 })),
      answer(listJobs, () => []),
      answer(keepPhrases, () => ({ changed: [7], actId: 4 })),
    ],
    path,
  )
const rows = () => within(screen.getByRole('table')).getAllByRole('row').slice(1)

describe('the first page of a keyword', () => {
  test('with five results shows five, their figures and the ground', async () => {
    show(() => page())
    await screen.findByRole('heading', { name: 'kiln' })
    expect(rows()).toHaveLength(5)
    expect(screen.getByText('48')).toBeTruthy()
    expect(screen.getByText('60%')).toBeTruthy()
    expect(screen.getByText('4–16')).toBeTruthy()
    expect(screen.getByText('Places 1–3 stand above your level.')).toBeTruthy()
    expect(screen.getByText(/Words the engine marked/).textContent).toContain('kiln 5')
  })
  test('a long title and a long address are whole where the pointer rests, and whose they are stands beside', async () => {
    show(() => page({ results: [result(1, { title: longTitle, url: longUrl })] }))
    const cell = (await screen.findByText(longTitle)).closest('td')!
    expect(cell.title).toContain(longTitle)
    expect(cell.title).toContain(longUrl)
    expect(within(cell).getByText(longUrl.slice('https://'.length))).toBeTruthy()
  })
  test('what a missing source leaves is unknown, and the source is named', async () => {
    const blind = { siteLevel: null, siteLinkingSites: null, linkingSites: null, links: null, ageYears: null }
    show(() =>
      page({
        results: [result(1, blind)],
        chances: null,
        difficulty: null,
        likelyFrom: null,
        likelyTo: null,
        ownLevel: null,
        unknown: ['link feeds'],
      }),
    )
    await screen.findByRole('heading', { name: 'kiln' })
    expect(within(rows()[0]!).getAllByText('unknown').length).toBeGreaterThanOrEqual(3)
    expect(screen.getByText(/First page of Nov 20, 2026/).textContent).toContain('unknown: link feeds')
    expect(rows()[0]!.textContent).not.toContain('NaN')
  })
  test('is compared with an earlier day: who moved, entered and left', async () => {
    const earlier = page({
      fetchedOn: '2026-10-20',
      results: [
        result(1, { url: 'https://gone.example/', domain: 'gone.example' }),
        result(2),
        { ...result(1), position: 3 },
      ],
    })
    const { user } = show(day =>
      day === '2026-10-20' ? earlier : page({ results: [result(1), result(2), result(3)] }),
    )
    await user.selectOptions(await screen.findByLabelText('compared with'), '2026-10-20')
    const said = await screen.findByText(/Since Oct 20, 2026/)
    expect(said.textContent).toBe('Since Oct 20, 2026 1 result entered and 1 left: 1. gone.example.')
    expect(rows().map(row => within(row).getAllByRole('cell')[1]!.textContent)).toEqual([
      expect.stringContaining('2'),
      'same',
      'new',
    ])
  })
  test('of an earlier day is asked for by the address', async () => {
    const { requests } = show(
      day => page(day ? { fetchedOn: day, sentence: 'As it was then.' } : {}),
      '/1/weigh/page/7?day=2026-10-20',
    )
    expect(await screen.findByText('As it was then.')).toBeTruthy()
    expect(requests.find(({ spec }) => spec === getFirstPage)!.url).toContain('date=2026-10-20')
  })
  test('figures are chosen, and results can be seen as the engine showed them', async () => {
    const { user } = show(() => page())
    await user.click(await screen.findByRole('button', { name: 'As seen' }))
    expect(screen.queryByRole('columnheader', { name: 'strength' })).toBeNull()
    expect(screen.getByText('Kilns 1')).toBeTruthy()
    await user.click(screen.getByRole('button', { name: 'Figures' }))
    expect(screen.getByRole('columnheader', { name: 'strength' })).toBeTruthy()
  })
  test('a related search is kept by a press', async () => {
    const { user, bodies } = show(() => page())
    await user.click(await screen.findByRole('button', { name: 'kiln kit' }))
    expect(await screen.findByText('kiln kit is kept')).toBeTruthy()
    expect(bodies(keepPhrases)).toEqual([{ marketId: 1, phrases: ['kiln kit'] }])
  })
  test('a keyword that was not weighed here can be weighed', async () => {
    const { user, requests } = show(() => null)
    await user.click(await screen.findByRole('button', { name: 'Weigh it' }))
    expect(requests.find(({ spec }) => spec === startWeighing)!.body).toMatchObject({
      keywordIds: [7],
      marketId: 1,
      again: true,
    })
  })
  test('the own page below the first page is named, and proposed to be put beside it', async () => {
    const url = 'https://kilnandtide.example/kilns'
    show(() => page({ ownPage: { url, position: 14 } }))
    expect((await screen.findByText(/Your page stands at 14/)).textContent).toContain('kilnandtide.example/kilns')
    expect(screen.getByLabelText('Address of the page')).toHaveProperty('value', url)
  })
  test('on the first page it is not named twice; where only tracking knows it, that is said', async () => {
    const url = 'https://kilnandtide.example/kilns'
    show(() => page({ results: [result(1), result(2, { url, own: true })], ownPage: { url, position: 2 } }))
    await screen.findByRole('heading', { name: 'kiln' })
    expect(screen.queryByText(/Your page stands/)).toBeNull()
    cleanup()
    show(() => page({ ownPage: { url, position: null } }))
    expect(await screen.findByText(/Tracking last found your page/)).toBeTruthy()
  })
  test('an error of the server is said', async () => {
    show(() => new Error('The keyword is gone'))
    expect((await screen.findByRole('alert')).textContent).toBe('The keyword is gone')
  })
})
