// @vitest-environment jsdom
import { listFindLists, putOnFindList, readFinds } from '@dew-trail/contract/finds'
import { startGathering } from '@dew-trail/contract/gather'
import { listJobs } from '@dew-trail/contract/jobs'
import {
  type LinkFigures,
  type LinkingSite,
  listDisavowed,
  listLinkedPages,
  listLinkingSites,
  listLinkSources,
  listSiteRanking,
  listTargetAnchors,
  listTargetLinks,
  readLinkFigures,
  readLinkKinds,
  setCleared,
  setDisavowed,
  type TargetLink,
} from '@dew-trail/contract/link-lists'
import { linkingSiteBatch } from '@dew-trail/contract/link-tables'
import { readCondition } from '@dew-trail/core/tables/condition-text'
import { type Cell, rowTest } from '@dew-trail/core/tables/row-tests'
import { listSharedLinkers } from '@dew-trail/contract/link-profile'
import { listFeeds, loadFeeds, verifyLinks } from '@dew-trail/contract/links'
import {
  addProspects,
  changeProspect,
  listProspects,
  type Prospect,
  removeProspects,
} from '@dew-trail/contract/prospects'
import { listPages } from '@dew-trail/contract/plan'
import { screen, waitFor, within } from '@testing-library/react'
import { beforeEach, describe, expect, test } from 'vitest'
import { answer, footText, linesOf, sheetRows, showScreen } from '../../../test/show-screen.tsx'
import { madePage } from '../../../test/made-page.ts'
import LinksScreen from './LinksScreen.tsx'

beforeEach(() => localStorage.clear())

