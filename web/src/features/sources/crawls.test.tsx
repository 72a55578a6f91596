// @vitest-environment jsdom
import { type Crawl, listCrawls, listCrawlErrors, startCrawl } from '@dew-trail/contract/crawl'
import { actOnJob, type Job, listJobs } from '@dew-trail/contract/jobs'
import { suggestCrawls } from '@dew-trail/contract/sources'
import { screen } from '@testing-library/react'
import { describe, expect, test } from 'vitest'
import { answer, showScreen } from '../../../test/show-screen.tsx'
import { CrawlSection } from './CrawlSection.tsx'
import { sampleJob } from '../../../test/sample-job.ts'

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
const job = (more: Partial<Job> = {}): Job =>
  sampleJob({ kind: 'crawl', title: 'Crawling clayharbour.example', done: 40, total: 120, secondsLeft: 90, ...more })
const show = (crawls: Crawl[], jobs: Job[] = []) =>
  showScreen(<CrawlSection />, [
    answer(listCrawls, () => crawls),
    answer(suggestCrawls, () => [
      { domain: 'kilnandtide.example', own: true, resultPages: 40, pagesFetched: 215 },
      { domain: 'glazeworks.example', own: false, resultPages: 31, pagesFetched: 0 },
    ]),
    answer(listJobs, () => jobs),
    answer(listCrawlErrors, () => ({
      total: 61,
      pages: [
        { url: 'https://clayharbour.example/gone', state: 'failed' as const, problem: 'it answered with status 500' },
      ],
    })),
    answer(startCrawl, () => ({ crawls: [{ crawlId: 2, jobId: 6, domain: 'glazeworks.example' }] })),
    answer(actOnJob, () => job()),
  ])
const button = (name: string) => screen.findByRole('button', { name })

describe('crawls', () => {
  test('are started for sites that were chosen or typed, with a limit that is a number', async () => {
    const { user, requests } = show([])
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
    expect(requests.find(({ spec }) => spec === startCrawl)!.body).toMatchObject({
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
    const { user, requests } = show([crawl({ state: 'running', jobId: 5 })], [job()])
    await user.click(await button('Pause'))
    await user.click(await button('Cancel'))
    const acts = requests.filter(({ spec }) => spec === actOnJob)
    expect(acts.map(({ url, body }) => [url, body.action])).toEqual([
      ['/api/jobs/5/action', 'pause'],
      ['/api/jobs/5/action', 'cancel'],
    ])
  })
})
