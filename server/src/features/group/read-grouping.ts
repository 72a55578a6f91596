import type { readGrouping } from '@dew-trail/contract/group'
import { commonPages } from '@dew-trail/core/themes/keyword-pages'
import { proposedThreshold } from '@dew-trail/core/themes/preview-themes'
import type pg from 'pg'
import type { z } from 'zod'
import { competingRows } from './compete.ts'
import { manyAddresses, readPreviews } from './facts.ts'
import { lookAt, standingsAt } from './look-at.ts'
import { keptThemes } from './themes-of.ts'

/** A page that so large a share of the keywords show tells them apart no more. */
const commonShare = 0.5
const mostCommon = 5
/** Of fewer keywords with results, half of them say nothing yet. */
const fewestForCommon = 20

/** A grouping, what each threshold and method would make of it, and how far its results are known. */
export async function describeGrouping(
  pool: pg.Pool,
  siteId: number,
  groupingId: number,
): Promise<z.input<(typeof readGrouping)['output']>> {
  const looked = await lookAt(pool, siteId, groupingId)
  const { grouping, facts } = looked
  const previews = await readPreviews(facts)
  const themesOf = await keptThemes(pool, siteId, grouping, facts)
  const inTheme = new Set(themesOf.themes.flatMap(each => each.members))
  let [searches, unknown, grouped] = [0, 0, 0]
  for (const [at, keyword] of facts.keywords.entries()) {
    if (keyword.searches === null) unknown++
    else {
      const part = keyword.searches * facts.parts[at]!
      searches += part
      if (inTheme.has(at)) grouped += part
    }
  }
  const known = unknown < facts.keywords.length
  const days = facts.keywords.flatMap(each => (each.day === null ? [] : [each.day])).sort()
  return {
    grouping,
    previews,
    proposed: { lead: proposedThreshold(previews, 'lead'), pairs: proposedThreshold(previews, 'pairs') },
    withoutResults: facts.keywords.length - days.length,
    searches: known ? searches : null,
    searchesUnknown: unknown,
    searchesGrouped: known ? grouped : null,
    oldest: days[0] ?? null,
    newest: days.at(-1) ?? null,
    common: await commonSites(),
    competing: competingRows(themesOf, facts, (await standingsAt(pool, looked)).own).length,
  }

  async function commonSites(): Promise<Array<{ domain: string; share: number }>> {
    if (days.length < fewestForCommon) return []
    const common = commonPages(facts.packed, commonShare)
    const addresses = await manyAddresses(
      pool,
      siteId,
      common.map(page => facts.pageIds[page]!),
    )
    const shares = new Map<string, number>()
    for (const page of common) {
      const { domain } = addresses.get(facts.pageIds[page]!)!
      const share = facts.packed.pages.reduce((sum, each) => sum + Number(each === page), 0) / days.length
      shares.set(domain, Math.max(shares.get(domain) ?? 0, share))
    }
    return [...shares]
      .map(([domain, share]) => ({ domain, share: Math.min(1, share) }))
      .sort((a, b) => b.share - a.share || (a.domain < b.domain ? -1 : 1))
      .slice(0, mostCommon)
  }
}
