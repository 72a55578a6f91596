import { undoAct } from '@dew-trail/contract/acts'
import { runImport } from '@dew-trail/contract/imports'
import {
  listDisavowed,
  listLinkedPages,
  listLinkingSites,
  listLinkSources,
  listSiteRanking,
  listTargetAnchors,
  listTargetLinks,
  readLinkFigures,
  readLinkKinds,
  readNeighbourhood,
  setCleared,
  setDisavowed,
} from '@dew-trail/contract/link-lists'
import { listNotes } from '@dew-trail/contract/notes'
import { rankLinks } from '@dew-trail/contract/links'
import { addProspects, changeProspect, listProspects, removeProspects } from '@dew-trail/contract/prospects'
import type { Site } from '@dew-trail/contract/sites'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { demoSite, type TestServer, testServer } from './test-server.ts'

let server: TestServer
let site: Site
const thisMonday = Date.now() - ((new Date().getUTCDay() + 6) % 7) * 86_400_000
const dayOf = (weeksAgo: number, weekday = 0): string =>
  new Date(thisMonday - (7 * weeksAgo - weekday) * 86_400_000).toISOString().slice(0, 10)
/** 30 sites link to /a in one week, one of them from eight pages with one and the same link; some link to the home page and to a folder. */
const lines = [
  ...Array.from(
    { length: 30 },
    (_, i) => `https://new-${i}.example/p,https://big.example/a,clay wheels,,${dayOf(10, 1)},`,
  ),
  ...Array.from({ length: 8 }, (_, i) => `https://all-over.example/p${i},https://big.example/,Big,,${dayOf(60)},`),
  `http://one.example/q,https://big.example/guides/glaze,glaze guide,nofollow,${dayOf(50)},`,
  `https://two.example/q,https://shop.big.example/x,https://big.example,sponsored,${dayOf(50)},`,
  `https://two.example/q,https://rival.example/,a rival,,${dayOf(50)},`,
]
beforeAll(async () => {
  server = await testServer()
  site = await demoSite(server)
  const csv = `source url,target url,anchor,rel,first seen,last seen\n${lines.join('\n')}\n`
  const { importId, suggested } = await server.upload(site.id, 'links', csv, 'links.csv')
  const { jobId } = await server.call(runImport, {
    siteId: site.id,
    importId,
    marketId: site.markets[0]!.id,
    mapping: suggested,
  })
  expect((await server.finish(jobId)).state).toBe('done')
  await server.finish((await server.call(rankLinks, { siteId: site.id })).jobId)
})
afterAll(() => server.close())

const of = (target: string) => ({ siteId: site.id, target })

describe('figures', () => {
  test('of a site, a host, a folder and a page go over the links to each', async () => {
    const targets = [
      'big.example',
      'shop.big.example',
      'big.example/guides/*',
      'https://big.example/a',
      'nobody.example',
    ]
    const { figures, madeAt } = await server.call(readLinkFigures, { siteId: site.id, targets })
    expect(figures.map(each => [each.kind, each.known, each.links, each.linkingSites])).toEqual([
      ['site', true, 40, 33],
      ['host', true, 1, 1],
      ['folder', true, 1, 1],
      ['page', true, 30, 30],
      ['site', false, 0, 0],
    ])
    expect(madeAt).not.toBeNull()
    const [whole] = figures
    expect(whole).toMatchObject({ follow: 38, linkingPages: 40, followSites: 31, addressed: 0, undated: 0 })
    expect(whole!.standing).toBeGreaterThan(0)
    expect(whole!.bands!.reduce((sum, band) => sum + band.sites, 0)).toBe(31)
  })
  test('what links are made of adds up to them, by link and by site', async () => {
    const { figures } = await server.call(readLinkFigures, { siteId: site.id, targets: ['big.example'] })
    const { makeup, anchors } = figures[0]!
    for (const strip of Object.values(makeup)) expect(strip.reduce((sum, part) => sum + part.links, 0)).toBe(40)
    expect(makeup.counts).toEqual([
      { key: 'follow', links: 38, sites: 31 },
      expect.objectContaining({ links: 1 }),
      expect.objectContaining({ links: 1 }),
    ])
    expect(new Set(makeup.counts.map(part => part.key))).toEqual(new Set(['follow', 'nofollow', 'sponsored']))
    expect(makeup.lands).toEqual([
      { key: 'inner', links: 32, sites: 32 },
      { key: 'home', links: 8, sites: 1 },
    ])
    expect(makeup.scheme).toContainEqual({ key: 'http', links: 1, sites: 1 })
    expect(anchors).toContainEqual({ key: 'brand', links: 8, sites: 1 })
  })
  test('a burst is named with its page and the sites behind it', async () => {
    const { figures } = await server.call(readLinkFigures, { siteId: site.id, targets: ['big.example'] })
    expect(figures[0]!.weeks).toHaveLength(104)
    expect(figures[0]!.bursts).toMatchObject([
      { week: dayOf(10), sites: 30, page: 'https://big.example/a', pageSites: 30 },
    ])
    expect(figures[0]!.bursts[0]!.from).toHaveLength(5)
  })
})

