// @vitest-environment jsdom
import { actOnJob, type Job, listJobs } from '@dew-trail/contract/jobs'
import { type Engine, listEngines } from '@dew-trail/contract/sources'
import { createSite, getTrail } from '@dew-trail/contract/sites'
import { screen, waitFor, within } from '@testing-library/react'
import { Route, Routes, useLocation } from 'react-router'
import { describe, expect, test, vi } from 'vitest'
import { answer, showScreen } from '../../test/show-screen.tsx'
import { AddSite } from './AddSite.tsx'
import { JobLine } from '../ui/JobLine.tsx'
import { SiteBar } from './SiteBar.tsx'
import { Trail } from './Trail.tsx'
import { sampleJob } from '../../test/sample-job.ts'

const ended = (more: Partial<Job> = {}): Job => sampleJob({ state: 'done', endedAt: '2026-11-20T11:00:00Z', ...more })
const showJobs = (jobs: Job[]) =>
  showScreen(<JobLine />, [
    answer(listJobs, () => jobs),
    answer(actOnJob, ({ body }) => (body.action === 'retry' ? new Error('It is under way again already') : jobs[0]!)),
  ])
const text = (): string => document.body.textContent!

describe('work in the background', () => {
  test('tells how far it is and how long it takes, and can be paused and cancelled', async () => {
    const later = sampleJob({ id: 6, state: 'waiting', title: 'Crawling clayharbour.example' })
    const { user, requests, bodies } = showJobs([later, sampleJob(), ended({ id: 4 })])
    const bar = await screen.findByRole('progressbar', { name: 'Weighing 400 keywords' })
    expect([bar.getAttribute('aria-valuenow'), bar.getAttribute('aria-valuemax')]).toEqual(['100', '400'])
    expect(text()).toContain('100 of 400, 75 s left')
    await user.click(screen.getByRole('button', { name: 'Pause' }))
    await user.click(screen.getByRole('button', { name: 'Cancel' }))
    expect(bodies(actOnJob)).toEqual([{ action: 'pause' }, { action: 'cancel' }])
    expect(requests.at(-1)!.url).toContain('/jobs/5/')
  })
  test('that waits is shown when nothing runs, with how much more there is', async () => {
    showJobs([sampleJob({ state: 'paused', done: 7 }), sampleJob({ id: 6, state: 'waiting' })])
    expect(await screen.findByText('7 of 400')).toBeTruthy()
    expect(text()).toContain(', paused')
    expect(screen.getByRole('button', { name: 'Resume' })).toBeTruthy()
    expect(screen.getByRole('button', { name: 'Work, 1 more' })).toBeTruthy()
  })
  test('of an import is told in percent, and is not paused halfway', async () => {
    showJobs([sampleJob({ kind: 'importKeywords', title: 'Importing words.csv' })])
    expect(await screen.findByText('25%')).toBeTruthy()
    expect(screen.queryByRole('button', { name: 'Pause' })).toBeNull()
    expect(screen.getByRole('button', { name: 'Cancel' })).toBeTruthy()
  })
  test('that left gaps says so until something newer is there, and is tried again', async () => {
    const warnings = [{ what: 'Lantern answered with status 503', times: 3 }]
    const { user } = showJobs([ended({ warnings })])
    expect(await screen.findByText('done, with gaps')).toBeTruthy()
    await user.click(screen.getByRole('button', { name: 'Work' }))
    expect(await screen.findByText('Lantern answered with status 503 (3 times)')).toBeTruthy()
    await user.click(screen.getAllByRole('button', { name: 'Try again', hidden: true })[0]!)
    expect(await screen.findByText('It is under way again already')).toBeTruthy()
  })
  test('that failed says why; lines that were not imported are a link away', async () => {
    const { user } = showJobs([
      ended({ id: 9, kind: 'importKeywords', result: { wrong: 1_200, importId: 3 } }),
      ended({ id: 8, state: 'failed', error: 'The quota of the day is used up' }),
    ])
    await user.click(await screen.findByRole('button', { name: 'Work' }))
    expect(await screen.findByText('The quota of the day is used up')).toBeTruthy()
    const link = screen.getByRole('link', { name: '1,200 lines not imported: list' })
    expect(link.getAttribute('href')).toContain('/imports/3/')
  })
  test('that ended well is in the list only', async () => {
    const { user } = showJobs([ended({ done: 400 })])
    expect(await screen.findByRole('button', { name: 'Work' })).toBeTruthy()
    expect(text()).not.toContain('Weighing')
    await user.click(screen.getByRole('button', { name: 'Work' }))
    const list = screen.getByText('Work in the background').parentElement!
    expect(within(list).getByText('400 of 400, done')).toBeTruthy()
    expect(within(list).queryByRole('button')).toBeNull()
  })
  test('none at all leaves the foot empty', async () => {
    showJobs([])
    await waitFor(() => expect(screen.queryByRole('button')).toBeNull())
  })
})

