// @vitest-environment jsdom
import type { Beside, FirstPage } from '@dew-trail/contract/weigh'
import { putPageBeside } from '@dew-trail/contract/weigh'
import { keepKeywords } from '@dew-trail/contract/gather'
import { screen, within } from '@testing-library/react'
import { describe, expect, test } from 'vitest'
import { answer, showScreen } from '../../../test/show-screen.tsx'
import { BesidePanel } from './BesidePanel.tsx'

const page = (own: string | null): FirstPage =>
  ({ keywordId: 7, results: [], ownPage: own ? { url: own, position: 14 } : null }) as unknown as FirstPage
const found = (more: Partial<Beside> = {}): Beside => ({
  address: 'https://kilnandtide.example/kilns',
  title: 'Kilns',
  words: 1_200,
  fields: [
    { field: 'title', match: 'some', text: 'Kilns' },
    { field: 'description', match: 'none', text: null },
  ],
  fit: 60,
  coverage: 50,
  similarity: 40,
  sharedPhrase: 0,
  siteLevel: 61,
  linkingSites: null,
  assumedLinks: false,
  level: 48.6,
  position: 12.4,
  ranksAt: 19,
  chances: null,
  likelyFrom: 9,
  likelyTo: null,
  lacks: [
    { what: 'title', now: 'some', want: 'phrase', positions: 2.9 },
    { what: 'sharedPhrase', now: 'no', want: 'kiln price', positions: 0.4 },
    { what: 'headings', now: 'none', want: 'phrase', positions: null },
  ],
  terms: [
    { term: 'cone chart', pages: 8, mine: false },
    { term: 'electric', pages: 5, mine: true },
  ],
  results: 19,
  questions: [{ question: 'is a kiln dangerous', mine: false }],
  headSearches: null,
  longer: [
    {
      keywordId: 11,
      phrase: 'kiln for beginners',
      cover: 'no',
      searches: 300,
      cpc: 1.2,
      difficulty: null,
      kept: false,
      value: 3,
    },
    {
      keywordId: 12,
      phrase: 'kiln shelf',
      cover: 'no',
      searches: null,
      cpc: null,
      difficulty: 40,
      kept: true,
      value: null,
    },
    {
      keywordId: 13,
      phrase: 'small kiln',
      cover: 'phrase',
      searches: 90,
      cpc: null,
      difficulty: 20,
      kept: false,
      value: 1,
    },
  ],
  unknown: ['Link feeds: no answer within 20 s'],
  ...more,
})
const judge = { name: 'Judge it' }

describe('a page put beside a result page', () => {
  test('the own ranking page is proposed; what it lacks comes with its gain, what is not known with a word', async () => {
    const { user, requests } = showScreen(<BesidePanel page={page('https://kilnandtide.example/kilns')} />, [
      answer(putPageBeside, () => found()),
    ])
    await user.click(screen.getByRole('button', judge))
    await screen.findByText('about 12')
    expect(requests[0]!.body).toMatchObject({ marketId: 1, url: 'https://kilnandtide.example/kilns' })
    const lacks = within(screen.getByText('What would help').nextElementSibling as HTMLElement)
      .getAllByRole('listitem')
      .map(item => item.textContent)
    expect(lacks[0]).toBe('The whole phrase in the title: about 3 places')
    expect(lacks[1]).toContain('“kiln price”')
    expect(lacks[1]).toContain('0.4 of a place')
    expect(lacks[2]).toContain('gain unknown')
    expect(screen.getByText('unknown how many sites link to it')).toBeTruthy()
    expect(screen.getByText('Link feeds: no answer within 20 s')).toBeTruthy()
    // It stands far below where strengths put it.
    expect(screen.getByText(/The engine sees less in it/)).toBeTruthy()
  })
  test('nothing can be asked before something is typed, and a draft is sent as a draft', async () => {
    const { user, requests } = showScreen(<BesidePanel page={page(null)} />, [
      answer(putPageBeside, () => found({ address: null, ranksAt: null })),
    ])
    expect(screen.getByRole('button', judge)).toHaveProperty('disabled', true)
    await user.click(screen.getByRole('button', { name: 'A draft' }))
    await user.type(screen.getByRole('textbox', { name: 'Draft' }), 'Kilns for home')
    await user.click(screen.getByRole('button', judge))
    await screen.findByText('about 12')
    expect(requests[0]!.body).toEqual({ marketId: 1, draft: 'Kilns for home' })
    expect(screen.queryByText(/It stands at/)).toBeNull()
  })
  test('an error is said in the server’s words; what was typed and found before stays', async () => {
    let tries = 0
    const { user } = showScreen(<BesidePanel page={page('https://kilnandtide.example/kilns')} />, [
      answer(putPageBeside, () => (tries++ ? new Error('https://gone.example/ answered with status 404') : found())),
    ])
    await user.click(screen.getByRole('button', judge))
    await screen.findByText('about 12')
    const address = screen.getByRole('textbox', { name: 'Address of the page' })
    await user.clear(address)
    await user.type(address, 'https://gone.example/')
    await user.click(screen.getByRole('button', judge))
    expect((await screen.findByRole('alert')).textContent).toBe('https://gone.example/ answered with status 404.')
    expect(address).toHaveProperty('value', 'https://gone.example/')
    expect(screen.getByText('about 12')).toBeTruthy()
  })
})

describe('longer keywords of a page', () => {
  const show = async () => {
    const shown = showScreen(<BesidePanel page={page('https://kilnandtide.example/kilns')} />, [
      answer(putPageBeside, () => found()),
      answer(keepKeywords, () => ({ changed: [1], actId: 3 })),
    ])
    await shown.user.click(screen.getByRole('button', judge))
    await screen.findByText('about 12')
    return shown
  }
  test('are summed against the head, unknown searches apart', async () => {
    await show()
    const text = screen.getByText(/Of 3 longer keywords/).textContent
    expect(text).toContain('says 1 whole, has the words of 0 and lacks 2')
    expect(text).toContain('searched 300 times a month, 1 unknown; the keyword itself unknown times')
  })
  test('those that are not covered are marked, and marks can be changed', async () => {
    const { user } = await show()
    const marks = () => screen.getAllByRole('checkbox').map(box => (box as HTMLInputElement).checked)
    expect(marks()).toEqual([true, true, false])
    await user.click(screen.getByRole('checkbox', { name: 'Mark kiln shelf' }))
    await user.click(screen.getByRole('checkbox', { name: 'Mark small kiln' }))
    expect(marks()).toEqual([true, false, true])
    expect(screen.getByText('2 marked:')).toBeTruthy()
  })
  test('those marked that are not kept yet are kept, once', async () => {
    const { user, requests } = await show()
    await user.click(screen.getByRole('button', { name: 'Keep' }))
    const kept = requests.filter(({ spec }) => spec === keepKeywords)
    expect(kept.map(({ body }) => body)).toEqual([{ keywordIds: [11], kept: true }])
    expect(screen.getByRole('button', { name: 'Keep' })).toHaveProperty('disabled', true)
  })
})
