// @vitest-environment jsdom
import {
  type LinkProfile,
  type LinkRow,
  listLinks,
  listSharedLinkers,
  readLinkProfile,
} from '@dew-trail/contract/link-profile'
import { loadFeeds } from '@dew-trail/contract/links'
import { screen, within } from '@testing-library/react'
import { describe, expect, test } from 'vitest'
import { answer, showScreen } from '../../test/show-screen.tsx'
import { LinkFigures } from './LinkFigures.tsx'
import { LinksDialog } from './LinksDialog.tsx'
import { SharedLinkers } from './SharedLinkers.tsx'

const url = 'https://clayharbour.example/shop/kick-wheel'
const profile = (more: Partial<LinkProfile> = {}): LinkProfile => ({
  domain: 'clayharbour.example',
  scope: 'page',
  known: true,
  links: 30,
  there: 21,
  follow: 18,
  linkingPages: 20,
  linkingSites: 12,
  bands: [6, 3, 2, 1, 0],
  anchors: {
    looked: 20,
    classes: { brand: 12, exact: 5, image: 3 },
    list: [
      { text: 'Clay Harbour', kind: 'brand', links: 12 },
      { text: '', kind: 'image', links: 3 },
    ],
  },
  topic: { looked: 20, on: 8, unknown: 4 },
  subjects: [{ words: ['wheel', 'kiln'], share: 0.62 }],
  gained: [
    { week: '2026-11-16', sites: 2 },
    { week: '2026-11-23', sites: 9 },
  ],
  undated: 3,
  bursts: [{ week: '2026-11-23', sites: 9, usual: 1.6 }],
  ...more,
})
const link = (more: Partial<LinkRow> = {}): LinkRow => ({
  source: 'https://potblog.example/wheels',
  title: 'Wheels we like',
  target: url,
  anchor: 'this kick wheel',
  kind: 'text',
  rel: [],
  around: 'we bought this kick wheel last year',
  firstSeen: '2026-10-02',
  lastSeen: '2026-11-20',
  goneOn: null,
  standing: 41.4,
  pull: 12.2,
  ...more,
})
const noLinks = answer(listLinks, () => ({ count: 0, links: [], next: null }))
const lines = (): string[][] =>
  screen
    .getAllByRole('row')
    .slice(1)
    .map(row =>
      within(row)
        .getAllByRole('cell')
        .map(cell => cell.textContent ?? ''),
    )

