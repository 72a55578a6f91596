import { z } from 'zod'
import { id } from './common.ts'
import { endpoint } from './endpoint.ts'

/** What a hook can tell of. */
export const hookEvents = ['alert', 'jobDone', 'jobFailed'] as const
export type HookEvent = (typeof hookEvents)[number]
export const hookEventNames: Record<HookEvent, string> = {
  alert: 'Alerts',
  jobDone: 'Finished work',
  jobFailed: 'Work that failed',
}
const events = z.array(z.enum(hookEvents)).min(1, 'Choose at least one kind of event').max(hookEvents.length)
const address = z.url({ protocol: /^https?$/, message: 'is not an address like https://name.example/path' }).max(2_000)

const webHook = z.object({
  id: z.number(),
  address: z.string(),
  events: z.array(z.enum(hookEvents)),
  active: z.boolean(),
  version: z.number(),
  /** The last delivery that came through, and the last that did not. */
  lastGoodAt: z.string().nullable(),
  lastFailure: z.object({ at: z.string(), what: z.string() }).nullable(),
})
export type WebHook = z.infer<typeof webHook>
const delivery = z.object({
  id: z.number(),
  hookId: z.number(),
  event: z.enum([...hookEvents, 'test']),
  title: z.string(),
  madeAt: z.string(),
  state: z.enum(['waiting', 'delivered', 'failed']),
  tries: z.number(),
  nextTryAt: z.string().nullable(),
  /** The status that the receiver answered with. */
  status: z.number().nullable(),
  what: z.string().nullable(),
})
export type Delivery = z.infer<typeof delivery>

const site = { siteId: id }
const hook = { ...site, hookId: id }
const owner = { role: 'owner', errors: ['badInput', 'notFound', 'conflict'] } as const

/** Hooks of a site, and their latest hundred deliveries, newest first. */
export const listWebHooks = endpoint({
  ...owner,
  summary: 'Web hooks of a site and what they sent',
  method: 'GET',
  path: '/api/sites/:siteId/web-hooks',
  input: z.object(site),
  output: z.object({ hooks: z.array(webHook), deliveries: z.array(delivery) }),
  oldBy: ['webHooks', 'job', 'alerts'],
})
/** Adds a hook. `secret`, shown this once, signs what is sent (docs/running.md). */
export const addWebHook = endpoint({
  ...owner,
  summary: 'Add a web hook',
  method: 'POST',
  path: '/api/sites/:siteId/web-hooks',
  input: z.object({ ...site, address, events }),
  output: z.object({ id: z.number(), secret: z.string() }),
})
export const changeWebHook = endpoint({
  ...owner,
  summary: 'Change a web hook',
  method: 'PATCH',
  path: '/api/sites/:siteId/web-hooks/:hookId',
  input: z.object({
    ...hook,
    version: z.int().min(1),
    address: address.optional(),
    events: events.optional(),
    active: z.boolean().optional(),
  }),
  output: z.object({ version: z.number() }),
})
export const removeWebHook = endpoint({
  ...owner,
  summary: 'Remove a web hook and what it sent',
  method: 'DELETE',
  path: '/api/sites/:siteId/web-hooks/:hookId',
  input: z.object(hook),
  output: z.object({}),
})
/** Sends a test now, once, and tells what came of it. */
export const testWebHook = endpoint({
  ...owner,
  summary: 'Send a test to a web hook',
  method: 'POST',
  path: '/api/sites/:siteId/web-hooks/:hookId/test',
  input: z.object(hook),
  output: z.object({ delivered: z.boolean(), status: z.number().nullable(), what: z.string().nullable() }),
})
/** Tries a delivery that failed again. */
export const retryDelivery = endpoint({
  ...owner,
  summary: 'Try a failed delivery again',
  method: 'POST',
  path: '/api/sites/:siteId/web-hooks/:hookId/deliveries/:deliveryId/retry',
  input: z.object({ ...hook, deliveryId: id }),
  output: z.object({}),
})
