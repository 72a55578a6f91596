import { dayOf } from './calendar.ts'
import { Faults, parseFaults } from './faults.ts'
import { createStandin } from './server.ts'
import { createTruth } from './truth.ts'
import { makeWorld } from './world/world.ts'

/** Starts the stand-in from its environment: STANDIN_PORT, _SEED, _SIZE, _TODAY, _KEY, _FAULTS, _UNTHROTTLED, _TRUTH_PORT. */
const env = process.env
const numberFrom = (name: string, value: string | undefined, fallback: number): number => {
  const number = value ? Number(value) : fallback
  if (!Number.isFinite(number) || number < 0) throw new Error(`${name} must be a number of 0 or more, not "${value}"`)
  return number
}
const seed = numberFrom('STANDIN_SEED', env.STANDIN_SEED, 7)
const today = env.STANDIN_TODAY ? dayOf(env.STANDIN_TODAY) : Math.floor(Date.now() / 86_400_000)
if (!Number.isFinite(today)) throw new Error(`STANDIN_TODAY must be YYYY-MM-DD, not "${env.STANDIN_TODAY}"`)
const startedMs = performance.now()
const world = makeWorld(seed, numberFrom('STANDIN_SIZE', env.STANDIN_SIZE, 1), today)
const faults = new Faults(seed, parseFaults(env.STANDIN_FAULTS ?? ''))
const port = numberFrom('STANDIN_PORT', env.STANDIN_PORT, 4610)
const server = createStandin(world, {
  faults,
  throttled: env.STANDIN_UNTHROTTLED !== '1',
  key: env.STANDIN_KEY ?? 'demo-key',
})
const fail = (error: Error): void => {
  console.error(`stand-in: ${error.message}`)
  process.exit(1)
}
server.on('error', fail)
server.listen(port, '127.0.0.1', () => {
  console.log(
    `stand-in ready on 127.0.0.1:${port} in ${Math.round(performance.now() - startedMs)} ms: ${world.sites.length} sites, ${world.pages.length} pages, ${world.keywords.length} keywords, ${world.links.count} links`,
  )
})
if (env.STANDIN_TRUTH_PORT)
  createTruth(world, faults).on('error', fail).listen(Number(env.STANDIN_TRUTH_PORT), '127.0.0.1')
for (const signal of ['SIGINT', 'SIGTERM'] as const) process.on(signal, () => process.exit(0))
