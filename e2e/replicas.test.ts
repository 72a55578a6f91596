import { addNote, listNotes } from '@dew-trail/contract/notes'
import { listSites, type Site } from '@dew-trail/contract/sites'
import { callServer } from '@dew-trail/scripts/lib/client'
import { type Replicated, startReplicated } from '@dew-trail/scripts/lib/replicas'
import { afterAll, beforeAll, expect, test } from 'vitest'

let cluster: Replicated
let server: string
let other: string
let site: Site
beforeAll(async () => {
  cluster = await startReplicated(2)
  ;[server, other] = (await Promise.all([cluster.startWeb(), cluster.startWeb()])) as [string, string]
  // A site is made with what a source tells of engines, and there is none here. The replicas have it in a moment.
  cluster.atPrimary("insert into site (domain, name) values ('kilnandtide.example', 'Kiln & Tide')")
  for (let found: Site[] = []; !found.length; site = found[0]!) found = await callServer(server, listSites, {})
})
afterAll(async () => {
  await cluster?.stop()
})

const note = (text: string) => callServer(server, addNote, { siteId: site.id, day: '2026-11-20', text })
const notes = async (from = server): Promise<string[]> =>
  (await callServer(from, listNotes, { siteId: site.id })).map(each => each.text)

test('whoever wrote reads it at once, here and in another process', async () => {
  for (let i = 0; i < 20; i++) {
    await note(`note ${i}`)
    expect(await notes()).toContain(`note ${i}`)
    expect(await notes(other)).toContain(`note ${i}`)
  }
})

test('readers are answered by replicas: what was written past the program reaches them when the replicas have it', async () => {
  cluster.hold(true)
  cluster.atPrimary(`insert into note (site_id, day, text) values (${site.id}, '2026-11-21', 'past the program')`)
  expect(await notes()).not.toContain('past the program')
  cluster.hold(false)
  while (!(await notes()).includes('past the program')) await new Promise(resolve => setTimeout(resolve, 20))
})

test('where no replica has what the reader wrote the primary is asked', async () => {
  cluster.hold(true)
  await note('while they stand still')
  expect(await notes()).toContain('while they stand still')
  cluster.hold(false)
})

test('a replica that dies is done without, and so are all', async () => {
  for (const replica of [0, 1]) {
    cluster.kill(replica)
    for (let i = 0; i < 10; i++) expect(await notes()).toContain('while they stand still')
  }
  await note('without any')
  expect(await notes()).toContain('without any')
  expect(await callServer(server, listSites, {})).toHaveLength(1)
})
