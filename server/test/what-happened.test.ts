import { runImport, type Uploaded } from '@dew-trail/contract/imports'
import { addNote } from '@dew-trail/contract/notes'
import type { Site } from '@dew-trail/contract/sites'
import { listShifts, readChanges, readEffect } from '@dew-trail/contract/track-changes'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { demoSite, type TestServer, testServer } from './test-server.ts'

const msADay = 86_400_000
const newest = Math.floor(Date.now() / msADay) - 1
const dayOf = (ago: number): string => new Date((newest - ago) * msADay).toISOString().slice(0, 10)
const [days, keywords, changedOn] = [70, 100, 20]

let server: TestServer
let site: Site
let at: { siteId: number; marketId: number }
let idOf: Map<string, number>

/**
 * A hundred keywords that stand still but for every fifth day; from the 20th day before the last on the first ten rise by a place every
 * second day, up to four.
 */
function csv(): string {
  const lines = ['date,keyword,rank,url']
  for (let ago = days - 1; ago >= 0; ago--)
    for (let k = 0; k < keywords; k++) {
      const wobble = (ago + k) % 5 === 0 ? 1 : 0
      const risen = k < 10 && ago <= changedOn ? Math.min(4, 1 + Math.floor((changedOn - ago) / 2)) : 0
      const position = 8 + (k % 10) + wobble - risen
      const page = k === 99 && ago < 9 ? 'other' : `page-${k % 4}`
      lines.push(`${dayOf(ago)},clay word ${k},${position},https://kilnandtide.example/guides/${page}`)
    }
  return lines.join('\n')
}

beforeAll(async () => {
  server = await testServer()
  site = await demoSite(server)
  at = { siteId: site.id, marketId: site.markets[0]!.id }
  const file = (await server.upload(site.id, 'positions', csv())) as Uploaded
  const run = { siteId: site.id, importId: file.importId, marketId: at.marketId, mapping: file.suggested }
  await server.finish((await server.call(runImport, run)).jobId)
  const { rows } = await server.rows(at.siteId, at.marketId)
  idOf = new Map(rows.map(row => [String(row.phrase), row.id]))
})
afterAll(() => server.close())

describe('what happened', () => {
  test('counts only what moved beyond its usual, and says who', async () => {
    const changes = await server.call(readChanges, { ...at, since: dayOf(changedOn + 2) })
    expect(changes).toMatchObject({ day: dayOf(0), compared: keywords, moved: 10, usual: 90, shifts: [] })
    expect(changes.keywords.map(each => each.phrase).sort()).toEqual(
      Array.from({ length: 10 }, (_, k) => `clay word ${k}`).sort(),
    )
    for (const each of changes.keywords) expect(each.gained).toBeGreaterThanOrEqual(3)
    expect(changes.reasons.map(each => each.kind)).toEqual(['unknown'])
  })
  test('a note that touches them is the likely reason', async () => {
    const keywordIds = Array.from({ length: 10 }, (_, k) => idOf.get(`clay word ${k}`)!)
    await server.call(addNote, { siteId: site.id, day: dayOf(changedOn + 1), text: 'Titles rewritten', keywordIds })
    const changes = await server.call(readChanges, { ...at, since: dayOf(changedOn + 2) })
    expect(changes.reasons).toMatchObject([{ kind: 'ownChange', keywords: 10 }])
    const evidence = changes.keywords[0]!.reasons[0]!.evidence
    expect(evidence).toMatchObject({ kind: 'ownChange', text: 'Titles rewritten', day: dayOf(changedOn + 1) })
    if (evidence?.kind !== 'ownChange') throw new Error('unreachable')
    expect(evidence.touched).toBeCloseTo(4, 0)
    expect(evidence.others).toBeCloseTo(0, 0)
  })
  test('from the last checked day on there is nothing to compare', async () => {
    expect(await server.call(readChanges, { ...at, since: dayOf(0) })).toMatchObject({ compared: 0, keywords: [] })
  })
  test('a market that was never checked says so', async () => {
    const marketId = site.markets[1]!.id
    expect(await server.call(readChanges, { ...at, marketId, since: dayOf(9) })).toMatchObject({ day: null, moved: 0 })
  })
  test('no day stands out, so that no shift is told', async () => {
    expect(await server.call(listShifts, { siteId: site.id, days: 60 })).toEqual([])
  })
})

describe('did it help', () => {
  const effectOf = async (note: { day: string; keywordIds?: number[]; address?: string }) => {
    const { id: noteId } = await server.call(addNote, { siteId: site.id, text: 'A change', ...note })
    return server.call(readEffect, { ...at, noteId })
  }
  const ten = () => Array.from({ length: 10 }, (_, k) => idOf.get(`clay word ${k}`)!)
  test('touched keywords gained four places that comparable ones did not', async () => {
    const { effect, sentence } = await effectOf({ day: dayOf(changedOn), keywordIds: ten() })
    expect(effect).toMatchObject({ kind: 'known', clear: true, touched: 10 })
    if (effect.kind !== 'known') throw new Error('unreachable')
    expect(effect.positions).toBeCloseTo(4, 0)
    expect(effect.visits).toBeNull()
    expect(sentence).toMatch(/^It helped: 10 keywords against \d+ comparable ones gained [34]\.\d places/)
  })
  test('keywords that only stood still did not', async () => {
    const still = Array.from({ length: 10 }, (_, k) => idOf.get(`clay word ${k + 20}`)!)
    const { effect } = await effectOf({ day: dayOf(changedOn), keywordIds: still })
    expect(effect).toMatchObject({ kind: 'known', clear: false })
  })
  test('before fourteen days it is too early', async () => {
    expect((await effectOf({ day: dayOf(5), keywordIds: ten() })).effect).toEqual({ kind: 'tooEarly', daysLeft: 8 })
  })
  test('a note on the whole site has nothing to be compared with', async () => {
    const { effect, sentence } = await effectOf({ day: dayOf(changedOn) })
    expect(effect).toEqual({ kind: 'wholeSite' })
    expect(sentence).toContain('nothing to compare with')
  })
  test('a page touches the keywords for which it was found', async () => {
    const { effect } = await effectOf({
      day: dayOf(30),
      address: 'http://kilnandtide.example/guides/page-1?utm_source=x',
    })
    expect(effect).toMatchObject({ kind: 'known', touched: 25 })
  })
})
