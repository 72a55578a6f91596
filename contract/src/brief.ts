import { z } from 'zod'
import { acted } from './acts.ts'
import { endpoint } from './endpoint.ts'
import { secretLink } from './secret-links.ts'
import { id, day } from './common.ts'

const line = (most: number) => z.string().trim().max(most)
/** What a writer is given for a page. `wordsFrom`, `wordsTo`: length in words. `links`: own pages that should link to it. */
export const briefText = z.object({
  title: line(300),
  description: line(1_000),
  headings: z.array(line(300).min(1)).max(100),
  terms: z.array(line(100).min(1)).max(200),
  wordsFrom: z.int().min(0).max(100_000).nullable(),
  wordsTo: z.int().min(0).max(100_000).nullable(),
  links: z.array(z.object({ from: line(2_000).min(1), anchor: line(300) })).max(200),
  remarks: z.string().max(10_000),
})
export type BriefText = z.infer<typeof briefText>

/** One line of a brief held against the page as the crawler read it. `has`: what the page has there. */
export const briefCheck = z.object({
  what: z.enum(['title', 'description', 'heading', 'term', 'words', 'link', 'keyword']),
  wanted: z.string(),
  state: z.enum(['done', 'missing', 'different']),
  has: z.string().nullable(),
})
export type BriefCheck = z.infer<typeof briefCheck>

/** What can be taken into a brief with a click, and what the first results have. */
const offers = z.object({
  /** Questions people ask and longer keywords, with their searches; null = unknown. */
  headings: z.array(
    z.object({ text: z.string(), searches: z.number().nullable(), of: z.enum(['question', 'keyword']) }),
  ),
  /** Terms with how many of the first results use them, of how many. */
  terms: z.array(z.object({ term: z.string(), results: z.number(), marked: z.boolean() })),
  /** Of how many of the first results only title and snippet are known, not their text. */
  results: z.number(),
  read: z.number(),
  words: z.object({ from: z.number(), to: z.number(), pages: z.number() }).nullable(),
  links: z.array(
    z.object({ from: z.string(), title: z.string().nullable(), anchor: z.string(), searches: z.number().nullable() }),
  ),
  rivals: z.array(
    z.object({
      url: z.string(),
      title: z.string(),
      position: z.number(),
      words: z.number().nullable(),
      own: z.boolean(),
    }),
  ),
  /** Title and description to begin with. */
  title: z.string(),
  address: z.string().nullable(),
})
export const brief = z.object({
  pageId: z.number(),
  /** The market's language, in which words are compared. */
  language: z.string(),
  lead: z.string().nullable(),
  /** The day of the first results that the offers rest on; null where none are known. */
  resultsOn: z.string().nullable(),
  text: briefText,
  /** 0 = nothing was written yet. */
  version: z.number(),
  offers,
  /** The page as it was read last; null where it has no address or was not read. */
  page: z.object({ readOn: z.string(), title: z.string().nullable(), words: z.number().nullable() }).nullable(),
  checks: z.array(briefCheck),
})
export type Brief = z.infer<typeof brief>

const one = { siteId: id, pageId: id }
export const readBrief = endpoint({
  summary: 'The brief of a planned page, with what can be taken into it',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/pages/:pageId/brief',
  input: z.object({ ...one, marketId: id }),
  output: brief,
  oldBy: ['plan', 'keywords', 'crawls', 'job'],
})
/** Saves a brief. `version`: the one that was seen; one that somebody changed since is refused. */
export const saveBrief = endpoint({
  summary: 'Save the brief of a planned page',
  role: 'editor',
  errors: ['badInput', 'notFound', 'conflict'],
  method: 'PUT',
  path: '/api/sites/:siteId/pages/:pageId/brief',
  input: z.object({ ...one, version: z.int().min(0), text: briefText }),
  output: acted.extend({ version: z.number() }),
})
/** Reads the first ten results of a page's lead keyword, and the page itself where it has an address, with the crawler. */
export const readForBrief = endpoint({
  summary: "Read the first results of a page's lead keyword",
  role: 'editor',
  errors: ['badInput', 'notFound', 'conflict'],
  method: 'POST',
  path: '/api/sites/:siteId/pages/:pageId/brief/read',
  input: z.object({ ...one, marketId: id }),
  output: z.object({ jobId: z.number(), pages: z.number() }),
})

