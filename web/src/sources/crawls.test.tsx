// @vitest-environment jsdom
import { type Crawl, listCrawls, listCrawlTroubles, startCrawl } from '@dew-trail/contract/crawl'
import { actOnJob, type Job, listJobs } from '@dew-trail/contract/jobs'
import { suggestCrawls } from '@dew-trail/contract/sources'
import { screen, within } from '@testing-library/react'
import { describe, expect, test } from 'vitest'
import { JobLine } from '../shell/JobLine.tsx'
import { answer, showScreen } from '../show-screen.tsx'
import { CrawlSection } from './CrawlSection.tsx'

const host = (name: string, more = {}) => ({ host: name, waiting: 0, fetched: 20, failed: 0, refused: 0, ...more })
const crawl = (more: Partial<Crawl> = {}): Crawl => ({
  id: 1,
  domain: 'clayharbour.example',
  own: false,
  mostPages: 500,
  jobId: null,
  state: 'done',
  startedAt: '2026-11-28T08:00:00Z',
  endedAt: null,
  hosts: [host('clayharbour.example')],
  ...more,
})
const job = (more: Partial<Job> = {}): Job => ({
  id: 5,
  siteId: 1,
  kind: 'crawl',
  state: 'running',
  title: 'Crawling clayharbour.example',
  done: 40,
  total: 120,
  secondsLeft: 90,
  trouble: [],
  error: null,
  createdAt: '2026-11-28T08:00:00Z',
  endedAt: null,
  result: null,
  ...more,
})
const show = (crawls: Crawl[], jobs: Job[] = []) =>
  showScreen(<CrawlSection />, [
    answer(listCrawls, () => crawls),
    answer(suggestCrawls, () => [
      { domain: 'kilnandtide.example', own: true, resultPages: 40, pagesFetched: 215 },
      { domain: 'glazeworks.example', own: false, resultPages: 31, pagesFetched: 0 },
    ]),
    answer(listJobs, () => jobs),
    answer(listCrawlTroubles, () => ({
      total: 61,
      pages: [
        { url: 'https://clayharbour.example/gone', state: 'failed' as const, trouble: 'it answered with status 500' },
      ],
    })),
    answer(startCrawl, () => ({ crawls: [{ crawlId: 2, jobId: 6, domain: 'glazeworks.example' }] })),
    answer(actOnJob, () => job()),
  ])
const button = (name: string) => screen.findByRole('button', { name })

describe('crawls', () => {
  test('are started for sites that were chosen or typed, with a limit that is a number', async () => {
    const { user, asked } = show([])
    expect(await screen.findByText(/No site was crawled yet/)).toBeTruthy()
    const start = await button('Crawl')
    expect(start).toHaveProperty('disabled', true)
    await user.click(await button('glazeworks.examplenew'))
    await user.type(screen.getByLabelText('Sites to crawl'), ', handsandhearth.example')
    const most = screen.getByLabelText('Most pages of each site')
    await user.clear(most)
    await user.type(most, 'many')
    expect(start).toHaveProperty('disabled', true)
    await user.clear(most)
    await user.type(most, '80')
    await user.click(start)
    await screen.findByText('Crawling glazeworks.example')
    expect(asked.find(({ spec }) => spec === startCrawl)!.body).toMatchObject({
      domains: ['glazeworks.example', 'handsandhearth.example'],
      mostPages: 80,
    })
    expect(screen.getByLabelText('Sites to crawl')).toHaveProperty('value', '')
  })
  test('a site that was chosen is taken back by choosing it again', async () => {
    const { user } = show([])
    await user.click(await button('glazeworks.examplenew'))
    await user.click(await button('glazeworks.examplenew'))
    expect(screen.getByLabelText('Sites to crawl')).toHaveProperty('value', '')
  })
  test('say what became of all addresses, and that a limit ended them', async () => {
    show([crawl({ hosts: [host('clayharbour.example', { waiting: 70, failed: 3, refused: 2 })] })])
    await screen.findByText(/limit reached/)
    expect(
      screen.getByRole('img', { name: '20 read, 2 not allowed, 3 failed, 70 waiting, limit of 500 reached' }),
    ).toBeTruthy()
  })
  test('are unfolded by host, with the pages that brought nothing and why', async () => {
    const { user } = show([
      crawl({ hosts: [host('clayharbour.example'), host('blog.clayharbour.example', { failed: 61 })] }),
    ])
    expect(await screen.findByText('2 hosts')).toBeTruthy()
    await user.click(await button('By host'))
    expect(await screen.findByText('it answered with status 500')).toBeTruthy()
    expect(screen.getByText('blog.clayharbour.example')).toBeTruthy()
    expect(screen.getByText('and 11 more')).toBeTruthy()
    await user.click(await button('Fold'))
    expect(screen.queryByText('it answered with status 500')).toBeNull()
  })
  test('under way can be stopped where they stand', async () => {
    const { user, asked } = show([crawl({ state: 'running', jobId: 5 })], [job()])
    await user.click(await button('Pause'))
    await user.click(await button('Cancel'))
    const acts = asked.filter(({ spec }) => spec === actOnJob)
    expect(acts.map(({ url, body }) => [url, body.action])).toEqual([
      ['/api/jobs/5/action', 'pause'],
      ['/api/jobs/5/action', 'cancel'],
    ])
  })
})

