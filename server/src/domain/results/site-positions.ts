import { LRUCache } from 'lru-cache'
import { figuresVersion } from '../../platform/db/figures-change.ts'
import type { Db } from '../../platform/db/pool.ts'
import { manySitePositions, type Positions } from './queries.ts'

/** Positions of so many are held: a site has one for each place at which it stands, a hundred at most. */
const mostHeld = 200_000
type Held = { version: string; positions: Positions[] }
const held = new WeakMap<object, LRUCache<string, Held>>()

/**
 * At how many keywords of a market sites stand at which position (`manySitePositions`). The same few sites stand on one first page after the
 * other, and of each all its keywords are counted: what was counted is held until results or figures of the research change.
 */
export async function sitePositions(
  db: Db,
  siteId: number,
  market: { id: number; place: string },
  domains: readonly string[],
): Promise<Positions[]> {
  let cache = held.get(db)
  if (!cache)
    held.set(db, (cache = new LRUCache({ maxSize: mostHeld, sizeCalculation: each => each.positions.length + 1 })))
  const version = await figuresVersion(db, siteId)
  const keyOf = (domain: string): string => `${siteId} ${market.id} ${domain}`
  const known: Positions[] = []
  const missing: string[] = []
  for (const domain of new Set(domains)) {
    const found = cache.get(keyOf(domain))
    if (found?.version === version) known.push(...found.positions)
    else missing.push(domain)
  }
  if (!missing.length) return known
  const counted = await manySitePositions(db, siteId, market, missing)
  for (const domain of missing)
    cache.set(keyOf(domain), { version, positions: counted.filter(each => each.name === domain) })
  return [...known, ...counted]
}
