import type { Town, TownMap } from '@dew-trail/contract/places'
import type { Coordinates } from '@dew-trail/core/places/grid-points'
import { LRUCache } from 'lru-cache'
import { z } from 'zod'
import type { Sources } from './sources.ts'

const dayText = z.iso.date()
/** A day of a source; one that cannot be is not known. */
const dayOrNone = z
  .string()
  .nullable()
  .default(null)
  .transform(text => (dayText.safeParse(text).success ? text : null))
const counted = z
  .number()
  .nullable()
  .default(null)
  .transform(value => (value !== null && value >= 0 && value < 2_000_000_000 ? Math.round(value) : null))
const short = (most: number) => z.string().max(most).nullable().default(null)
const listing = z.object({
  id: z.string().min(1).max(80),
  name: z.string().min(1).max(500),
  category: z.string().max(200).default(''),
  street: short(300),
  phone: short(60),
  url: short(2_000),
  rating: z.number().min(0).max(10).nullable().default(null),
  reviews: counted,
  photos: counted,
  hours: short(200),
  opened_on: dayOrNone,
  latitude: z.number().min(-90).max(90),
  longitude: z.number().min(-180).max(180),
})
/** A business as the local results and the town map tell it. */
export type SourceListing = z.output<typeof listing>

const localReply = z.object({ date: dayText, results: z.array(listing).max(100) })
const townsReply = z.object({
  places: z.array(
    z.object({
      code: z.string().min(1).max(80),
      name: z.string(),
      country: z.string(),
      language: z.string(),
      latitude: z.number(),
      longitude: z.number(),
      has_map: z.boolean(),
    }),
  ),
})
const geometry = z.object({ type: z.string(), coordinates: z.unknown() })
const mapReply = z.object({
  features: z.array(z.object({ geometry, properties: z.record(z.string(), z.unknown()).nullable() })).max(50_000),
})
const businessesReply = z.object({
  features: z.array(z.object({ properties: z.unknown() })).max(20_000),
})

const withSignal = (signal: AbortSignal | undefined): { signal?: AbortSignal } => (signal ? { signal } : {})

/** The local results at a point, the first first. `day`: of a past day; null: now. */
export async function askLocal(
  { clients }: Sources,
  of: { engine: string; language: string; phrase: string; point: Coordinates; depth: number; day: string | null },
  signal?: AbortSignal,
): Promise<{ day: string; listings: SourceListing[] }> {
  const reply = await clients.engines.ask({
    path: `/engines/${encodeURIComponent(of.engine)}/local`,
    query: {
      q: of.phrase,
      language: of.language,
      near: `${of.point.latitude},${of.point.longitude}`,
      num: of.depth,
      ...(of.day ? { date: of.day } : {}),
    },
    reply: localReply,
    ...withSignal(signal),
  })
  return { day: reply!.date, listings: reply!.results.slice(0, of.depth) }
}

type Kept = { towns: Town[] } | { map: TownMap } | { businesses: SourceListing[] }
/** What a map says changes seldom: it is asked for once an hour at most. */
const kept = new WeakMap<Sources, LRUCache<string, Kept>>()
async function once<Value extends Kept>(sources: Sources, key: string, ask: () => Promise<Value>): Promise<Value> {
  let cache = kept.get(sources)
  if (!cache) kept.set(sources, (cache = new LRUCache({ max: 60, ttl: 3_600_000 })))
  const known = cache.get(key) as Value | undefined
  if (known) return known
  const value = await ask()
  cache.set(key, value)
  return value
}

/** Towns of which the source has a map. */
export async function askTowns(sources: Sources): Promise<Town[]> {
  const { towns } = await once(sources, 'towns', async () => {
    const reply = await sources.clients.maps.ask({ path: '/maps/places', reply: townsReply })
    return { towns: reply!.places.filter(each => each.has_map).map(({ has_map: _, ...each }) => each) }
  })
  return towns
}
/** Streets, coast and sea of a town; null where the source has no map of it. */
export async function askTownMap(sources: Sources, town: string): Promise<TownMap | null> {
  const { map } = await once(sources, `map ${town}`, async () => {
    const path = `/maps/towns/${encodeURIComponent(town)}.geojson`
    const reply = await sources.clients.maps.ask({ path, reply: mapReply, absentOn404: true })
    return { map: reply && townMapOf(reply.features) } as { map: TownMap }
  })
  return map
}
/** Businesses of a town; those that are not shaped as agreed are left out. */
export async function askBusinesses(sources: Sources, town: string): Promise<SourceListing[]> {
  const { businesses } = await once(sources, `businesses ${town}`, async () => {
    const path = `/maps/businesses/${encodeURIComponent(town)}.geojson`
    const reply = await sources.clients.maps.ask({ path, reply: businessesReply, absentOn404: true })
    return {
      businesses: (reply?.features ?? []).flatMap(({ properties }) => {
        const read = listing.safeParse(properties)
        return read.success ? [read.data] : []
      }),
    }
  })
  return businesses
}

type Feature = z.output<typeof mapReply>['features'][number]
const kinds = ['coast', 'main', 'side'] as const
/** Areas and lines of GeoJSON features (RFC 7946), which has longitude first; what is of another shape is passed over. */
export function townMapOf(features: readonly Feature[]): TownMap {
  const map: TownMap = { sea: [], lines: [] }
  for (const { geometry: shape, properties } of features) {
    const kind = String(properties?.class ?? '')
    if (shape.type === 'Polygon' && kind === 'sea') {
      const ring = lineOf((shape.coordinates as unknown[])?.[0])
      if (ring) map.sea.push(ring)
    } else if (shape.type === 'LineString') {
      const line = lineOf(shape.coordinates)
      const name = typeof properties?.name === 'string' ? properties.name.slice(0, 200) : null
      if (line) map.lines.push({ kind: kinds.find(each => each === kind) ?? 'side', name, line })
    }
  }
  return map
}
function lineOf(coordinates: unknown): Array<[number, number]> | null {
  if (!Array.isArray(coordinates) || coordinates.length < 2) return null
  const line = coordinates.flatMap(
    (pair: unknown): Array<[number, number]> =>
      Array.isArray(pair) && Number.isFinite(pair[0]) && Number.isFinite(pair[1])
        ? [[pair[1] as number, pair[0] as number]]
        : [],
  )
  return line.length === coordinates.length ? line : null
}