const [own, rival] = ['kilnandtide.example', 'claycorner.example']
const figures = (target: string, more: Partial<LinkFigures> = {}): LinkFigures => ({
  target,
  kind: 'site',
  domain: target,
  known: true,
  links: 715,
  follow: 514,
  linkingPages: 613,
  linkingSites: 38,
  followSites: 30,
  addresses: 29,
  subnets: 25,
  addressed: 36,
  knownPages: 236,
  institutions: 3,
  directories: 1,
  standing: 49.5,
  trust: 43,
  doubt: 0.2,
  position: 25,
  popularity: 4_210,
  ofSites: 80,
  bands: [20, 5, 6, 7, 0].map(sites => ({ sites, trust: sites ? 40 : null })),
  subjects: [
    { words: ['kiln', 'wheel'], share: 0.7 },
    { words: ['class', 'course'], share: 0.25 },
  ],
  makeup: {
    counts: [
      { key: 'follow', links: 514, sites: 30 },
      { key: 'nofollow', links: 201, sites: 20 },
    ],
    shape: [{ key: 'text', links: 715, sites: 38 }],
    lands: [],
    state: [],
    scheme: [],
    region: [],
    around: [{ key: 'few links', links: 715, sites: 38 }],
    language: [
      { key: 'en', links: 700, sites: 36 },
      { key: 'en:de', links: 15, sites: 2 },
    ],
  },
  anchors: [{ key: 'brand', links: 715, sites: 38 }],
  weeks: Array.from({ length: 104 }, (_, i) => ({
    week: new Date(Date.UTC(2024, 11, 2) + i * 7 * 86_400_000).toISOString().slice(0, 10),
    gained: i === 100 ? 12 : 0,
    lost: 0,
  })),
  undated: 0,
  bursts: [],
  ...more,
})
const linker = (id: number, domain: string, more: Partial<LinkingSite> = {}): LinkingSite => ({
  id,
  domain,
  kind: 'magazine',
  standing: 60 - id,
  trust: 50,
  doubt: 0.1,
  links: 3,
  follow: 2,
  pages: 3,
  lands: `https://${own}/guides/glaze`,
  anchor: 'glaze guide',
  topic: null,
  language: 'en',
  firstSeen: '2025-03-09',
  lastSeen: null,
  registeredOn: null,
  addresses: [],
  country: null,
  siteWide: false,
  network: null,
  networkReasons: null,
  toRivals: 1,
  contact: null,
  prospect: false,
  disavowed: false,
  cleared: false,
  ...more,
})
const made = {
  network: 4,
  networkReasons: ['9 sites share an address block', '96 % of their links are mutual'],
  doubt: 0.95,
}
const linkers = [
  linker(1, 'studioalmanac.example'),
  linker(2, 'mudnotes.example', { siteWide: true, contact: 'hello@mudnotes.example' }),
  linker(3, 'glaze-deals-77.example', made),
  linker(4, 'pot-deals-365.example', made),
  linker(5, 'quietclay.example', { doubt: 0.9 }),
]
/** The linkers that meet conditions, as the server gives them. */
function linkersThat(where: readonly string[]) {
  const { columns } = linkingSiteBatch(linkers)
  const tests = where.map(text => {
    const condition = readCondition(text)!
    return rowTest(condition, row => columns[condition.column]![row] as Cell)
  })
  const rows = linkers.filter((_, row) => tests.every(test => test(row)))
  return { rows, total: linkers.length, met: rows.length }
}
const link = (id: number, more: Partial<TargetLink> = {}): TargetLink => ({
  id,
  domain: 'studioalmanac.example',
  source: `https://studioalmanac.example/shelf-${id}`,
  title: 'Twelve glazes we keep',
  lands: `https://${own}/guides/glaze`,
  anchor: 'glaze guide',
  kind: 'text',
  rel: 'follow',
  around: 'we test each batch against the glaze guide before firing',
  region: 'content',
  linkedAround: 0.04,
  language: 'en',
  linksOut: 9,
  shares: null,
  standing: 77,
  pull: 3.1,
  firstSeen: '2025-03-09',
  lastSeen: null,
  goneOn: null,
  verifiedOn: '2026-11-27',
  sources: 2,
  ofSite: 6,
  contact: null,
  ...more,
})
const prospect = (id: number, domain: string, more: Partial<Prospect> = {}): Prospect => ({
  id,
  domain,
  page: null,
  contact: null,
  target: null,
  anchor: '',
  state: 'toAsk',
  remarks: '',
  owner: '',
  nextDay: null,
  addedOn: '2026-11-20',
  standing: 54,
  linksToOwn: false,
  verifiedOn: null,
  version: 1,
  ...more,
})

const show = (see: string, more: Parameters<typeof showScreen>[1] = []) =>
  showScreen(
    <LinksScreen />,
    [
      ...more,
      answer(listJobs, () => []),
      answer(readLinkFigures, ({ body }) => ({
        figures: (body.targets as string[]).map(target => figures(target)),
        madeAt: '2026-11-28T03:00:00Z',
      })),
      answer(listLinkingSites, ({ url }) => linkersThat(new URLSearchParams(url.split('?')[1]).getAll('where'))),
      answer(listLinkSources, () => [
        { name: 'crawl', label: 'our crawl' },
        { name: 'file', label: 'files' },
        { name: 'Lantern links', label: 'Lantern links' },
      ]),
      answer(readLinkKinds, () => ({
        kinds: [
          { key: 'magazine', links: 600, sites: 30 },
          { key: 'shop', links: 115, sites: 8 },
        ],
        looked: 38,
        sites: 38,
      })),
      answer(listTargetLinks, () => ({ rows: [link(1)], total: 6, met: 6 })),
      answer(listDisavowed, () => [{ domain: 'old-spam.example', since: '2026-10-01' }]),
      answer(addProspects, ({ body }) => ({ added: (body.sites as []).length, known: [], actId: 3 })),
      answer(listFindLists, () => []),
      answer(putOnFindList, () => ({ findListId: 4, added: 1, actId: 4 })),
      answer(setCleared, ({ body }) => ({ changed: (body.domains as []).length, actId: 4 })),
      answer(listPages, () => [
        madePage({ id: 1, title: 'Wheels', address: '/shop/wheels', visits: 80 }),
        madePage({ id: 2, title: 'Idea without address', address: null, visits: 900 }),
      ]),
      answer(setDisavowed, ({ body }) => ({ changed: (body.domains as []).length, actId: 4 })),
    ],
    `/1/links?with=${rival}${see}`,
    { refresh: () => undefined },
  )