describe('which links count', () => {
  test('those that one of the chosen sources knows of; a source that is none is refused', async () => {
    expect(await server.call(listLinkSources, { siteId: site.id })).toEqual([
      { name: 'crawl', label: 'our crawl' },
      { name: 'file', label: 'files' },
    ])
    const linked = async (sources: string[]) =>
      (await server.call(readLinkFigures, { siteId: site.id, targets: ['big.example'], sources })).figures[0]!.links
    expect([await linked(['file']), await linked(['crawl']), await linked(['crawl', 'file'])]).toEqual([40, 0, 40])
    const wrong = server.call(listLinkingSites, { ...of('big.example'), sources: ['gossip'] })
    await expect(wrong).rejects.toThrow('no source of links is called "gossip"')
  })
  test('kinds of linking sites are summed', async () => {
    const { kinds, looked, sites } = await server.call(readLinkKinds, of('big.example'))
    expect([looked, sites]).toEqual([33, 33])
    expect(kinds.reduce((sum, each) => sum + each.sites, 0)).toBe(33)
    expect(kinds.reduce((sum, each) => sum + each.links, 0)).toBe(40)
  })
})

describe('conditions and order hold for all rows', () => {
  test('of linking sites', async () => {
    const list = async (where: string[], sort = '') => {
      const answer = await server.call(listLinkingSites, { ...of('big.example'), where, sort, most: 3 })
      return [answer.total, answer.met, answer.rows.map(row => row.domain)] as const
    }
    expect(await list(['domain:has:all over'])).toEqual([33, 1, ['all-over.example']])
    expect(await list(['siteWide:yes'])).toEqual([33, 1, ['all-over.example']])
    expect((await list(['follow:from:1'], '-links'))[2][0]).toBe('all-over.example')
    expect((await list(['lands:has:/guides']))[2]).toEqual(['one.example'])
    const { rows } = await server.call(listLinkingSites, of('big.example'))
    const kind = rows[0]!.kind
    expect((await list([`kind:is:${kind}`]))[1]).toBe(rows.filter(row => row.kind === kind).length)
    const none = server.call(listLinkingSites, { ...of('big.example'), where: ['colour:is:red'] })
    await expect(none).rejects.toThrow('no column "colour"')
  })
  test('of links: by what is at hand, by their pages, and by the words around', async () => {
    const list = async (where: string[], sort = '', more: object = {}) => {
      const answer = await server.call(listTargetLinks, { ...of('big.example'), where, sort, most: 4, ...more })
      return [answer.total, answer.met, answer.rows.map(row => row.source)] as const
    }
    expect(await list(['rel:is:nofollow'])).toEqual([40, 1, ['http://one.example/q']])
    expect((await list(['anchor:has:clay wheels']))[1]).toBe(30)
    expect((await list(['source:has:all-over']))[1]).toBe(8)
    expect((await list(['source:without:all-over']))[1]).toBe(32)
    expect((await list(['source:has:all-over or one.example']))[1]).toBe(9)
    expect((await list(['title:known']))[1]).toBe(0)
    expect((await list(['title:unknown']))[1]).toBe(40)
    expect((await list(['around:has:anything']))[1]).toBe(0)
    expect((await list(['verifiedOn:known']))[1]).toBe(0)
    expect((await list(['linksOut:unknown', 'pull:unknown']))[1]).toBeLessThanOrEqual(40)
    const since = dayOf(20).replaceAll('-', '')
    expect((await list([`firstSeen:from:${since}`]))[1]).toBe(30)
    expect((await list(['domain:has:new'], 'source'))[2]).toEqual([0, 1, 10, 11].map(i => `https://new-${i}.example/p`))
    expect((await list(['domain:has:new'], '-domain'))[2][0]).toBe('https://new-9.example/p')
  })
  test('links of each site alone, with how many it has', async () => {
    const { rows, total, met } = await server.call(listTargetLinks, { ...of('big.example'), bySite: 'true' })
    expect([total, met, rows.length]).toEqual([33, 33, 33])
    expect(rows.find(row => row.domain === 'all-over.example')!.ofSite).toBe(8)
    const followed = await server.call(listTargetLinks, {
      ...of('big.example'),
      bySite: 'true',
      where: ['rel:is:follow'],
    })
    expect([followed.total, followed.met]).toEqual([33, 31])
  })
  test('of anchors and pages', async () => {
    const anchors = await server.call(listTargetAnchors, { ...of('big.example'), where: ['text:has:guide'] })
    expect([anchors.met, anchors.rows[0]!.text]).toEqual([1, 'glaze guide'])
    const brand = await server.call(listTargetAnchors, { ...of('big.example'), where: ['kind:is:brand'] })
    expect(brand.rows.map(row => row.text)).toEqual(['Big'])
    const pages = await server.call(listLinkedPages, { ...of('big.example'), where: ['links:from:2'], sort: 'links' })
    expect(pages.rows.map(row => row.url)).toEqual(['https://big.example/', 'https://big.example/a'])
  })
})

