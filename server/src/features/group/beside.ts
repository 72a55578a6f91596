import type { compareGroupings } from '@dew-trail/contract/group'
import { adjustedRand } from '@dew-trail/core/themes/rand-index'
import { compareThemes } from '@dew-trail/core/themes/compare-themes'
import type pg from 'pg'
import type { z } from 'zod'
import { lookAt } from './look-at.ts'
import { keptThemes, themeNumbers } from './themes-of.ts'

const mostListed = 1_000

/** What became of the themes of one grouping in another, over the keywords that both have. */
export async function besideAnother(
  pool: pg.Pool,
  siteId: number,
  groupingId: number,
  besideId: number,
): Promise<z.input<(typeof compareGroupings)['output']>> {
  const [here, there] = await Promise.all([read(groupingId), read(besideId)])
  const both = [...here.theme.keys()].filter(id => there.theme.has(id)).sort((a, b) => a - b)
  const numbers = (side: typeof here): Int32Array => Int32Array.from(both, id => side.theme.get(id)!)
  const [a, b] = [numbers(here), numbers(there)]
  const { same, split, merged, moved } = compareThemes(a, b)
  const named = (side: typeof here) => (each: { theme: number; keywords: number }) => ({
    theme: side.name(each.theme),
    keywords: each.keywords,
  })
  return {
    agreement: adjustedRand(a, b),
    both: both.length,
    onlyHere: here.theme.size - both.length,
    onlyThere: there.theme.size - both.length,
    same,
    split: split
      .slice(0, mostListed)
      .map(({ theme, parts }) => ({ theme: here.name(theme), into: parts.map(named(there)) })),
    merged: merged
      .slice(0, mostListed)
      .map(({ theme, parts }) => ({ theme: there.name(theme), from: parts.map(named(here)) })),
    moved: moved.slice(0, mostListed).map(at => ({
      phrase: here.phrase.get(both[at]!)!,
      here: a[at]! < 0 ? null : here.name(a[at]!),
      there: b[at]! < 0 ? null : there.name(b[at]!),
    })),
    movedTotal: moved.length,
  }

  async function read(id: number) {
    const { grouping, facts } = await lookAt(pool, siteId, id)
    const of = await keptThemes(pool, siteId, grouping, facts)
    const of_ = themeNumbers(of, facts.keywords.length)
    return {
      theme: new Map(facts.keywords.map((each, at) => [each.id, of_[at]!])),
      phrase: new Map(facts.keywords.map(each => [each.id, each.phrase])),
      name: (theme: number): string => of.themes[theme]!.name ?? facts.keywords[of.themes[theme]!.lead]!.phrase,
    }
  }
}
