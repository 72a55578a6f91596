import { z } from 'zod'
import { acted } from './acts.ts'
import { endpoint } from './endpoint.ts'
import { id } from './common.ts'

const site = { siteId: id }
const market = { ...site, marketId: id }
/**
 * A page of the map: `plan:` with the number of a planned page, `page:` with the key of an address, `folder:` with a path that is no
 * page.
 */
const node = z
  .string()
  .max(2_100)
  .regex(/^(plan:\d{1,10}|page:[0-9a-f-]{36}|folder:.+)$/, 'is no page of the map')

/** What is worth a look at a page of the map. */
export const mapFlags = ['late', 'competes', 'wrongPage', 'noTheme', 'noLinks', 'gone'] as const
export type MapFlag = (typeof mapFlags)[number]

const texts = z.array(z.string().nullable())
const numbers = z.array(z.number().nullable())
/**
 * The pages of a site as a tree, a column each so that twenty thousand take little; rows in the order in which they are drawn, the home
 * page first. `parents`: the place of the row above, −1 = none. `searches`: of the keywords a page is planned for, else of those for
 * which it stands within 30 before other own pages; `visitsNow` and `visits` (with the plan) alike. `flags`: bits in the order of
 * `mapFlags`; that no own page links to a page is asked for apart. `details`: what a flag speaks of, another page's name or keyword.
 */
export const siteMap = z.object({
  nodes: z.array(z.string()),
  parents: z.array(z.number()),
  names: z.array(z.string()),
  addresses: texts,
  planned: numbers,
  kinds: texts,
  states: texts,
  deadlines: texts,
  themes: texts,
  leads: texts,
  positions: numbers,
  searches: numbers,
  visitsNow: numbers,
  visits: numbers,
  flags: z.array(z.number()),
  details: texts,
  /** Visits a month by all keywords known, now and with what the plan adds: pages share keywords, so it is not the sum of the rows. */
  visitsOfSite: z.number(),
  visitsWithPlan: z.number(),
  /** Pages that the crawler read, the day of the latest, and how many more only results or the log show. */
  crawled: z.number(),
  crawledOn: z.string().nullable(),
  seenOnly: z.number(),
  /** Themes of the current grouping of which no keyword is planned and no own page stands for. */
  without: z.object({ themes: z.number(), searches: z.number().nullable() }),
})
export type SiteMap = z.infer<typeof siteMap>

export const readSiteMap = endpoint({
  summary: 'The pages of a site as a tree',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/site-map',
  input: z.object(market),
  output: siteMap,
  oldBy: ['plan', 'keywords', 'themes', 'crawls', 'positions', 'job'],
})
/** Pages of the map to which no page of the site that was read links, by their node; null where the site was not crawled. */
export const readUnlinkedPages = endpoint({
  summary: 'Own pages that no own page links to',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/site-map/unlinked',
  input: z.object(site),
  output: z.array(z.string()).nullable(),
  oldBy: ['crawls', 'job'],
})
/** Puts a page below another; null = where its address says. */
export const movePage = endpoint({
  summary: 'Move a page of the site map',
  role: 'editor',
  errors: ['badInput', 'notFound', 'conflict'],
  method: 'POST',
  path: '/api/sites/:siteId/site-map/move',
  input: z.object({ ...site, node, under: z.union([node, z.literal('top')]).nullable() }),
  output: acted,
})

/**
 * The page for a theme of the current grouping (where there is none: for the forms of a kept keyword), with the reason. `themeId`: of the
 * theme, else of the keyword. `level`: home for the broadest demand, section for a theme that others narrow down, article for the rest.
 * `parent`: the node under which a new page would stand, null = the home page.
 */
export const assignment = z.object({
  themeId: z.number(),
  theme: z.string(),
  lead: z.string(),
  keywords: z.number(),
  searches: z.number().nullable(),
  visits: z.number().nullable(),
  level: z.enum(['home', 'section', 'article']),
  to: z.enum(['planned', 'own', 'new']),
  pageId: z.number().nullable(),
  title: z.string(),
  address: z.string().nullable(),
  parentTheme: z.string().nullable(),
  /** Whether all its keywords stand on that page already. */
  done: z.boolean(),
  why: z.string(),
})
export type Assignment = z.infer<typeof assignment>
export const listAssignments = endpoint({
  summary: 'Pages proposed for themes, else for kept keywords',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/assignments',
  input: z.object(market),
  output: z.object({ grouping: z.string().nullable(), rows: z.array(assignment) }),
  oldBy: ['plan', 'keywords', 'themes', 'positions', 'job'],
})
/**
 * Puts the keywords of themes (`ids`: each proposal's `themeId`) on the pages that are proposed for them now; new pages are planned where
 * they belong in the map.
 */
export const acceptAssignments = endpoint({
  summary: 'Accept proposed pages for themes',
  role: 'editor',
  errors: ['badInput', 'notFound'],
  method: 'POST',
  path: '/api/sites/:siteId/assignments',
  input: z.object({ ...market, ids: z.array(id).min(1).max(5_000) }),
  output: acted.extend({ pages: z.number(), fresh: z.number(), keywords: z.number(), takenOff: z.number() }),
})
/** Keywords of the current grouping's themes that stand on no page, most searched first. */
export const listThemeKeywordsLeft = endpoint({
  summary: 'Keywords of themes that stand on no page',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/theme-keywords-left',
  input: z.object(market),
  output: z.array(
    z.object({
      phrase: z.string(),
      theme: z.string(),
      searches: z.number().nullable(),
      difficulty: z.number().nullable(),
    }),
  ),
  oldBy: ['plan', 'keywords', 'themes'],
})
