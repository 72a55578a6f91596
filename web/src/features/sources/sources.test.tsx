// @vitest-environment jsdom
import { listVetted, refuseSite, vetSite } from '@dew-trail/contract/links'
import { limitSource, listSources, type Source } from '@dew-trail/contract/sources'
import { screen, waitFor, within } from '@testing-library/react'
import { describe, expect, test } from 'vitest'
import { answer, showScreen } from '../../../test/show-screen.tsx'
import { SourceTable } from './SourceTable.tsx'
import { VettedSites } from './VettedSites.tsx'

const source = (more: Partial<Source> = {}): Source => ({
  key: 'engines',
  address: 'http://127.0.0.1:4650',
  keyFrom: 'configuration',
  perSecond: 50,
  atOnce: 8,
  mostADay: null,
  today: { requests: 1_200, failures: 0, limited: 0 },
  days: [
    { day: '2026-11-27', requests: 800, failures: 8 },
    { day: '2026-11-28', requests: 1_200, failures: 0 },
  ],
  lastFailure: null,
  newest: '2026-11-28T09:00:00Z',
  ...more,
})
const cells = (name: string): string[] =>
  within(screen.getByText(name).closest('tr')!)
    .getAllByRole('cell')
    .map(cell => cell.textContent ?? '')

describe('sources', () => {
  test('a line each, in words where there is no figure', async () => {
    showScreen(<SourceTable />, [
      answer(listSources, () => [
        source({
          lastFailure: { day: '2026-11-20', what: 'no answer within 20 s' },
          today: { requests: 3, failures: 1, limited: 2 },
        }),
        source({ key: 'feeds', keyFrom: 'missing', newest: null, days: [], perSecond: null }),
        source({ key: 'web', keyFrom: 'none', perSecond: 2 }),
      ]),
    ])
    await screen.findByText('Search engines')
    expect(cells('Search engines').slice(3)).toEqual([
      '3 · 2 waits',
      expect.stringContaining('2,000 requests, 8 failed'),
      '50',
      'no limit',
      'from the configuration',
      'Try',
      expect.stringContaining('no answer within 20 s'),
    ])
    expect(cells('Link feeds').slice(2)).toEqual([
      'none yet',
      '1,200',
      'nothing asked',
      'no limit',
      'no limit',
      'missing',
      'Try',
      'none',
    ])
    expect(cells('The web').slice(5)).toEqual(['2 a host', 'by crawl', 'needs none', 'by a crawl', 'none'])
  })
  test('the limit a day is changed in its place; empty takes it away, Escape leaves it', async () => {
    let mostADay: number | null = 500
    const { user, requests } = showScreen(<SourceTable />, [
      answer(listSources, () => [source({ mostADay })]),
      answer(limitSource, ({ body }) => {
        mostADay = body.mostADay as number | null
        return { mostADay }
      }),
    ])
    await user.click(await screen.findByRole('button', { name: '500' }))
    await user.keyboard('{Escape}')
    await user.click(await screen.findByRole('button', { name: '500' }))
    const field = screen.getByRole('spinbutton', { name: /Most requests a day of Search engines/ })
    await user.clear(field)
    await user.type(field, '2500{Enter}')
    await screen.findByRole('button', { name: '2,500' })
    await user.click(screen.getByRole('button', { name: '2,500' }))
    await user.clear(screen.getByRole('spinbutton'))
    await user.keyboard('{Enter}')
    await screen.findByRole('button', { name: 'no limit' })
    expect(requests.filter(({ spec }) => spec === limitSource).map(({ body }) => body.mostADay)).toEqual([2500, null])
  })
  test('an error of the server is said', async () => {
    showScreen(<SourceTable />, [answer(listSources, () => new Error('The site is gone'))])
    expect(await screen.findByText('The site is gone')).toBeTruthy()
  })
})

describe('vetted sites', () => {
  test('are added in lower letters and taken away, with a way back', async () => {
    let list = [
      {
        domain: 'tarrowcollege.example',
        kind: 'institution' as const,
        why: 'its name',
        linksTo: null as number | null,
      },
    ]
    const { user, requests, undone } = showScreen(<VettedSites />, [
      answer(listVetted, () => list),
      answer(vetSite, ({ url, body }) => {
        const domain = url.split('/').at(-1)!
        list = [...list, { domain, kind: body.kind as 'institution', why: '', linksTo: 3 }]
        return { domain, actId: 61 }
      }),
      answer(refuseSite, () => {
        list = list.slice(1)
        return { domain: 'tarrowcollege.example', actId: 62 }
      }),
    ])
    await screen.findByText('1 vetted site')
    expect(screen.getByText('unknown')).toBeTruthy()
    await user.type(screen.getByLabelText('Site to vouch for'), 'CraftLedger.example')
    await user.click(screen.getByText('Vouch for it'))
    await screen.findByText('2 vetted sites')
    await user.click(screen.getByLabelText('Vouch for tarrowcollege.example no longer'))
    await screen.findByText('1 vetted site')
    expect(requests.filter(({ spec }) => spec === vetSite).map(({ body }) => body)).toEqual([{ kind: 'directory' }])
    await user.click((await screen.findAllByText('Undo')).at(-1)!)
    await waitFor(() => expect(undone()).toEqual([62]))
  })
})
