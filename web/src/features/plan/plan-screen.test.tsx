// @vitest-environment jsdom
import {
  assignKeywords,
  changePage,
  createPage,
  listPages,
  type PlannedPage,
  removePage,
} from '@dew-trail/contract/plan'
import { listJobs } from '@dew-trail/contract/jobs'
import { trackKeywords } from '@dew-trail/contract/track'
import { screen, waitFor, within } from '@testing-library/react'
import { beforeEach, describe, expect, test } from 'vitest'
import { answer, footText, linesOf, sheetRows, showScreen } from '../../../test/show-screen.tsx'
import { madePage } from '../../../test/made-page.ts'
import PlanScreen from './PlanScreen.tsx'

beforeEach(() => localStorage.clear())

const keyword = (id: number, phrase: string, more: Partial<PlannedPage['keywords'][number]> = {}) => ({
  id,
  phrase,
  searches: null,
  hidden: false,
  match: null,
  cpc: null,
  difficulty: null,
  chance: null,
  visits: null,
  tracked: false,
  position: null,
  standing: null,
  visitsNow: null,
  spot: null,
  theme: null,
  ...more,
})
const kilns = madePage({
  deadline: '2026-12-01',
  state: 'writing',
  searches: 1_200,
  searchesUnknown: 1,
  visits: 80,
  difficultyFrom: 31.2,
  difficultyTo: 55,
  keywords: [keyword(11, 'kiln price', { searches: 1_200, tracked: true }), keyword(12, 'what is a kiln')],
})
const late = madePage({ id: 5, title: 'Glazes', deadline: '2026-10-01', late: true })
const idea = madePage({ id: 6, title: 'Clay bodies' })
const show = (pages: PlannedPage[] | Error = [kilns, late, idea]) => {
  const shown = showScreen(
    <PlanScreen />,
    [
      answer(listPages, () => pages),
      answer(listJobs, () => []),
      answer(createPage, () => ({ id: 6, takenOff: 0, actId: 40 })),
      answer(changePage, ({ body }) =>
        body.address === 'kilns'
          ? new Error('An address starts with / or http')
          : { id: 4, actId: 44, version: Number(body.version) + 1 },
      ),
      answer(removePage, () => ({ actId: 42 })),
      answer(assignKeywords, () => ({ takenOff: 0, actId: 41 })),
      answer(trackKeywords, () => ({ actId: 43, changed: [12] })),
    ],
    '/1/plan?see=list',
  )
  return shown
}
const row = async (title: string): Promise<HTMLElement> => (await screen.findByTitle(title)).closest('.sheet-row')!

test('the menu of a page tracks its keywords, sets its state and removes it', async () => {
  const { user, bodies, requests } = show()
  const open = async () => user.pointer({ target: await row('Choosing a kiln'), keys: '[MouseRight]' })
  await open()
  expect(await screen.findByRole('menuitem', { name: 'State: Idea' })).toBeTruthy()
  expect(screen.queryByRole('menuitem', { name: 'State: Writing' })).toBeNull()
  await user.click(screen.getByRole('menuitem', { name: 'Track 1 keyword' }))
  await waitFor(() => expect(bodies(trackKeywords)).toEqual([{ keywordIds: [12], tracked: true }]))
  await open()
  await user.click(screen.getByRole('menuitem', { name: 'State: Published' }))
  await waitFor(() => expect(bodies(changePage)).toEqual([{ version: kilns.version, state: 'published' }]))
  await open()
  await user.click(screen.getByRole('menuitem', { name: 'Remove from the plan' }))
  await waitFor(() => expect(requests.filter(each => each.spec === removePage)).toHaveLength(1))
})