describe('lists', () => {
  test(`linking sites tell where their links lead, which stand on all pages,
    and who links to a rival too`, async () => {
    const { rows, total } = await server.call(listLinkingSites, { ...of('big.example'), beside: ['rival.example'] })
    expect(total).toBe(33)
    const byDomain = new Map(rows.map(row => [row.domain, row]))
    expect(byDomain.get('all-over.example')).toMatchObject({ links: 8, pages: 8, siteWide: true, anchor: 'Big' })
    expect(byDomain.get('new-3.example')).toMatchObject({
      links: 1,
      follow: 1,
      siteWide: false,
      lands: 'https://big.example/a',
      firstSeen: dayOf(10, 1),
    })
    expect(rows.filter(row => row.toRivals > 0).map(row => row.domain)).toEqual(['two.example'])
    // Followed ones first.
    expect(rows.slice(-2).map(row => row.follow)).toEqual([0, 0])
  })
  test('links of one linking site, and of none', async () => {
    const { rows, total } = await server.call(listTargetLinks, { ...of('big.example'), from: 'all-over.example' })
    expect([rows.length, total]).toEqual([8, 8])
    expect(rows[0]).toMatchObject({
      domain: 'all-over.example',
      anchor: 'Big',
      rel: 'follow',
      kind: 'text',
      sources: 1,
    })
    expect(await server.call(listTargetLinks, of('nobody.example'))).toEqual({ rows: [], total: 0, met: 0 })
    expect((await server.call(listTargetLinks, { ...of('big.example'), most: 3 })).rows).toHaveLength(3)
  })
  test('lost links are those that went; none did', async () => {
    expect((await server.call(listTargetLinks, { ...of('big.example'), age: 'lost' })).total).toBe(0)
    expect((await server.call(listTargetLinks, { ...of('big.example'), age: 'ever' })).total).toBe(40)
  })
  test('anchors have their sites, and one that too many use is odd', async () => {
    const { rows, sites } = await server.call(listTargetAnchors, of('big.example'))
    expect(sites).toBe(33)
    expect(rows[0]).toMatchObject({ text: 'clay wheels', links: 30, sites: 30, lands: 'https://big.example/a' })
    expect(rows[0]!.odd).toContain('91 % of the linking sites')
    expect(rows.find(row => row.text === 'Big')).toMatchObject({ kind: 'brand', odd: null })
  })
  test('pages that links lead to, those that most sites link to first', async () => {
    const { rows, total } = await server.call(listLinkedPages, of('big.example'))
    expect(total).toBe(4)
    expect(rows[0]).toMatchObject({
      url: 'https://big.example/a',
      links: 30,
      sites: 30,
      topAnchor: 'clay wheels',
      next: null,
    })
  })
  test('the neighbourhood has the best linking sites and the links among them', async () => {
    const { sites, links } = await server.call(readNeighbourhood, { ...of('big.example'), most: 5 })
    expect(sites).toHaveLength(5)
    const standings = sites.map(site => site.standing ?? -1)
    expect(standings).toEqual(standings.toSorted((a, b) => b - a))
    // None of these links to another.
    expect(links).toEqual([])
    const rivals = await server.call(readNeighbourhood, of('rival.example'))
    expect(rivals.sites.map(site => site.domain)).toEqual(['two.example'])
    expect(await server.call(readNeighbourhood, of('nobody.example'))).toEqual({ sites: [], links: [] })
  })
  test('the ranking holds all sites by standing, found by a part of the name, and compared ones in any case', async () => {
    const whole = await server.call(listSiteRanking, { siteId: site.id })
    expect(whole.rows.map(row => row.position)).toEqual(whole.rows.map((_, i) => i + 1))
    expect(whole.rows.length).toBe(whole.total)
    const some = await server.call(listSiteRanking, { siteId: site.id, contains: 'new-1', beside: ['big.example'] })
    expect(some.met).toBe(11)
    expect(some.rows.map(row => row.domain)).toContain('big.example')
    const big = whole.rows.find(row => row.domain === 'big.example')!
    expect(some.rows.find(row => row.domain === 'big.example')).toEqual(big)
    const { figures } = await server.call(readLinkFigures, { siteId: site.id, targets: ['big.example'] })
    expect([figures[0]!.position, figures[0]!.ofSites]).toEqual([big.position, whole.total])
  })
})

