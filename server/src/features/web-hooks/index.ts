import type { Feature } from '../../feature.ts'
import { deleteOldDeliveries } from '../../domain/web-hooks/queries.ts'
import { mountWebHooks } from './routes.ts'

/** How long it can be seen what was sent. */
const keptDays = 30

export const webHooksFeature: Feature = {
  mount: mountWebHooks,
  minutely: { 'web-hooks': async ({ hooks, pool }) => void (await hooks.sendDue(pool)) },
  nightly: { 'old-deliveries': ({ pool }) => deleteOldDeliveries(pool, keptDays) },
}
