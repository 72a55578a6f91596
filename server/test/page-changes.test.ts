import { startCrawl } from '@dew-trail/contract/crawl'
import { listNotes } from '@dew-trail/contract/notes'
import type { Site } from '@dew-trail/contract/sites'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { html, smallWeb, type WebPages } from './small-web.ts'
import { demoSite, type TestServer, testServer } from './test-server.ts'

let pages: WebPages
let web: Awaited<ReturnType<typeof smallWeb>>
let server: TestServer
let site: Site
beforeAll(async () => {
  web = await smallWeb(() => pages)
  server = await testServer({ CRAWL_PROXY: web.address, CRAWL_TIMEOUT_MS: '4000' })
  site = await demoSite(server)
})
afterAll(async () => {
  await server.close()
  web.close()
})

const crawl = async (domain: string) => {
  const { crawls } = await server.call(startCrawl, { siteId: site.id, domains: [domain] })
  return server.finish(crawls[0]!.jobId)
}
const page = (title: string, text: string, links = '') =>
  html(`<main><p>${text}</p>${links}</main>`, `<title>${title}</title>`)
const notes = async () =>
  (await server.call(listNotes, { siteId: site.id })).map(({ text, touches }) => [touches.address ?? null, text])
const words = (from: number): string => Array.from({ length: 40 }, (_, i) => `word${from + i}`).join(' ')

test('a crawl notes where the title or much of the text of an own page changed, and nothing of others', async () => {
  const [own, other] = [site.domain, 'clay.example']
  const set = (title: string, from: number) => {
    pages = Object.fromEntries(
      [own, other].flatMap(root => [
        [`${root}/`, page('Home', 'Clay and kilns', '<a href="/a">A</a> <a href="/b">B</a>')],
        [`${root}/a`, page(title, words(0))],
        [`${root}/b`, page('Same', words(from))],
      ]),
    )
  }
  set('Kilns', 0)
  await crawl(site.domain)
  await crawl('clay.example')
  expect(await notes()).toEqual([])
  await crawl(site.domain)
  expect(await notes()).toEqual([])
  // Half of forty words are others.
  set('Home kilns', 20)
  await crawl(site.domain)
  await crawl('clay.example')
  expect((await notes()).toSorted()).toEqual([
    [`https://${own}/a`, 'Title changed to "Home kilns" from "Kilns"'],
    [`https://${own}/b`, '50% of the text changed'],
  ])
})

test('a new design is twenty notes and one that counts the rest', async () => {
  const own = site.domain
  const set = (title: string) => {
    const links = Array.from({ length: 25 }, (_, i) => `<a href="/p${i}">${i}</a>`).join('')
    pages = { [`${own}/`]: page('Home', 'Clay and kilns', links) }
    for (let i = 0; i < 25; i++) pages[`${own}/p${i}`] = page(`${title} ${i}`, words(0))
  }
  set('First')
  await crawl(site.domain)
  const before = (await notes()).length
  set('Second')
  await crawl(site.domain)
  const after = await notes()
  expect(after).toHaveLength(before + 21)
  expect(after.filter(([address]) => address === null)).toEqual([
    [null, '5 more pages have another title or text than before'],
  ])
})
