import { z } from 'zod'
import { day, id } from './common.ts'
import { endpoint } from './endpoint.ts'
import { positionValue } from './track.ts'

const site = { siteId: id }
const onDay = z.object({ day: z.string(), around: z.number().nullable() })
/** What speaks for a reason; as `Evidence` of core/positions/likely-reason. */
export const evidence = z.discriminatedUnion('kind', [
  onDay.extend({ kind: z.literal('shift'), extent: z.number() }),
  onDay.extend({ kind: z.literal('ownChange'), text: z.string(), touched: z.number(), others: z.number() }),
  onDay.extend({ kind: z.literal('swap'), from: z.string(), to: z.string() }),
  z.object({ kind: z.literal('competing'), pages: z.tuple([z.string(), z.string()]) }),
  z.object({
    kind: z.literal('rivalPage'),
    pages: z.array(z.object({ domain: z.string(), url: z.string(), position: z.number() })),
    came: z.boolean(),
  }),
  z.object({ kind: z.literal('links'), gained: z.number(), lost: z.number(), ofPage: z.boolean() }),
  onDay.extend({ kind: z.literal('feature'), names: z.array(z.string()), came: z.boolean() }),
])
export const reasonKinds = [
  'shift',
  'ownChange',
  'swap',
  'competing',
  'rivalPage',
  'links',
  'feature',
  'unknown',
] as const
const reason = z.object({ kind: z.enum(reasonKinds), share: z.number(), evidence: evidence.nullable() })
export type ChangeReason = z.infer<typeof reason>

const moved = z.object({
  keywordId: z.number(),
  phrase: z.string(),
  searches: z.number().nullable(),
  before: positionValue,
  now: positionValue,
  /** Places gained (above 0) or lost; where it was not found on one of the days, as if one beyond the depth. */
  gained: z.number(),
  /** How much it moves without anything having happened. */
  usual: z.number(),
  /** Visits a month won (above 0) or lost, null where searches are unknown. */
  visits: z.number().nullable(),
  page: z.string().nullable(),
  /** Likeliest first. */
  reasons: z.array(reason),
})
export type MovedKeyword = z.infer<typeof moved>
const shift = z.object({
  engine: z.string(),
  day: z.string(),
  /** Mean places by which keywords stood elsewhere than the day before, and what is usual. */
  moved: z.number(),
  usual: z.number(),
  /** Robust standard deviations above the usual day. */
  size: z.number(),
  keywords: z.number(),
  devices: z.array(z.object({ device: z.string(), moved: z.number(), usual: z.number() })),
  /** Own pages by where they stand in the site: places gained (above 0) or lost around the day. */
  kinds: z.array(z.object({ name: z.string(), keywords: z.number(), gained: z.number() })),
})
export type Shift = z.infer<typeof shift>

/**
 * What moved since a day beyond its noise, most visits first (at most 300 keywords), and the likely reason of each. `compared`: keywords
 * whose position is known on both days; `usual`: those of them that moved no more than they do anyway.
 */
export const readChanges = endpoint({
  summary: 'What happened since a day, and why',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/changes',
  input: z.object({ ...site, marketId: id, since: day }),
  output: z.object({
    since: z.string(),
    day: z.string().nullable(),
    compared: z.number(),
    usual: z.number(),
    /** Keywords that moved beyond their usual. */
    moved: z.number(),
    /** Visits a month over all compared keywords whose searches are known. */
    visits: z.object({ before: z.number(), now: z.number() }).nullable(),
    /** Searches of the compared keywords this month against the month of `since`, as a share (0.1 = a tenth more); null where unknown. */
    season: z.number().nullable(),
    reasons: z.array(z.object({ kind: z.enum(reasonKinds), keywords: z.number(), won: z.number(), lost: z.number() })),
    keywords: z.array(moved),
    shifts: z.array(shift),
  }),
  oldBy: ['positions', 'notes', 'plan'],
})
export type Changes = z.infer<(typeof readChanges)['output']>

export const listShifts = endpoint({
  summary: 'Days on which engines shifted',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/shifts',
  input: z.object({ ...site, days: z.coerce.number().int().min(30).max(800).default(400) }),
  output: z.array(shift),
  oldBy: ['positions'],
})

const effect = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('wholeSite') }),
  z.object({ kind: z.literal('tooEarly'), daysLeft: z.number() }),
  z.object({ kind: z.literal('tooFew'), touched: z.number(), controls: z.number() }),
  z.object({
    kind: z.literal('known'),
    positions: z.number(),
    low: z.number(),
    high: z.number(),
    chance: z.number(),
    clear: z.boolean(),
    touched: z.number(),
    controls: z.number(),
    before: z.number(),
    after: z.number(),
    without: z.number(),
    /** Visits a month that came of it, with the same interval; null where no searches are known. */
    visits: z.object({ value: z.number(), low: z.number(), high: z.number() }).nullable(),
  }),
])
export type NoteEffect = z.infer<typeof effect>
/** Whether what a note tells of helped: the touched keywords against comparable ones of the market, in one sentence. */
export const readEffect = endpoint({
  summary: 'Did it help? The effect of a noted change',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/notes/:noteId/effect',
  input: z.object({ ...site, noteId: id, marketId: id }),
  output: z.object({ effect, sentence: z.string() }),
  oldBy: ['positions', 'notes', 'plan'],
})