describe('the profile', () => {
  test('says how strong the links are, what they are made of, and stands beside the compared site', async () => {
    const burst = {
      week: '2026-11-02',
      sites: 12,
      usual: 1,
      page: `https://${own}/chart`,
      pageSites: 10,
      from: ['a.example'],
    }
    const { user } = show('', [
      answer(readLinkFigures, () => ({
        figures: [figures(own, { bursts: [burst] }), figures(rival, { linkingSites: 64, standing: 66 })],
        madeAt: '2026-11-28T03:00:00Z',
      })),
    ])
    const sums = await screen.findByRole('region', { name: 'Sums' })
    expect(sums.textContent).toContain(
      '38 linking sites715 links from 613 pages29 addresses, 25 subnets50 standing, place 25 of 80',
    )
    expect(screen.getByText(/sites linked anew in the week of/).closest('li')!.textContent).toContain(
      '10 of these sites to /chart (a.example)',
    )
    const makeup = screen.getByRole('region', { name: 'What the links are made of' })
    expect(within(makeup).getByText('follow 72%').parentElement!.title).toBe(
      'follow: 514, 72%; usual among the compared sites 72%',
    )
    await user.click(within(makeup).getByRole('button', { name: 'by site' }))
    expect(within(makeup).getByText('follow 60%')).toBeTruthy()
    const beside = screen.getByRole('region', { name: 'Side by side' })
    const row = within(beside).getByRole('rowheader', { name: 'Linking sites' }).closest('tr')!
    expect([...row.querySelectorAll('td')].map(cell => cell.innerHTML)).toEqual(['38', '<b>64</b>'])
  })
  test('of a site of which no link is known says so and how links come; it is not zero', async () => {
    const { user, bodies } = show('', [
      answer(readLinkFigures, () => ({ figures: [figures(own, { known: false, links: 0 })], madeAt: null })),
      answer(loadFeeds, () => ({ jobId: 1, domains: 1 })),
    ])
    expect(await screen.findByText(/That is not zero/)).toBeTruthy()
    await user.click(screen.getByRole('button', { name: /Load what the link feeds know/ }))
    await waitFor(() => expect(bodies(loadFeeds)).toEqual([{ domains: [own] }]))
  })
})

describe('linking sites', () => {
  test('unfold to their links with the words around, and say what is unusual', async () => {
    const { user } = show('&see=sites')
    await screen.findByTitle('mudnotes.example')
    expect(sheetRows()[1]!.textContent).toContain('on every page')
    expect(sheetRows()[2]!.textContent).toContain('9 sites share an address block')
    await user.click(screen.getByTitle('studioalmanac.example'))
    expect((await screen.findByText('glaze guide', { selector: '.link-words' })).parentElement!.textContent).toBe(
      '… we test each batch against the glaze guide before firing …',
    )
    expect(screen.getByRole('link', { name: 'All 6 links' }).getAttribute('href')).toContain(
      'from=studioalmanac.example',
    )
  })
  test('become prospects by a key, one or the selected ones; who was one already is told', async () => {
    const { user, bodies } = show('&see=sites', [
      answer(addProspects, ({ body }) => ({
        added: (body.sites as []).length - 1,
        known: ['mudnotes.example'],
        actId: 3,
      })),
    ])
    await user.click(await screen.findByTitle('mudnotes.example'))
    await user.keyboard('p')
    await waitFor(() => expect(bodies(addProspects)).toEqual([{ sites: [{ domain: 'mudnotes.example' }] }]))
    expect(await screen.findByText(/mudnotes.example was one already/)).toBeTruthy()
  })
})

