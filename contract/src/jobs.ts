import { z } from 'zod'
import { endpoint } from './endpoint.ts'
import { id } from './common.ts'

export const jobKinds = [
  'gather',
  'figures',
  'names',
  'counts',
  'weigh',
  'check',
  'importKeywords',
  'importPositions',
  'importLog',
  'importLinks',
  'importThemes',
  'importPopularity',
  'importPages',
  'importGraph',
  'takeBack',
  'log',
  'crawl',
  'feeds',
  'rank',
  'rankings',
  'sweep',
  'voices',
  'learn',
  'scale',
  'group',
  'places',
  'readLinks',
  'readForBrief',
  'backup',
] as const
export const jobStates = ['waiting', 'running', 'paused', 'done', 'failed', 'cancelled'] as const
export type JobKind = (typeof jobKinds)[number]
export type JobState = (typeof jobStates)[number]

/**
 * Work in the background. `warnings`: what went wrong on the way, one line a kind, with how often. `stopping`: it was asked to pause or
 * cancel and has not come to a place where it can.
 */
export const job = z.object({
  id: z.number(),
  /** Null: work of the whole installation. */
  siteId: z.number().nullable(),
  kind: z.enum(jobKinds),
  state: z.enum(jobStates),
  stopping: z.boolean(),
  title: z.string(),
  done: z.number(),
  total: z.number().nullable(),
  secondsLeft: z.number().nullable(),
  warnings: z.array(z.object({ what: z.string(), times: z.number() })),
  error: z.string().nullable(),
  createdAt: z.string(),
  endedAt: z.string().nullable(),
  result: z.record(z.string(), z.unknown()).nullable(),
})
export type Job = z.infer<typeof job>

export const listJobs = endpoint({
  summary: 'Jobs of a site',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/jobs',
  input: z.object({ siteId: id }),
  output: z.array(job),
  oldBy: ['job'],
})
/** Ended and open work of a site, and of the whole installation, the newest first, fifty at a time; `before`: the id of the last one seen. */
export const listWork = endpoint({
  summary: 'The log of work',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/work',
  input: z.object({
    siteId: id,
    state: z.enum(jobStates).optional(),
    kind: z.enum(jobKinds).optional(),
    /** With warnings or an error. */
    wrong: z.enum(['yes']).optional(),
    before: id.optional(),
  }),
  output: z.object({ jobs: z.array(job), kinds: z.array(z.enum(jobKinds)) }),
  oldBy: ['job'],
})
export const getJob = endpoint({
  summary: 'A job',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/jobs/:jobId',
  input: z.object({ jobId: id }),
  output: job,
})
export const actOnJob = endpoint({
  summary: 'Pause, resume, cancel or retry a job',
  role: 'editor',
  errors: ['badInput', 'notFound', 'conflict'],
  method: 'POST',
  path: '/api/jobs/:jobId/action',
  input: z.object({ jobId: id, action: z.enum(['pause', 'resume', 'cancel', 'retry']) }),
  output: job,
})

/** What the event stream of a site tells: something of this kind changed; fetch what you show. */
export const siteEvent = z.discriminatedUnion('type', [
  z.object({
    type: z.enum([
      'keywords',
      'gatherings',
      'plan',
      'positions',
      'crawls',
      'schedules',
      'notes',
      'lists',
      'vetted',
      'brands',
      'acts',
      'sites',
      'rivals',
      'prospects',
      'disavowed',
      'themes',
      'finds',
      'places',
      'alerts',
      'reports',
      'people',
      'keeping',
      'webHooks',
    ]),
  }),
  z.object({ type: z.literal('job'), job }),
])
export type SiteEvent = z.infer<typeof siteEvent>
/** What of a site changed, where no more is told. */
export type SiteChange = Exclude<SiteEvent['type'], 'job'>

/** One stream tells of several sites: a browser has few connections to a server, and every stream holds one. */
export const siteMessage = z.object({ siteId: z.number(), event: siteEvent })
export type SiteMessage = z.infer<typeof siteMessage>
export const eventsQuery = z.object({
  siteIds: z
    .string()
    .regex(/^\d+(,\d+)*$/, 'Name the sites by their numbers, with commas between them')
    .transform(text => [...new Set(text.split(','))])
    .transform(parts => parts.map(Number))
    .pipe(z.array(z.number().int().min(1).max(2_147_483_647)).max(100, 'At most 100 sites at a time')),
})
