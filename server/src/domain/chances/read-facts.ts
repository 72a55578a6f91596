import { registrableDomain } from '@dew-trail/core/links/registrable-domain'
import type { Db } from '../../platform/db/pool.ts'
import { manyPageFacts, manySiteFacts, type PageFact, type SiteFact } from './queries.ts'

/** What is known of pages with these addresses and of their sites, and of other sites by domain. However old: what was known last tells more than nothing. */
export async function readFacts(
  db: Db,
  urls: readonly string[],
  domains: readonly string[] = [],
): Promise<{ sites: Map<string, SiteFact>; pages: Map<string, PageFact> }> {
  const [sites, pages] = await Promise.all([
    manySiteFacts(db, [...new Set([...domains, ...urls.map(registrableDomain)])]),
    manyPageFacts(db, [...new Set(urls)]),
  ])
  return {
    sites: new Map(sites.map(fact => [fact.domain, fact])),
    pages: new Map(pages.map(fact => [fact.url, fact])),
  }
}
