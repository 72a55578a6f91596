import type { checkGrouping } from '@dew-trail/contract/group'
import { checkThemes } from '@dew-trail/core/themes/check-themes'
import { groupThemes } from '@dew-trail/core/themes/group-themes'
import { pagesNeeded, proposedThreshold } from '@dew-trail/core/themes/preview-themes'
import { adjustedRand } from '@dew-trail/core/themes/rand-index'
import type pg from 'pg'
import type { z } from 'zod'
import { manyAddresses, readPreviews } from './facts.ts'
import { lookAt } from './look-at.ts'
import { keptThemes, themeNumbers } from './themes-of.ts'

const mostListed = 2_000

/** What results say of the kept themes; without a threshold by the one that is proposed. */
export async function checkKept(
  pool: pg.Pool,
  siteId: number,
  groupingId: number,
  wanted: number | undefined,
): Promise<z.input<(typeof checkGrouping)['output']>> {
  const { grouping, facts } = await lookAt(pool, siteId, groupingId)
  const { keywords, packed, pageIds } = facts
  const of = await keptThemes(pool, siteId, grouping, facts)
  const numbers = themeNumbers(of, keywords.length)
  const proposed = proposedThreshold(await readPreviews(facts), grouping.method)
  const threshold = wanted ?? (grouping.basis === 'results' ? grouping.threshold : (proposed ?? grouping.threshold))
  const needed = pagesNeeded(threshold, facts.compared)
  const { cohesion, misfits, overlaps } = checkThemes(packed, numbers, of.themes.length, needed)
  const listed = overlaps.slice(0, mostListed)
  const addresses = await manyAddresses(
    pool,
    siteId,
    listed.flatMap(each => each.pages.map(page => pageIds[page]!)),
  )
  const name = (theme: number): string => of.themes[theme]!.name ?? keywords[of.themes[theme]!.lead]!.phrase
  const id = (theme: number): number => of.themes[theme]!.id!
  const automatic = groupThemes(packed, { threshold: needed, method: grouping.method })
  return {
    threshold,
    agreement: adjustedRand(numbers, automatic.themeOf),
    themes: of.themes.map((theme, i) => ({
      id: theme.id!,
      theme: name(i),
      keywords: theme.members.length,
      cohesion: cohesion[i] ?? null,
    })),
    misfits: misfits.slice(0, mostListed).map(({ keyword, theme, inside, better, there }) => ({
      id: keywords[keyword]!.id,
      phrase: keywords[keyword]!.phrase,
      theme: name(theme),
      inside,
      betterId: better < 0 ? null : id(better),
      better: better < 0 ? null : name(better),
      there,
    })),
    overlaps: listed.map(({ a, b, pairs, of: all, pages }) => ({
      aId: id(a),
      a: name(a),
      bId: id(b),
      b: name(b),
      pairs,
      of: all,
      pages: pages.map(page => addresses.get(pageIds[page]!)!.url),
    })),
    withoutResults: keywords.filter(each => each.day === null).length,
  }
}
