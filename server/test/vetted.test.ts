import { runImport } from '@dew-trail/contract/imports'
import { listVetted, rankLinks, readLinkState, refuseSite, vetSite } from '@dew-trail/contract/links'
import type { Site } from '@dew-trail/contract/sites'
import { getFirstPage, startWeighing, type WeighedResult } from '@dew-trail/contract/weigh'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { demoSite, type TestServer, testServer } from './test-server.ts'

let server: TestServer
let site: Site
let results: () => Promise<WeighedResult[]>
const college = 'potters-college.example'
const list = 'craft-list.example'

beforeAll(async () => {
  server = await testServer()
  site = await demoSite(server)
  const marketId = site.markets[0]!.id
  const load = async (kind: 'keywords' | 'links', csv: string): Promise<void> => {
    const { importId, suggested } = await server.upload(site.id, kind, csv, `${kind}.csv`)
    const { jobId } = await server.call(runImport, { siteId: site.id, importId, marketId, mapping: suggested })
    await server.finish(jobId)
  }
  await load('keywords', 'keyword\npottery wheel\n')
  const [{ id: keywordId }] = (await server.rows(site.id, marketId)).rows as [{ id: number }]
  await server.finish((await server.call(startWeighing, { siteId: site.id, marketId, keywordIds: [keywordId] })).jobId!)
  results = async () => (await server.call(getFirstPage, { siteId: site.id, keywordId, marketId }))!.results
  const [first] = await results()
  await load('links', `source,target\nhttps://${college}/wheels,${first!.url}\nhttps://${list}/pottery,${first!.url}\n`)
})
afterAll(() => server.close())

const rank = async (): Promise<void> => {
  await server.finish((await server.call(rankLinks, { siteId: site.id })).jobId)
}
const vetted = async () =>
  (await server.call(listVetted, { siteId: site.id })).map(({ domain, kind }) => [domain, kind])
const vettedCount = async () => (await server.call(readLinkState, { siteId: site.id })).snapshot!.vetted

test('schools and public bodies are vetted by name, others by hand, and results tell who links to them', async () => {
  await rank()
  expect(await vetted()).toEqual([[college, 'institution']])
  const [first, ...others] = await results()
  expect(first).toMatchObject({ institutions: [college], directories: [] })
  // Of sites whose links nobody knows nothing is said.
  expect(others.filter(each => each.domain !== first!.domain).every(each => each.institutions === null)).toBe(true)

  await server.call(vetSite, { siteId: site.id, domain: list, kind: 'directory' })
  expect(await vetted()).toEqual([
    [list, 'directory'],
    [college, 'institution'],
  ])
  expect((await results())[0]).toMatchObject({ institutions: [college], directories: [list] })
  await rank()
  expect(await vettedCount()).toBe(2)

  // Whom somebody decided against stays out, whatever its name says.
  await server.call(refuseSite, { siteId: site.id, domain: college })
  await rank()
  expect(await vetted()).toEqual([[list, 'directory']])
  expect(await vettedCount()).toBe(1)
  expect((await results())[0]).toMatchObject({ institutions: [], directories: [list] })
  await server.call(vetSite, { siteId: site.id, domain: college, kind: 'institution', why: 'asked them' })
  expect((await server.call(listVetted, { siteId: site.id })).find(each => each.domain === college)).toMatchObject({
    why: 'asked them',
    linksTo: 1,
  })
})

test('what is no domain is refused', async () => {
  await expect(server.call(vetSite, { siteId: site.id, domain: 'https://x', kind: 'directory' })).rejects.toThrow()
  await expect(server.call(vetSite, { siteId: site.id, domain: 'nodot', kind: 'directory' })).rejects.toThrow(
    /name\.example/,
  )
})
