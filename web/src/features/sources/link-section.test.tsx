// @vitest-environment jsdom
import {
  type LinkState,
  listVetted,
  loadFeeds,
  rankLinks,
  readLinkState,
  readStandings,
} from '@dew-trail/contract/links'
import { listWork } from '@dew-trail/contract/jobs'
import { screen, waitFor, within } from '@testing-library/react'
import type { ReactElement } from 'react'
import { describe, expect, test } from 'vitest'
import { answer, showScreen } from '../../../test/show-screen.tsx'
import { LinkSection } from './LinkSection.tsx'
import { WorkLog } from './WorkLog.tsx'

const state = (more: Partial<LinkState> = {}): LinkState => ({
  sites: 80,
  pages: 5_639,
  fetched: 1_250,
  links: 37_533,
  snapshot: { id: 3, madeAt: '2026-11-27T02:00:00Z', pages: 5_639, sites: 80, links: 37_533, vetted: 1, seconds: 0.8 },
  ...more,
})
const standing = (domain: string, value: number, more = {}) => ({
  domain,
  standing: value,
  trust: null,
  doubt: null,
  cluster: 0,
  linkingSites: 12,
  network: null,
  networkReasons: null,
  kind: 'shop',
  kindReasons: [],
  madeAt: '2026-11-27T02:00:00Z',
  ...more,
})
const show = (known: LinkState | Error, sites = [standing('kilnandtide.example', 61)]) =>
  showScreen(<LinkSection />, [
    answer(readLinkState, () => known),
    answer(readStandings, () => sites),
    answer(listVetted, () => []),
    answer(loadFeeds, () => ({ jobId: 4, domains: 50 })),
    answer(rankLinks, () => ({ jobId: 5 })),
  ])
const rows = async (): Promise<string[][]> => {
  const table = await screen.findByRole('table', { name: 'Sites by standing' })
  return within(table)
    .getAllByRole('row')
    .slice(1)
    .map(row =>
      within(row)
        .getAllByRole('cell')
        .map(cell => cell.textContent!),
    )
}

describe('the link graph', () => {
  test('says how much is known and since when; sites stand by standing, what is not known is said', async () => {
    show(state(), [
      standing('wares.example', 44, { trust: 30.4, doubt: 0.31 }),
      standing('kilnandtide.example', 61),
      standing('magazine.example', 80.4),
    ])
    expect((await screen.findByText(/links between/)).textContent).toMatch(
      /37,533 links between 5,639 pages of 80 sites are known; 1,250 of the pages were read.*in 0\.8 s; trust began with 1 vetted site\./,
    )
    expect(await rows()).toEqual([
      ['1', 'magazine.example', '80', 'unknown', 'unknown', '12'],
      ['2', 'kilnandtide.example', '61', 'unknown', 'unknown', '12'],
      ['3', 'wares.example', '44', '30', expect.stringContaining('31'), '12'],
    ])
  })
  test('the own site is listed with its place however far down it stands', async () => {
    const many = Array.from({ length: 40 }, (_, i) => standing(`site-${i}.example`, 99 - i))
    show(state(), [...many, standing('kilnandtide.example', 10)])
    const list = await rows()
    expect(list).toHaveLength(13)
    expect(list.at(-1)!.slice(0, 2)).toEqual(['41', 'kilnandtide.example'])
  })
  test('sites that look made to give links are named together, with the reasons', async () => {
    const suspect = { network: 2, networkReasons: ['they share an address', 'they link to each other'] }
    show(state(), [
      standing('b.example', 20, suspect),
      standing('a.example', 30, suspect),
      standing('fair.example', 40),
    ])
    expect((await screen.findByText(/look as if they were made/)).textContent).toBe(
      'These sites look as if they were made to give links: a.example, b.example. they share an address; they link to each other.',
    )
  })
  test('links are loaded and standing is computed when that is asked for', async () => {
    const { user, requests } = show(state())
    await user.click(await screen.findByRole('button', { name: 'Load links from the feeds' }))
    expect(await screen.findByText(/Loading links to 50 sites/)).toBeTruthy()
    await user.click(screen.getByRole('button', { name: 'Compute standing now' }))
    await waitFor(() => expect(requests.some(({ spec }) => spec === rankLinks)).toBe(true))
  })
  test('without links there is nothing to compute, and no standing is made up', async () => {
    const { requests } = show(state({ links: 0, pages: 0, sites: 0, snapshot: null }))
    expect((await screen.findByText(/Standing was not computed yet/)).textContent).toContain('0 links')
    expect(screen.getByRole('button', { name: 'Compute standing now' })).toHaveProperty('disabled', true)
    expect(requests.some(({ spec }) => spec === readStandings)).toBe(false)
  })
})

describe('what does not come from the server', () => {
  const refused: Array<[string, ReactElement, Parameters<typeof answer>[0], string]> = [
    ['the link graph', <LinkSection key="links" />, readLinkState, '0 links'],
    ['the work', <WorkLog key="work" />, listWork, 'Nothing was done'],
  ]
  test.each(refused)('%s: why is said, and it is not taken for nothing', async (_, element, spec, nothing) => {
    showScreen(element, [answer(spec, () => new Error('The database is away'))])
    expect(screen.getByText('Loading')).toBeTruthy()
    expect((await screen.findByRole('alert')).textContent).toBe('The database is away')
    expect(document.body.textContent).not.toContain(nothing)
  })
})