/** Pages planned by the day of their deadline; for files and subscriptions. */
export const readCalendarLink = endpoint({
  summary: "The secret address of the plan's calendar",
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/calendar-link',
  input: z.object({ siteId: id }),
  output: secretLink,
  oldBy: ['plan'],
})
/** Makes a new secret address, which ends the one before; with `end` there is none any more. */
export const renewCalendarLink = endpoint({
  summary: 'Make, renew or end the secret address of the calendar',
  role: 'editor',
  errors: ['badInput', 'notFound'],
  method: 'POST',
  path: '/api/sites/:siteId/calendar-link',
  input: z.object({ siteId: id, end: z.boolean().default(false) }),
  output: secretLink,
})

const capacity = {
  siteId: id,
  marketId: id,
  today: day,
  of: z.enum(['pages', 'days']),
  aMonth: z.coerce.number<number>().min(0.5).max(500),
  months: z.coerce.number<number>().int().min(1).max(12),
}
/**
 * A page that is chosen: the month (YYYY-MM) in which to make it. `seasonal`: its peak month, with the day by which it should be out;
 * `inTime`: whether it is.
 */
const chosenPage = z.object({
  pageId: z.number(),
  title: z.string(),
  kind: z.string(),
  month: z.string(),
  effort: z.number(),
  gain: z.number(),
  worth: z.number(),
  value: z.number(),
  mustBeIn: z.boolean(),
  peak: z.number().nullable(),
  outBy: z.string().nullable(),
  inTime: z.boolean().nullable(),
})
export const chooseFirst = endpoint({
  summary: 'What to make first',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/choice',
  input: z.object(capacity),
  /**
   * `total`: what the chosen bring until `until`, in money where a visit's worth is known, else in visits (`unit`). `below`: at most so
   * much more the best choice could bring, as a share. `missed`: what did not get in, with what forcing it in would cost. `oneMore`: what
   * one page or day more a month would add. `left`: pages whose gain is not known, with the reason. `settle`: days until a page stands
   * where it will, as `settleFrom` published pages of the site took on the median; 0: as is usual, since fewer than five tell.
   */
  output: z.object({
    unit: z.enum(['money', 'visits']),
    until: z.string(),
    settle: z.number(),
    settleFrom: z.number(),
    total: z.number(),
    below: z.number(),
    bySearches: z.number(),
    chosen: z.array(chosenPage),
    missed: z.array(z.object({ pageId: z.number(), title: z.string(), worth: z.number(), costs: z.number() })),
    oneMore: z.number(),
    unfit: z.array(z.object({ pageId: z.number(), title: z.string() })),
    left: z.array(z.object({ pageId: z.number(), title: z.string(), why: z.string() })),
    /** Visits a month over the next twelve, as today, with the chosen, and with the range that holds eight of ten cases. */
    outlook: z.object({
      months: z.array(z.string()),
      today: z.array(z.number()),
      withPlan: z.array(z.number()),
      low: z.array(z.number()),
      high: z.array(z.number()),
    }),
  }),
  oldBy: ['plan', 'keywords', 'positions', 'themes', 'job'],
})
/** What was expected of pages when they were published, and what came. `came` null: not known, or too early (`due` is the day). */
export const listOutcomes = endpoint({
  summary: 'What was expected of published pages, and what came',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/outcomes',
  input: z.object({ siteId: id, marketId: id, today: day }),
  output: z.array(
    z.object({
      pageId: z.number(),
      title: z.string(),
      publishedOn: z.string(),
      dueOn: z.string(),
      before: z.number().nullable(),
      expected: z.number().nullable(),
      low: z.number().nullable(),
      high: z.number().nullable(),
      came: z.number().nullable(),
    }),
  ),
  oldBy: ['plan', 'keywords', 'positions', 'job'],
})
