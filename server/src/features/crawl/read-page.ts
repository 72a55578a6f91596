import type { PageFacts } from '@dew-trail/contract/crawl'
import { AppError } from '@dew-trail/contract/errors'
import { linkKinds, linkRegions, relTokens } from '@dew-trail/core/links/link-codes'
import { pageAddress } from '@dew-trail/core/links/page-address'
import type pg from 'pg'
import { manyLinksOut, maybeContent } from '../../domain/graph/content-queries.ts'

/** What our crawler last read at an address, `null` when it never asked for it. */
export async function readPageFacts(pool: pg.Pool, graphId: number, address: string): Promise<PageFacts | null> {
  const url = pageAddress(address)
  if (!url) throw new AppError('badInput', `"${address.slice(0, 100)}" is no web address`)
  const content = await maybeContent(pool, graphId, url)
  if (!content) return null
  const { pageId, ...page } = content
  const links = await manyLinksOut(pool, graphId, pageId)
  return {
    ...page,
    url,
    fetchedAt: page.fetchedAt.toISOString(),
    links: links.map(({ rel, kind, region, ...link }) => ({
      ...link,
      rel: relTokens(rel),
      kind: linkKinds[kind]!,
      region: region === null ? null : linkRegions[region]!,
    })),
  }
}