test('links have their site named where they are of one alone, and all of it again', async () => {
  const { user } = show('&see=links&from=studioalmanac.example')
  expect(await screen.findByTitle('https://studioalmanac.example/shelf-1')).toBeTruthy()
  await waitFor(() => expect(footText()).toContain('of 6 in all, the 1 strongest are listed'))
  await user.click(screen.getByRole('button', { name: 'Links of all sites' }))
  await waitFor(() => expect(screen.queryByRole('button', { name: 'Links of all sites' })).toBeNull())
})

test('anchors say what they say; keywords are gathered from one', async () => {
  const { user, bodies } = show('&see=anchors', [
    answer(listTargetAnchors, () => ({
      rows: [
        {
          id: 1,
          text: 'Clay wheels',
          kind: 'exact',
          links: 30,
          follow: 30,
          sites: 30,
          sitesShare: 0.9,
          lands: `https://${own}/`,
          odd: '91 % of the linking sites use these',
        },
        {
          id: 2,
          text: '',
          kind: 'image',
          links: 2,
          follow: 2,
          sites: 2,
          sitesShare: 0.06,
          lands: `https://${own}/`,
          odd: null,
        },
      ],
      total: 2,
      met: 2,
      sites: 33,
    })),
    answer(startGathering, () => ({ jobs: [] })),
  ])
  await user.click(await screen.findByTitle('Clay wheels'))
  expect(sheetRows()[0]!.textContent).toContain('a keyword')
  expect(sheetRows()[0]!.textContent).toContain('91 % of the linking sites')
  await user.keyboard('g')
  await waitFor(() => expect(bodies(startGathering)[0]).toMatchObject({ seeds: ['clay wheels'] }))
})

test('pages that are gone yet linked say what to do', async () => {
  show('&see=pages', [
    answer(listLinkedPages, () => ({
      rows: [
        {
          id: 1,
          url: `https://${own}/old`,
          links: 9,
          follow: 9,
          sites: 7,
          standing: 20,
          topAnchor: 'old',
          status: 404,
          redirectTo: null,
          readOn: '2026-11-20',
          firstSeen: null,
          shares: 12,
          next: 'gone: redirect it to the page that answers it now',
        },
      ],
      total: 1,
      met: 1,
    })),
  ])
  await screen.findByTitle(`https://${own}/old`)
  expect(sheetRows()[0]!.textContent).toContain('gone: redirect it')
})

describe('who links to several', () => {
  const shared = (domain: string, to: string[], linksToOwn = false) => ({
    domain,
    to,
    hub: 50,
    standing: null,
    doubt: null,
    linksToOwn,
  })
  const answers = [
    answer(listSharedLinkers, () => ({
      unknown: [],
      count: 3,
      linkers: [
        shared('all.example', [rival, 'glazehouse.example', 'third.example']),
        shared('two.example', [rival, 'third.example']),
        shared('ours.example', [rival, 'third.example'], true),
      ],
    })),
  ]
  test('leaves out who links to the own site, asks for more of them, and all become prospects', async () => {
    const { user, bodies, saved } = show(`,glazehouse.example,third.example&see=several`, answers)
    expect(await screen.findByText('all.example')).toBeTruthy()
    expect(screen.queryByText('ours.example')).toBeNull()
    await user.click(screen.getByRole('button', { name: 'Add all 2 to the prospects' }))
    await waitFor(() =>
      expect(bodies(addProspects)).toEqual([{ sites: [{ domain: 'all.example' }, { domain: 'two.example' }] }]),
    )
    await user.click(screen.getByRole('button', { name: 'and not to you' }))
    expect(await screen.findByText('ours.example')).toBeTruthy()
    await user.click(screen.getByRole('button', { name: 'Save as CSV' }))
    await waitFor(() => expect(saved).toHaveLength(1))
    expect((await linesOf(saved[0]!))[3]).toBe('ours.example,50,,,"claycorner.example, third.example",yes')
  })
  test('needs two sites', async () => {
    show('&see=several', answers)
    expect(await screen.findByText('Name two sites or more')).toBeTruthy()
  })
})

