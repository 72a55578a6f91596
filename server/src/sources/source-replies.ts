import { day } from '@dew-trail/contract/common'
import { z } from 'zod'

// What sources answer, and what is taken of it: entries that are wrong are left out, the others kept.

/** More than anything that is counted, and as much as the database's integers hold. */
const most = 2_000_000_000
/** A figure of a source. What no such figure can be is not known: one slip of a source must not end the work on everything else it said. */
const figureUpTo = (limit: number) =>
  z
    .number()
    .nullable()
    .transform(value => (value !== null && value >= 0 && value <= limit ? value : null))
export const counted = figureUpTo(most)
/** Money in millionths of a unit: up to a million units. */
const micros = figureUpTo(1e12)
/** A list without the entries that do not pass. */
const goodOnes = <T extends z.ZodType>(entry: T, isGood: (value: z.output<T>) => boolean) =>
  z.array(entry).transform(list => list.filter(isGood))
/** A day of a source; one that cannot be is not known. */
const dayOrNone = z
  .string()
  .nullable()
  .transform(text => (day.safeParse(text).success ? text : null))

const result = z.object({
  position: z.number().int().positive(),
  url: z.string(),
  title: z.string(),
  snippet: z.string(),
})
export const searchReply = z.object({
  date: day,
  /** How many results the engine reports; rough. */
  total: counted.default(null),
  first_page: z.number(),
  organic: goodOnes(result, ({ position }) => position <= 1_000),
  ads: z.array(z.unknown()),
  answer: z.unknown().nullable(),
  questions: z.array(z.string()),
  images: z.array(z.unknown()),
  shopping: z.array(z.unknown()),
  map: z.array(z.unknown()),
  related: z.array(z.string()),
})
export type SearchReply = z.infer<typeof searchReply>
export const completionReply = z.tuple([z.string(), z.array(z.string())])
export const figure = z.object({
  text: z.string(),
  average: counted,
  monthly: goodOnes(
    z.object({ month: z.string().regex(/^(19|20)\d\d-(0[1-9]|1[0-2])$/), searches: z.number() }),
    ({ searches }) => searches >= 0 && searches <= most,
  ),
  competition_index: figureUpTo(100),
  cpc_micros: micros,
  low_bid_micros: micros,
  high_bid_micros: micros,
  worldwide: counted.default(null),
  mobile_share: z.number().min(0).max(1).nullable().default(null),
  /** Searches of exactly this wording, of phrases that hold it in this order, and of phrases with its words in any order. */
  match: z.object({ exact: counted, phrase: counted, broad: counted }).nullable().default(null),
  as_of: z.string(),
})
export type AdsFigure = z.infer<typeof figure>
export const total = z.object({
  target: z.string(),
  known: z.boolean(),
  links: counted,
  linking_sites: counted,
})
export type LinkTotal = z.infer<typeof total>
export const advertisedReply = z.object({
  month: z.string().regex(/^\d{4}-\d{2}$/),
  keywords: z.array(z.object({ text: z.string(), position: counted, spend_micros: micros })),
  next_cursor: z.string().nullable(),
})
/** What a site paid for in a month (YYYY-MM), most spent first; `spend` in the currency of the ads data. */
export type Advertised = { month: string; rows: Array<{ text: string; position: number; spend: number }> }
export const logReply = z.object({
  rows: goodOnes(
    z.object({
      query: z.string(),
      country: z.string(),
      device: z.enum(['desktop', 'mobile']),
      clicks: z.number().int().min(0),
      impressions: z.number().int().min(0),
      position: z.number().min(0),
      /** The own page that was shown; empty where it was not asked for. */
      page: z.string().default(''),
    }),
    ({ clicks, impressions, position }) => clicks <= most && impressions <= most && position <= 1_000,
  ),
  total: z.number().int(),
})
export type LogRow = z.infer<typeof logReply>['rows'][number]
const feedLink = z.object({
  source: z.string(),
  source_address: z.union([z.ipv4(), z.ipv6()]).nullable().default(null),
  source_country: z
    .string()
    .regex(/^[A-Z]{2}$/)
    .nullable()
    .default(null),
  source_shares: counted.default(null),
  target_shares: counted.default(null),
  target: z.string(),
  rel: z.string(),
  kind: z.enum(['text', 'image', 'redirect', 'frame']),
  anchor: z.string(),
  first_seen: dayOrNone,
  last_seen: dayOrNone,
  lost: z.boolean(),
})
export type FeedLink = z.infer<typeof feedLink>
export const enginesReply = z.object({
  engines: z
    .array(
      z.object({
        engine: z.string().min(1).max(40),
        name: z.string(),
        page: z.string().nullable().default(null),
        devices: z.array(z.enum(['desktop', 'mobile'])).min(1),
        places: z
          .array(
            z.object({
              place: z.string().min(1).max(60),
              name: z.string(),
              country: z.string(),
              languages: z.array(z.object({ language: z.string().length(2), name: z.string() })).min(1),
            }),
          )
          .min(1),
      }),
    )
    .min(1),
})
export const feedsReply = z.object({ feeds: z.array(z.object({ feed: z.string().min(1).max(40), name: z.string() })) })
export const feedReply = z.object({ links: z.array(feedLink), next_cursor: z.string().nullable() })
export const rankingsReply = z.object({
  month: z.string().regex(/^(19|20)\d\d-(0[1-9]|1[0-2])$/),
  as_of: day,
  keywords: z.number().int().min(0),
  total: z.number().int().min(0),
  rows: goodOnes(
    z.object({ text: z.string(), position: z.number().int(), url: z.string() }),
    ({ position }) => position >= 1 && position <= 100,
  ),
  next_cursor: z.string().nullable(),
})
export type RankingsReply = z.output<typeof rankingsReply>
export const rdap = z.object({
  objectClassName: z.literal('domain'),
  events: z.array(z.object({ eventAction: z.string(), eventDate: z.string() })).default([]),
})