describe('work at the foot', () => {
  const line = (jobs: Job[]) => showScreen(<JobLine />, [answer(listJobs, () => jobs), answer(actOnJob, () => job())])
  test('what runs is shown before what waits, with the time left', async () => {
    line([job({ id: 6, state: 'waiting', title: 'Weighing 40 keywords' }), job()])
    expect(await screen.findByText('Crawling clayharbour.example')).toBeTruthy()
    expect(screen.getByText('40 of 120').parentElement!.textContent).toContain('left')
    const bar = screen.getByRole('progressbar')
    expect([bar.getAttribute('aria-valuenow'), bar.getAttribute('aria-valuemax')]).toEqual(['40', '120'])
    expect(await button('Work, 1 more')).toBeTruthy()
  })
  test('what failed last is said and can be tried again; what failed before something else ended well is not', async () => {
    const failed = job({ state: 'failed', endedAt: '2026-11-28T09:00:00Z', error: 'The source said no' })
    const { user, asked } = line([failed])
    expect(await screen.findByText('failed')).toBeTruthy()
    await user.click(await button('Try again'))
    expect(asked.at(-1)!.body).toEqual({ action: 'retry' })
    await user.click(await button('Work'))
    expect(await screen.findByText('The source said no')).toBeTruthy()
  })
  test('nothing is shown of work that ended well, but in the list', async () => {
    const { user } = line([job({ state: 'done', endedAt: '2026-11-28T09:00:00Z' })])
    await user.click(await button('Work'))
    const list = screen.getByText('Work in the background').parentElement!
    expect(within(list).getByText('40 of 120, done')).toBeTruthy()
    expect(within(list).queryByRole('button')).toBeNull()
  })
  test('lines that were not imported can be had as a list, and an import cannot be paused', async () => {
    const { user } = line([
      job({ id: 8, kind: 'importLinks', title: 'Importing links.csv' }),
      job({ kind: 'importLinks', state: 'done', endedAt: '2026-11-28T09:00:00Z', result: { importId: 3, wrong: 12 } }),
    ])
    expect(await screen.findByText('Importing links.csv')).toBeTruthy()
    expect(screen.queryByRole('button', { name: 'Pause' })).toBeNull()
    expect(screen.getByText('33%')).toBeTruthy()
    await user.click(await button('Work'))
    expect(await screen.findByText('12 lines not imported: list')).toHaveProperty(
      'href',
      expect.stringContaining('/imports/3/'),
    )
  })
})