describe('suspicious links', () => {
  test('stand by network with the reasons; a network is disavowed at once', async () => {
    const { user, bodies } = show('&see=suspicious')
    const network = await screen.findByRole('region', { name: 'Network 4' })
    expect(network.textContent).toContain('9 sites share an address block; 96 % of their links are mutual')
    expect(screen.getByRole('region', { name: 'Doubtful sites' }).textContent).toContain('quietclay.example')
    await user.click(within(network).getByRole('button', { name: 'Disavow them all' }))
    const domains = ['glaze-deals-77.example', 'pot-deals-365.example']
    await waitFor(() => expect(bodies(setDisavowed)).toEqual([{ domains, on: true }]))
    await user.click(within(network).getByRole('button', { name: 'This is no network' }))
    await waitFor(() => expect(bodies(setCleared)).toEqual([{ domains, on: true }]))
  })
  test('the disavow file goes out and comes in; what cannot be read is told', async () => {
    const { user, bodies, saved } = show('&see=suspicious')
    await user.click(await screen.findByRole('button', { name: 'Save the disavow file' }))
    expect(await linesOf(saved[0]!)).toEqual(['domain:old-spam.example'])
    await user.click(screen.getByRole('button', { name: 'Take one in' }))
    await user.type(await screen.findByLabelText('Lines of the file'), 'domain:a.example\n???\n')
    expect(screen.getByText(/1 line cannot be read, the first is line 2/)).toBeTruthy()
    await user.click(screen.getByRole('button', { name: 'Disavow 1 site' }))
    await waitFor(() => expect(bodies(setDisavowed)).toEqual([{ domains: ['a.example'], on: true }]))
  })
})

describe('prospects', () => {
  const answers = () => [
    answer(listProspects, () => [
      prospect(1, 'classfinder.example', { state: 'asked', nextDay: '2020-01-01', remarks: 'Wrote to them' }),
      prospect(2, 'tarrowdaily.example', { state: 'placed' }),
    ]),
    answer(changeProspect, ({ body }) => ({ version: Number(body.version) + 1, actId: 5 })),
    answer(removeProspects, () => ({ changed: 1, actId: 6 })),
  ]
  test('say what is due and what was never seen; fields are saved as they are left', async () => {
    const { user, bodies } = show('&see=prospects', answers())
    await user.click(await screen.findByTitle('classfinder.example'))
    await waitFor(() => expect(footText()).toContain('1 due'))
    expect(footText()).toContain('1 called placed, yet our graph has not seen the link')
    await user.type(await screen.findByLabelText('Contact'), 'a@classfinder.example')
    await user.tab()
    await waitFor(() => expect(bodies(changeProspect)).toEqual([{ version: 1, contact: 'a@classfinder.example' }]))
  })
  test('fields that are left one after another are each saved on the version that the one before made', async () => {
    const { user, bodies } = show('&see=prospects', answers())
    await user.click(await screen.findByTitle('classfinder.example'))
    await user.type(await screen.findByLabelText('Wished words'), 'clay')
    await user.tab()
    await user.type(screen.getByLabelText('Remarks'), '!')
    await user.tab()
    await waitFor(() =>
      expect(bodies(changeProspect)).toEqual([
        { version: 1, anchor: 'clay' },
        { version: 2, remarks: 'Wrote to them!' },
      ]),
    )
  })
  test('get a page and words proposed from the plan, taken in one press', async () => {
    const { user, bodies } = show('&see=prospects', answers())
    await user.click(await screen.findByTitle('classfinder.example'))
    await screen.findByText(/Proposed from the plan: Wheels/)
    await user.click(screen.getByRole('button', { name: 'Take it' }))
    await waitFor(() =>
      expect(bodies(changeProspect)).toEqual([
        { version: 1, target: 'https://kilnandtide.example/shop/wheels', anchor: '' },
      ]),
    )
  })
  test('stand on a board by state, and are moved by choosing another', async () => {
    const { user, bodies } = show('&see=prospects&as=board', answers())
    const requests = await screen.findByRole('region', { name: 'asked' })
    expect(within(requests).getByText('Wrote to them')).toBeTruthy()
    await user.click(within(requests).getByRole('combobox'))
    await user.click(await screen.findByRole('option', { name: 'promised' }))
    await waitFor(() => expect(bodies(changeProspect)).toEqual([{ version: 1, state: 'promised' }]))
  })
})