describe('planned pages', () => {
  test('stand by deadline, those without one last; late ones are said to be', async () => {
    show()
    await row('Clay bodies')
    expect(sheetRows().map(each => each.querySelector('.keyword-name')!.textContent)).toEqual([
      'Glazes',
      'Choosing a kiln',
      'Clay bodies',
    ])
    expect((await row('Glazes')).textContent).toContain('Idea, late')
    const text = (await row('Choosing a kiln')).textContent!
    expect(text).toContain('kiln price')
    expect(text).toContain('31–55')
    // One keyword's searches are unknown, so the sum is not all.
    expect(text).toContain('1,200+?')
    await waitFor(() => expect(footText()).toContain('3 pages'))
    expect(footText()).toContain('1 late')
    expect(footText()).toContain('1,200 searches/mo, 2 unknown')
  })
  test('of which nothing is known have unknown sums, not zero', async () => {
    show([idea])
    await row('Clay bodies')
    await waitFor(() => expect(footText()).toContain('unknown searches/mo'))
    expect(footText()).toContain('unknown with the plan')
    expect(footText()).not.toMatch(/\b0 (searches|visits)/)
  })
  test('a new one opens on the site map', async () => {
    const { user, bodies } = show()
    await user.click(await screen.findByRole('button', { name: 'Add a page' }))
    expect(await screen.findByText('A page is planned; give it a name and keywords')).toBeTruthy()
    await waitFor(() =>
      expect(screen.getByRole('button', { name: 'Site map' }).getAttribute('aria-pressed')).toBe('true'),
    )
    expect(bodies(createPage)).toEqual([{ title: 'New page' }])
  })
  test('none yet says how they come', async () => {
    show([])
    expect(await screen.findByText('No page is planned yet')).toBeTruthy()
    expect(screen.getByRole('link', { name: 'Go to Weigh' })).toBeTruthy()
  })
  test('that cannot be read say why', async () => {
    show(new Error('The database is away'))
    expect((await screen.findByRole('alert')).textContent).toContain('The database is away')
  })
  test('are saved as a file as they are shown', async () => {
    const { user, saved } = show()
    await row('Clay bodies')
    await user.type(screen.getByRole('textbox', { name: 'Contains' }), 'kiln')
    await waitFor(() => expect(sheetRows()).toHaveLength(1))
    await user.click(screen.getByRole('button', { name: 'Export' }))
    await user.click(screen.getByRole('menuitem', { name: 'CSV' }))
    await waitFor(() => expect(saved).toHaveLength(1))
    expect(saved[0]!.name).toBe('kilnandtide.example-plan.csv')
    const lines = await linesOf(saved[0]!)
    expect(lines).toHaveLength(2)
    expect(lines[1]).toContain('Choosing a kiln')
    expect(lines[0]).toContain('Keywords,Which keywords')
    expect(lines[0]).toContain('Difficulty from,Difficulty to')
  })
})

describe('an unfolded page', () => {
  const open = async () => {
    const shown = show()
    await shown.user.click(await screen.findByTitle('Choosing a kiln'))
    await screen.findByDisplayValue('Choosing a kiln')
    return shown
  }
  test('a field is saved when it is left, and only when it changed', async () => {
    const { user, bodies } = await open()
    await user.click(screen.getByRole('textbox', { name: 'Name' }))
    await user.tab()
    expect(bodies(changePage)).toEqual([])
    await user.type(screen.getByRole('textbox', { name: 'Name' }), ' for the studio')
    await user.tab()
    await user.clear(screen.getByRole('textbox', { name: 'Address' }))
    await user.tab()
    await waitFor(() =>
      expect(bodies(changePage)).toEqual([
        { title: 'Choosing a kiln for the studio', version: 1 },
        { address: null, version: 2 },
      ]),
    )
  })
  test('what is refused is said, and stays to be mended', async () => {
    const { user } = await open()
    const address = screen.getByRole('textbox', { name: 'Address' })
    await user.clear(address)
    await user.type(address, 'kilns')
    await user.tab()
    expect(await screen.findByText('An address starts with / or http')).toBeTruthy()
    expect(address).toHaveProperty('value', 'kilns')
  })
  test('its state is chosen', async () => {
    const { user, bodies } = await open()
    await user.click(screen.getByRole('combobox', { name: 'State' }))
    await user.click(await screen.findByRole('option', { name: 'Published' }))
    expect(bodies(changePage)).toEqual([{ state: 'published', version: 1 }])
  })
  test('keywords are taken off and put back; those that are not tracked are sent there', async () => {
    const { user, bodies, undone } = await open()
    const line = screen.getByTitle('what is a kiln').closest('tr')!
    expect(within(line).getByText('unknown')).toBeTruthy()
    await user.click(screen.getByRole('button', { name: 'Take what is a kiln off the page' }))
    await user.click(await screen.findByRole('button', { name: 'Undo' }))
    await waitFor(() => expect(undone()).toEqual([41]))
    expect(bodies(assignKeywords)).toEqual([{ pageId: null, keywordIds: [12] }])
    await user.click(screen.getByRole('button', { name: 'Send 1 keyword to tracking' }))
    expect(await screen.findByText('1 keyword sent to tracking')).toBeTruthy()
    expect(bodies(trackKeywords)).toEqual([{ keywordIds: [12], tracked: true }])
  })
  test('a page that is removed comes back by undo', async () => {
    const { user, requests, undone } = await open()
    await user.click(screen.getByRole('button', { name: 'Remove page' }))
    await user.click(await screen.findByRole('button', { name: 'Undo' }))
    await waitFor(() => expect(undone()).toEqual([42]))
    expect(requests.find(({ spec }) => spec === removePage)!.url).toContain('/pages/4')
  })
})