describe('the trail', () => {
  test('counts the keywords of each station, names the one that is open and keeps the market', async () => {
    showScreen(<Trail />, [
      answer(getTrail, () => ({
        found: 3_628,
        kept: 176,
        weighed: 170,
        themes: 1,
        planned: 9,
        pages: 1,
        tracked: 140,
      })),
    ])
    const nav = screen.getByRole('navigation', { name: 'Trail' })
    expect(within(nav).getAllByText('…')).toHaveLength(5)
    expect(await screen.findByText('3,628 found')).toBeTruthy()
    const links = within(nav).getAllByRole('link')
    expect(links.slice(0, 5).map(link => link.textContent)).toEqual([
      'Gather3,628 found',
      'Weigh170 of 176 kept',
      'Group1 theme',
      'Plan1 page',
      'Track140 watched',
    ])
    expect(links.filter(link => link.getAttribute('aria-current') === 'page').map(link => link.textContent)).toEqual([
      'Weigh170 of 176 kept',
    ])
    expect(links[0]!.getAttribute('href')).toBe('/1/gather?market=1')
  })
})

function Where() {
  return <output>{useLocation().pathname}</output>
}

const engineOf = (name: string, places: Array<[string, string, string, string, string]>): Engine => ({
  engine: name.toLowerCase(),
  name,
  page: null,
  devices: ['desktop', 'mobile'],
  places: places.map(([place, placeName, country, language, languageName]) => ({
    place,
    name: placeName,
    country,
    languages: [{ language, name: languageName }],
  })),
})

describe('sites', () => {
  const add = () => {
    const onClose = vi.fn()
    const shown = showScreen(
      <>
        <AddSite onClose={onClose} />
        <Where />
      </>,
      [
        answer(listEngines, () => [
          engineOf('Lantern', [
            ['tarrow', 'Tarrow', 'Tarrow', 'en', 'English'],
            ['wexmere', 'Wexmere', 'Tarrow', 'en', 'English'],
            ['verlau', 'Verlau', 'Verlau', 'de', 'German'],
          ]),
          engineOf('Plover', [['verlau', 'Verlau', 'Verlau', 'de', 'German']]),
        ]),
        answer(createSite, ({ body }) =>
          body.domain === 'nothing'
            ? new Error('A domain looks like name.example')
            : {
                id: 7,
                domain: String(body.domain),
                name: String(body.name),
                linkingSites: null,
                linksAskedOn: null,
                levels: [],
                refreshWeighings: false,
                visitWorth: null,
                firstShare: null,
                averageMonths: 12 as const,
                markets: [],
              },
        ),
      ],
    )
    return { ...shown, onClose }
  }
  test('are added by their domain, which is the name as long as there is no other', async () => {
    const { user, bodies, onClose } = add()
    await user.type(screen.getByRole('textbox', { name: /Domain/ }), 'glazeworks.example')
    await screen.findByText('Searched on Lantern, desktop and mobile')
    await user.click(screen.getByRole('combobox', { name: 'Place and language' }))
    expect((await screen.findAllByRole('option')).map(each => each.textContent)).toEqual([
      'Tarrow, English',
      'Wexmere, Tarrow, English',
      'Verlau, German',
    ])
    await user.click(screen.getByRole('option', { name: 'Verlau, German' }))
    expect(screen.getByText('Searched on Lantern and Plover, desktop and mobile')).toBeTruthy()
    await user.click(screen.getByRole('button', { name: 'Add' }))
    await waitFor(() => expect(onClose).toHaveBeenCalledOnce())
    const name = 'glazeworks.example'
    const { timeZone } = Intl.DateTimeFormat().resolvedOptions()
    expect(bodies(createSite)).toEqual([{ domain: name, name, place: 'verlau', language: 'de', timeZone }])
    await waitFor(() => expect(screen.getByRole('status', { hidden: true }).textContent).toBe('/7/gather'))
  })
  test('what is no domain is said where it was typed, until it is changed', async () => {
    const { user, onClose } = add()
    const domain = screen.getByRole('textbox', { name: /Domain/ })
    await user.type(domain, 'nothing{Enter}')
    expect(await screen.findByText('A domain looks like name.example')).toBeTruthy()
    await user.type(domain, '.example')
    expect(screen.queryByText('A domain looks like name.example')).toBeNull()
    expect(onClose).not.toHaveBeenCalled()
  })
  test('are changed at the top, where the market is too', async () => {
    const { user } = showScreen(
      <>
        <SiteBar />
        <Routes>
          <Route path="*" element={<Where />} />
        </Routes>
      </>,
      [],
    )
    await user.click(screen.getByRole('button', { name: 'kilnandtide.example' }))
    await user.click(await screen.findByRole('menuitem', { name: 'Add a site' }))
    expect(await screen.findByRole('dialog', { name: 'Add a site' })).toBeTruthy()
    await user.click(screen.getByRole('button', { name: 'Close' }))
    await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull())
    await user.click(screen.getByRole('button', { name: /Lantern · Tarrow/ }))
    expect(await screen.findByRole('menuitem', { name: /Lantern · Tarrow · English · desktop/ })).toBeTruthy()
  })
})