test('the ranking marks the own site and says where the compared ones stand', async () => {
  const ranked = (id: number, domain: string) => ({
    id,
    position: id,
    popularity: null,
    domain,
    ending: 'example',
    topic: null,
    standing: 80 - id,
    trust: null,
    doubt: null,
    linkingSites: 9,
    linksToSites: 3,
  })
  show('&see=ranking', [
    answer(listSiteRanking, () => ({
      rows: [ranked(3, rival), ranked(25, own)],
      met: 2,
      total: 80,
      madeAt: '2026-11-28T03:00:00Z',
    })),
  ])
  expect(await screen.findByText(`Of 80 sites, as of Nov 28, 2026: ${own} 25, ${rival} 3`)).toBeTruthy()
  await waitFor(() => expect(sheetRows()).toHaveLength(2))
  expect(sheetRows()[1]!.querySelector('.own')!.textContent).toBe(own)
})

describe('lists', () => {
  test('linking sites are put on one by L, an old one or a new one', async () => {
    const { user, bodies } = show('&see=sites')
    await waitFor(() => expect(sheetRows().length).toBeGreaterThan(0))
    sheetRows()[0]!.focus()
    await user.keyboard('l')
    await user.type(await screen.findByLabelText('List'), 'Good ones{Enter}')
    await waitFor(() => expect(bodies(putOnFindList)).toHaveLength(1))
    expect(bodies(putOnFindList)[0]).toMatchObject({ kind: 'sites', name: 'Good ones' })
  })
  test('hold what was put on them, and their sites are compared', async () => {
    const { user } = show('&see=lists', [
      answer(listFindLists, () => [{ id: 4, kind: 'sites' as const, name: 'Good ones', items: 2 }]),
      answer(readFinds, () =>
        ['clay.example', 'kiln.example'].map((domain, i) => ({
          id: i + 1,
          what: domain,
          target: null,
          domain,
          standing: i ? null : 61.2,
          linkingSites: i ? null : 12,
          linksToOwn: i === 0,
          remark: i ? '' : 'Friendly',
          addedOn: '2026-11-20',
        })),
      ),
    ])
    await screen.findByText('Friendly')
    expect(sheetRows().map(row => row.textContent)).toEqual([
      'clay.example6112links to youFriendlyNov 20, 2026',
      'kiln.exampleunknownunknownNov 20, 2026',
    ])
    await user.click(screen.getByRole('button', { name: 'Who links to several of them' }))
    await waitFor(() =>
      expect(document.querySelector('.rivals-bar')!.textContent).toMatch(/clay.example.*kiln.example/),
    )
  })
})