describe('prospects', () => {
  const add = (...domains: string[]) =>
    server.call(addProspects, { siteId: site.id, sites: domains.map(domain => ({ domain })) })
  const all = () => server.call(listProspects, { siteId: site.id })
  test('are added once, changed by version, undone and removed', async () => {
    const first = await add('www.one.example', 'two.example', 'one.example')
    expect(first).toMatchObject({ added: 2, known: [] })
    expect(await add('two.example', 'three.example')).toMatchObject({ added: 1, known: ['two.example'] })
    const [one] = (await all()).filter(each => each.domain === 'one.example')
    expect(one).toMatchObject({ state: 'toAsk', contact: null, linksToOwn: false, version: 1 })
    const of = { siteId: site.id, prospectId: one!.id }
    const change = {
      state: 'asked' as const,
      remarks: 'Wrote to them',
      nextDay: '2026-12-09',
      contact: 'a@one.example',
    }
    const { version, actId } = await server.call(changeProspect, { ...of, version: 1, ...change })
    expect(version).toBe(2)
    await expect(server.call(changeProspect, { ...of, version: 1, remarks: 'x' })).rejects.toThrow('Somebody changed')
    // The next due comes first.
    expect((await all())[0]).toMatchObject({ domain: 'one.example', ...change })
    await server.call(undoAct, { siteId: site.id, actId: actId! })
    expect((await all()).find(each => each.id === one!.id)).toMatchObject({
      state: 'toAsk',
      remarks: '',
      nextDay: null,
    })
    // A contact that is taken away does not come back by undo.
    const contact = 'b@one.example'
    const given = await server.call(changeProspect, { ...of, version: 3, contact })
    const forgotten = await server.call(changeProspect, { ...of, version: given.version, contact: null, anchor: 'x' })
    await server.call(undoAct, { siteId: site.id, actId: forgotten.actId! })
    expect((await all()).find(each => each.id === one!.id)).toMatchObject({ contact: null, anchor: '' })
    const removed = await server.call(removeProspects, { siteId: site.id, prospectIds: [one!.id] })
    expect((await all()).map(each => each.domain)).toEqual(['two.example', 'three.example'])
    await server.call(undoAct, { siteId: site.id, actId: removed.actId! })
    expect((await all()).map(each => each.domain).sort()).toEqual(['one.example', 'three.example', 'two.example'])
    await expect(add('no address here')).rejects.toThrow('no site')
    const marked = (await server.call(listLinkingSites, { siteId: site.id, target: 'big.example' })).rows
    expect(
      marked
        .filter(row => row.prospect)
        .map(row => row.domain)
        .sort(),
    ).toEqual(['one.example', 'two.example'])
  })
})

