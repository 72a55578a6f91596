import { putOnFindList, readFinds } from '@dew-trail/contract/finds'
import { startGathering } from '@dew-trail/contract/gather'
import { createGrouping, moveToTheme } from '@dew-trail/contract/group'
import { addNote } from '@dew-trail/contract/notes'
import { createPage } from '@dew-trail/contract/plan'
import { addList } from '@dew-trail/contract/lists'
import { createSite } from '@dew-trail/contract/sites'
import type { TestServer } from './test-server.ts'

/** What a site has, by the names under which inputs carry it. */
export type Things = Record<string, number | number[]>

/** Makes a site with a gathering, keywords, a page, a note, a shortlist and a grouping of one theme. */
export async function filledSite(server: TestServer, domain: string): Promise<Things & { keywordIds: number[] }> {
  const site = await server.call(createSite, { domain, name: domain })
  const siteId = site.id
  const marketId = site.markets[0]!.id
  const input = { siteId, marketId, seeds: ['kiln'], mostIdeas: 20, ways: ['ads' as const] }
  const { gatheringId, jobId } = (await server.call(startGathering, input)).jobs[0]!
  await server.finish(jobId)
  const keywordIds = (await server.rows(siteId, marketId)).rows.slice(0, 3).map(row => row.id)
  const page = await server.call(createPage, { siteId, title: 'A page', keywordIds })
  const note = await server.call(addNote, { siteId, day: '2026-11-01', text: 'A note' })
  const list = await server.call(addList, { siteId, kind: 'shortlist', name: 'A list' })
  const keywordId = keywordIds[0]!
  const { groupingId, jobId: groupJobId } = await server.call(createGrouping, {
    siteId,
    marketId,
    from: { kind: 'rows', keywordIds },
    basis: 'words',
  })
  await server.finish(groupJobId)
  const { themeId } = await server.call(moveToTheme, { siteId, groupingId, keywordIds, themeId: null })
  const finds = await server.call(putOnFindList, {
    siteId,
    kind: 'sites',
    name: 'Finds',
    items: [{ what: 'clay.example' }],
  })
  const [item] = await server.call(readFinds, { siteId, findListId: finds.findListId })
  return {
    findListId: finds.findListId,
    itemId: item!.id,
    itemIds: [item!.id],
    siteId,
    marketId,
    keywordId,
    keywordIds,
    pageId: page.id,
    gatheringId,
    parentId: gatheringId,
    listId: list.id,
    groupingId,
    besideId: groupingId,
    themeId: themeId!,
    themeIds: [themeId!],
    leadId: keywordId,
    lead: keywordId,
    noteId: note.id,
    actId: page.actId!,
    jobId,
  }
}