describe('which links count', () => {
  test('which feeds are asked and how many linking pages are read is chosen, with what it costs', async () => {
    const { user, bodies } = show('', [
      answer(readLinkFigures, () => ({ figures: [figures(own), figures(rival)], madeAt: null })),
      answer(listFeeds, () => ['north', 'south']),
      answer(loadFeeds, () => ({ jobId: 4, domains: 2 })),
    ])
    await user.click(await screen.findByRole('button', { name: 'Load links' }))
    expect(await screen.findByText(/^At least 4 requests to the link feeds/)).toBeTruthy()
    await user.click(screen.getByRole('checkbox', { name: 'Ask the link feed “north”' }))
    await user.click(screen.getByRole('combobox', { name: 'Then read with our crawler' }))
    await user.click(await screen.findByRole('option', { name: 'the 50 best linking pages of each site' }))
    expect(screen.getByText(/^At least 2 requests.*At most 100 pages read/)).toBeTruthy()
    await user.click(screen.getByRole('button', { name: 'Load' }))
    await screen.findByText(/^Loading links to 2 sites/)
    expect(bodies(loadFeeds)).toEqual([{ domains: [own, rival], readPages: 50, feeds: ['south'] }])
  })
  test('a linking page is read now by its key', async () => {
    const { user, bodies } = show('&see=links', [
      answer(listTargetLinks, () => ({ rows: [link(1, { source: 'https://a.example/page' })], total: 1, met: 1 })),
      answer(verifyLinks, () => ({ jobId: 5, requests: 1 })),
    ])
    await waitFor(() => expect(sheetRows()).toHaveLength(1))
    sheetRows()[0]!.focus()
    await user.keyboard('v')
    await screen.findByText(/^Reading 1 linking page;/)
    expect(bodies(verifyLinks)).toEqual([{ pages: ['https://a.example/page'] }])
  })
  test('how far back "lost" looks, and of which sources, stand in the address and are asked for', async () => {
    const { user, requests } = show('&see=sites')
    await screen.findByTitle('studioalmanac.example')
    await user.click(screen.getByRole('combobox', { name: 'Which links count' }))
    await user.click(await screen.findByRole('option', { name: 'lost within 30 days' }))
    await user.click(screen.getByRole('combobox', { name: 'Links that these sources know of' }))
    await user.click(await screen.findByRole('option', { name: 'files' }))
    await user.keyboard('{Escape}')
    await waitFor(() => {
      const asked = new URLSearchParams(requests.findLast(each => each.spec === listLinkingSites)!.url.split('?')[1])
      expect([asked.get('age'), asked.get('days'), asked.getAll('sources')]).toEqual(['lost', '30', ['file']])
    })
  })
  test('a number looks at the links of another of the compared sites', async () => {
    const { user, requests } = show(`&see=sites&with=${rival}`)
    await screen.findByTitle('studioalmanac.example')
    await user.keyboard('2')
    const latest = () =>
      new URLSearchParams(requests.findLast(each => each.spec === listLinkingSites)!.url.split('?')[1]).get('target')
    await waitFor(() => expect(latest()).toBe(rival))
    await user.keyboard('1')
    // What was asked for a moment ago is shown again, and not asked for twice.
    await waitFor(() => expect(screen.getByLabelText('Of which site')).toHaveProperty('textContent', `${own} (you)`))
  })
  test('links by site are asked for as such and unfold to all of a site', async () => {
    const { user, requests } = show('&see=links')
    await user.click(await screen.findByRole('button', { name: 'By site' }))
    await waitFor(() => expect(requests.at(-1)!.url).toContain('bySite=true'))
    await user.click(await screen.findByTitle('glaze guide'))
    expect(await screen.findByText('All 6 links')).toBeTruthy()
  })
})

describe('profile', () => {
  test('kinds of linking sites lead to the list of such sites', async () => {
    const { user } = show('')
    await user.click(await screen.findByRole('button', { name: 'shop' }))
    expect(await screen.findByText('No site meets all conditions')).toBeTruthy()
  })
  test('growth by month adds the weeks of each, words in another language are named', async () => {
    const { user } = show('')
    expect((await screen.findAllByTitle(/^German words on English: 15,/)).length).toBe(1)
    await user.click(await screen.findByRole('button', { name: 'by month' }))
    const picture = await screen.findByRole('img', { name: /Linking sites by month/ })
    // The week of 2026-11-02, in which 12 came.
    expect(picture.textContent).toMatch(/Month of Nov 1, 2026: 12 came, 0 went/)
  })
})