test('sites are disavowed, once, and no longer', async () => {
  const set = (domains: string[], on: boolean) => server.call(setDisavowed, { siteId: site.id, domains, on })
  const listed = async () => (await server.call(listDisavowed, { siteId: site.id })).map(each => each.domain)
  const { actId } = await set(['one.example', 'www.one.example', 'two.example'], true)
  expect(await listed()).toEqual(['one.example', 'two.example'])
  expect(await set(['one.example'], true)).toMatchObject({ changed: 0, actId: null })
  await set(['two.example'], false)
  expect(await listed()).toEqual(['one.example'])
  await server.call(undoAct, { siteId: site.id, actId: actId! })
  expect(await listed()).toEqual([])
})

test('a link that is placed and in the graph is noted on the timeline, once', async () => {
  await server.call(addProspects, { siteId: site.id, sites: [{ domain: 'linker.example' }] })
  const mine = async () =>
    (await server.call(listProspects, { siteId: site.id })).find(each => each.domain === 'linker.example')!
  const { id, version } = await mine()
  await server.call(changeProspect, { siteId: site.id, prospectId: id, version, state: 'placed' })
  expect((await mine()).verifiedOn).toBeNull()
  const csv = `source url,target url,anchor,rel,first seen,last seen\nhttps://linker.example/a,https://${site.domain}/,us,,${dayOf(1)},\n`
  const { importId, suggested } = await server.upload(site.id, 'links', csv, 'links.csv')
  const marketId = site.markets[0]!.id
  await server.finish((await server.call(runImport, { siteId: site.id, importId, marketId, mapping: suggested })).jobId)
  for (let i = 0; i < 2; i++) await server.finish((await server.call(rankLinks, { siteId: site.id })).jobId)
  expect((await mine()).verifiedOn).not.toBeNull()
  const notes = await server.call(listNotes, { siteId: site.id })
  expect(notes.map(each => each.text)).toEqual(['linker.example links to us now'])
})

test('a site that somebody said to be of no network is in none, until the program may judge it again', async () => {
  const cleared = async (): Promise<string[]> =>
    (await server.call(listLinkingSites, of('big.example'))).rows.filter(row => row.cleared).map(row => row.domain)
  const { changed, actId } = await server.call(setCleared, {
    siteId: site.id,
    domains: ['https://all-over.example/p1', 'all-over.example'],
    on: true,
  })
  expect(changed).toBe(1)
  expect(await cleared()).toEqual(['all-over.example'])
  await server.call(undoAct, { siteId: site.id, actId: actId! })
  expect(await cleared()).toEqual([])
})

test('a list of popular sites is imported as a whole, the better rank of a site counting', async () => {
  const bring = async (csv: string) => {
    const { importId, suggested } = await server.upload(site.id, 'popularity', csv, 'popular.csv')
    const marketId = site.markets[0]!.id
    const { jobId } = await server.call(runImport, { siteId: site.id, importId, marketId, mapping: suggested })
    return (await server.finish(jobId)).result
  }
  const rankOf = async (): Promise<number | null> =>
    (await server.call(readLinkFigures, { siteId: site.id, targets: ['big.example'] })).figures[0]!.popularity
  expect(await rankOf()).toBeNull()
  const rows = 'rank,domain\n1,first.example\n40,big.example\n12,https://www.big.example/\nmany,x.example\n5,\n'
  expect(await bring(rows)).toMatchObject({ lines: 5, wrong: 2, sites: 2 })
  expect(await rankOf()).toBe(12)
  // Of a file that names no site the list before stays.
  expect(await bring('rank,domain\nx,y\n')).toMatchObject({ lines: 1, wrong: 1, sites: 0 })
  expect(await rankOf()).toBe(12)
  expect(await bring('domain,rank\nfirst.example,3\n')).toMatchObject({ sites: 1 })
  expect(await rankOf()).toBeNull()
})