describe('links to a page', () => {
  test('sums, anchors in words, and what is gone are told apart', async () => {
    showScreen(<LinkFigures profile={profile()} phrase="kick wheel" />, [])
    expect(screen.getByLabelText('Sums').textContent).toContain('12 linking sites')
    expect(screen.getByLabelText('Sums').textContent).toContain('21 links there now, of which 18 followed; 9 gone')
    expect(screen.getByLabelText('Sums').textContent).toContain(
      '8 of 20 looked at are on topic (kick wheel), 4 unknown',
    )
    expect(screen.getByText(/the name 60%, the keyword 25%, a picture 15%/)).toBeTruthy()
    expect(screen.getByText(/Burst in the week of/).textContent).toContain('9, usual 2')
    expect(screen.getByRole('img').getAttribute('aria-label')).toContain('11 linking sites first seen')
  })
  test('bands are unknown, not empty, until standing was computed', () => {
    showScreen(<LinkFigures profile={profile({ bands: null, topic: null, subjects: null })} phrase={undefined} />, [])
    expect(screen.getByText('Unknown until standing was computed')).toBeTruthy()
    expect(screen.queryByText(/on topic/)).toBeNull()
  })
  test('each link with what it passes on: none where engines are told not to follow, unknown where not computed', async () => {
    showScreen(<LinksDialog url={url} onClose={() => undefined} />, [
      answer(readLinkProfile, () => profile({ anchors: { looked: 0, classes: {}, list: [] }, bands: null })),
      answer(listLinks, () => ({
        count: 3,
        links: [
          link(),
          link({ source: 'https://forum.example/t/1', rel: ['nofollow'], title: null }),
          link({
            source: 'https://new.example/',
            kind: 'image',
            anchor: '',
            standing: null,
            pull: null,
            firstSeen: null,
          }),
        ],
        next: null,
      })),
    ])
    await screen.findByText('this kick wheel', { selector: 'tr:nth-child(1) td' })
    const [first, second, third] = lines()
    expect(first!.slice(2, 4)).toEqual(['41', '12'])
    expect(second![3]).toBe('none')
    expect(second![1]).toContain('nofollow')
    expect(third!.slice(1)).toEqual(['a picture', 'unknown', 'unknown', 'unknown'])
  })
  test('not followed ones come when asked for, further pages when wanted', async () => {
    const { user, requests } = showScreen(<LinksDialog url={url} onClose={() => undefined} />, [
      answer(readLinkProfile, () => profile()),
      answer(listLinks, ({ url: address }) =>
        address.includes('after=')
          ? { count: null, links: [link({ source: 'https://second.example/' })], next: null }
          : { count: 2, links: [link()], next: '1,2,3,4' },
      ),
    ])
    await user.click(await screen.findByRole('button', { name: 'Show more' }))
    expect(await screen.findByText('second.example/')).toBeTruthy()
    expect(screen.queryByRole('button', { name: 'Show more' })).toBeNull()
    await user.click(screen.getByRole('button', { name: 'Followed only' }))
    await screen.findByRole('button', { name: 'Show more' })
    const lists = requests.filter(({ spec }) => spec === listLinks).map(each => each.url)
    expect(lists[0]).toContain('follow=true')
    expect(lists.at(-1)).not.toContain('follow=true')
    expect(lists[1]).toContain(encodeURIComponent('1,2,3,4'))
  })
  test('of a page nobody is known to link to, nothing is claimed, and the feeds can be asked', async () => {
    const { user, requests } = showScreen(<LinksDialog url={url} onClose={() => undefined} />, [
      answer(readLinkProfile, ({ url: address }) =>
        profile({ known: false, scope: address.includes('scope=site') ? 'site' : 'page' }),
      ),
      answer(loadFeeds, () => ({ jobId: 4, domains: 1 })),
      noLinks,
    ])
    expect(await screen.findByText('Our graph knows no link to this page')).toBeTruthy()
    await user.click(screen.getByRole('button', { name: 'The whole site' }))
    expect(await screen.findByText('Our graph knows no link to clayharbour.example')).toBeTruthy()
    await user.click(screen.getByRole('button', { name: /Load what the link feeds know/ }))
    await screen.findByText(/Loading links to clayharbour.example/)
    expect(requests.find(({ spec }) => spec === loadFeeds)!.body).toEqual({ domains: ['clayharbour.example'] })
  })
  test('a refusal is said', async () => {
    showScreen(<LinksDialog url="nonsense" onClose={() => undefined} />, [
      answer(readLinkProfile, () => new Error('"nonsense" is no address')),
      noLinks,
    ])
    expect((await screen.findByRole('alert')).textContent).toBe('"nonsense" is no address')
  })
})

describe('sites that link to several results', () => {
  const results = ['clayharbour.example', 'kilnandtide.example', 'thewheelhouse.example'].map((domain, i) => ({
    position: i + 1,
    domain,
  }))
  test('are asked for among the others, not the own site, and named by places', async () => {
    const { requests } = showScreen(<SharedLinkers results={results} name="kick wheel" />, [
      answer(listSharedLinkers, () => ({
        unknown: ['thewheelhouse.example'],
        count: 2,
        linkers: [
          {
            domain: 'craftledger.example',
            to: ['clayharbour.example', 'thewheelhouse.example'],
            hub: 100,
            standing: 66,
            doubt: 0.25,
            linksToOwn: false,
          },
        ],
      })),
    ])
    expect(await screen.findByText('craftledger.example')).toBeTruthy()
    expect(requests[0]!.body).toEqual({ domains: ['clayharbour.example', 'thewheelhouse.example'] })
    expect(lines()[0]!.slice(1, 4)).toEqual(['1, 3', '100', '66'])
    expect(lines()[0]!.at(-1)).toBe('no')
    const text = screen.getByLabelText(/Sites that link to several/).textContent
    expect(text).toContain('2 sites link to at least two of the 2 sites on this page; the 1 best hubs are listed.')
    expect(text).toContain('No links are known yet of thewheelhouse.example')
  })
  test('a page with one other site cannot have any, and nothing is asked', () => {
    const { requests } = showScreen(<SharedLinkers results={results.slice(0, 2)} name="kick wheel" />, [])
    expect(screen.getByText(/This page shows one other site only/)).toBeTruthy()
    expect(requests).toEqual([])
  })
})
