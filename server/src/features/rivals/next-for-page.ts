import type { LandingPage } from '@dew-trail/contract/rivals'
import { pageIdentity } from '@dew-trail/core/web/page-identity'
import { coverageOf } from '@dew-trail/core/words/coverage'
import { pageKey } from '../../domain/pages/page-key.ts'

/** A keyword for which an own page stands highest; `pages`: how many own ones stand near each other. */
export type OwnKeyword = {
  id: number
  phrase: string
  now: number
  pages: number
  searches: number | null
  kept: boolean
}

/** What to do next about an own page, with the reason: the gravest first. */
export function nextFor(
  page: Pick<LandingPage, 'url' | 'linkingSites' | 'planned'>,
  group: readonly OwnKeyword[],
  planned: ReadonlyMap<number, { key: string | null; title: string }>,
  heads: readonly string[] | null,
  language: string,
): Pick<LandingPage, 'next' | 'why'> {
  const key = pageKey(page.url)
  const elsewhere = group.find(row => {
    const plan = planned.get(row.id)
    return plan?.key && plan.key !== key
  })
  if (elsewhere) {
    const isHome = /^[^/]+\/$/.test(pageIdentity(page.url) ?? '')
    return {
      next: 'let the planned page stand',
      why: `${isHome ? 'the home page' : 'this page'} stands for "${elsewhere.phrase}", for which "${planned.get(elsewhere.id)!.title}" is planned: link to that page with these words`,
    }
  }
  const rivalled = group.find(row => row.pages > 1)
  if (rivalled)
    return {
      next: 'join or part two pages',
      why: `another page of yours stands for "${rivalled.phrase}" too: make one of them the page for it`,
    }
  const near = group.find(row => row.now > 10 && row.now <= 20 && (row.searches ?? 0) > 0)
  const cover = near && heads ? coverageOf(heads.join('\n'), language)(near.phrase) : null
  if (near && cover === 'no')
    return {
      next: 'make it fit better',
      why: `"${near.phrase}" stands at ${near.now}, just below the first page, and neither title nor headings have all its words`,
    }
  if (near && page.linkingSites === 0)
    return {
      next: 'get links',
      why: `"${near.phrase}" stands at ${near.now}, just below the first page, and no site that the feeds know links to the page`,
    }
  if (near)
    return {
      next: cover === null ? 'read it with the crawler' : 'put it beside the first page',
      why: `"${near.phrase}" stands at ${near.now}, just below the first page; ${cover === null ? 'whether the page fits is not known, as it was not read' : 'its title and headings have the words, so look what those above have more'}`,
    }
  if (page.planned === null && group.some(row => row.kept))
    return { next: 'put it on the plan', why: 'it stands for keywords that you keep and is not on the plan' }
  return { next: null, why: null }
}
