import { gridSizes } from '@dew-trail/core/places/grid-points'
import { z } from 'zod'
import { day, id, text } from './common.ts'
import { endpoint } from './endpoint.ts'
import { rhythm } from './schedules.ts'

const site = { siteId: id }
const coordinates = {
  latitude: z.number().min(-85).max(85),
  longitude: z.number().min(-180).max(180),
}
/** What the source calls a town, a business. */
const code = text(80).min(1)

export const town = z.object({
  code: z.string(),
  name: z.string(),
  country: z.string(),
  language: z.string(),
  latitude: z.number(),
  longitude: z.number(),
})
export type Town = z.infer<typeof town>
export const listTowns = endpoint({
  summary: 'Towns of which there is a map',
  role: 'reader',
  errors: ['badInput', 'notFound', 'sourceFailed', 'quotaUsed'],
  method: 'GET',
  path: '/api/sites/:siteId/places/towns',
  input: z.object(site),
  output: z.array(town),
})

/** A business as a source lists it; null is what it does not tell. */
export const business = z.object({
  id: z.string(),
  name: z.string(),
  category: z.string(),
  street: z.string().nullable(),
  phone: z.string().nullable(),
  url: z.string().nullable(),
  rating: z.number().nullable(),
  reviews: z.number().nullable(),
  photos: z.number().nullable(),
  hours: z.string().nullable(),
  openedOn: z.string().nullable(),
  latitude: z.number(),
  longitude: z.number(),
})
export type Business = z.infer<typeof business>

/** Lines and areas of a town: pairs of latitude and longitude. */
const line = z.array(z.tuple([z.number(), z.number()]))
export const townMap = z.object({
  sea: z.array(line),
  lines: z.array(z.object({ kind: z.enum(['coast', 'main', 'side']), name: z.string().nullable(), line })),
})
export type TownMap = z.infer<typeof townMap>
export const readTown = endpoint({
  summary: 'Streets, coast and businesses of a town',
  role: 'reader',
  errors: ['badInput', 'notFound', 'sourceFailed', 'quotaUsed'],
  method: 'GET',
  path: '/api/sites/:siteId/places/towns/:town',
  input: z.object({ ...site, town: code }),
  output: z.object({ map: townMap, businesses: z.array(business.extend({ own: z.boolean() })) }),
})

const keywords = z.array(text(200).min(1)).min(1).max(10)
export const placeRun = z.object({
  id: z.number(),
  day: z.string(),
  keywords: z.array(z.string()),
  /** Requests that it takes, and points of which it has the results. */
  wanted: z.number(),
  checked: z.number(),
  jobId: z.number().nullable(),
})
export type PlaceRun = z.infer<typeof placeRun>
/** Positions of businesses over a square of points, and its runs, the newest first. */
export const placeGrid = z.object({
  id: z.number(),
  name: z.string(),
  town: z.string(),
  townName: z.string(),
  engine: z.string(),
  language: z.string(),
  keywords: z.array(z.string()),
  businesses: z.array(
    z.object({ number: z.number(), id: z.string(), name: z.string(), latitude: z.number(), longitude: z.number() }),
  ),
  latitude: z.number(),
  longitude: z.number(),
  size: z.number(),
  spacing: z.number(),
  depth: z.number(),
  leftOut: z.array(z.number()),
  version: z.number(),
  runs: z.array(placeRun),
  schedule: z
    .object({
      rhythm,
      nextAt: z.string(),
      lastAt: z.string().nullable(),
      wasLate: z.boolean(),
      lastError: z.string().nullable(),
    })
    .nullable(),
})
export type PlaceGrid = z.infer<typeof placeGrid>
export const listPlaceGrids = endpoint({
  summary: 'Grids over towns, with their runs',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/places/grids',
  input: z.object(site),
  output: z.object({ timeZone: z.string(), grids: z.array(placeGrid) }),
  oldBy: ['places', 'schedules', 'job'],
})

export const createPlaceGrid = endpoint({
  summary: 'Lay a grid over a town',
  role: 'editor',
  errors: ['badInput', 'notFound', 'sourceFailed', 'quotaUsed'],
  method: 'POST',
  path: '/api/sites/:siteId/places/grids',
  input: z.object({
    ...site,
    name: text(200).optional(),
    town: code,
    engine: text(40).min(1),
    language: z.string().length(2),
    keywords,
    /** Businesses of one owner, as the source calls them. */
    businesses: z.array(code).min(1).max(10),
    ...coordinates,
    size: z.number().refine(size => (gridSizes as readonly number[]).includes(size), 'must be odd, from 3 to 21'),
    spacing: z.number().int().min(20).max(5_000),
  }),
  output: z.object({ gridId: z.number(), actId: z.number().nullable() }),
})
export const changePlaceGrid = endpoint({
  summary: 'Change a grid for its next runs',
  role: 'editor',
  errors: ['badInput', 'notFound', 'conflict'],
  method: 'PATCH',
  path: '/api/sites/:siteId/places/grids/:gridId',
  input: z.object({
    ...site,
    gridId: id,
    version: z.number().int(),
    name: text(200).min(1).optional(),
    keywords: keywords.optional(),
    /** Points that are not asked about, row by row from the north-west. */
    leftOut: z.array(z.number().int().min(0).max(440)).max(440).optional(),
  }),
  output: z.object({ actId: z.number().nullable() }),
})
export const removePlaceGrid = endpoint({
  summary: 'Remove a grid with its runs',
  role: 'editor',
  errors: ['badInput', 'notFound'],
  method: 'DELETE',
  path: '/api/sites/:siteId/places/grids/:gridId',
  input: z.object({ ...site, gridId: id }),
  output: z.object({ actId: z.number().nullable() }),
})
export const startPlaceRun = endpoint({
  summary: 'Run a grid, or what failed of a run again',
  role: 'editor',
  errors: ['badInput', 'notFound', 'conflict'],
  method: 'POST',
  path: '/api/sites/:siteId/places/grids/:gridId/runs',
  /** `runId`: asks only about the points that this run lacks. `day`: of a past day, where the engine still gives its results. */
  input: z.object({ ...site, gridId: id, runId: id.optional(), day: day.optional() }),
  output: z.object({ runId: z.number(), jobId: z.number(), requests: z.number() }),
})
export const removePlaceRun = endpoint({
  summary: 'Remove a run of a grid',
  role: 'editor',
  errors: ['badInput', 'notFound'],
  method: 'DELETE',
  path: '/api/sites/:siteId/places/runs/:runId',
  input: z.object({ ...site, runId: id }),
  output: z.object({ actId: z.number().nullable() }),
})
export const setPlaceSchedule = endpoint({
  summary: 'Run a grid on a schedule, or no longer',
  role: 'editor',
  errors: ['badInput', 'notFound'],
  method: 'PUT',
  path: '/api/sites/:siteId/places/grids/:gridId/schedule',
  input: z.object({ ...site, gridId: id, rhythm: rhythm.nullable() }),
  output: z.object({}),
})

/** A business by the number that points of runs refer to. */
export const listedBusiness = business.extend({ number: z.number(), own: z.boolean(), rival: z.boolean() })
export type ListedBusiness = z.infer<typeof listedBusiness>
export const readPlaceRun = endpoint({
  summary: 'Who is listed at each point of a run',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/places/runs/:runId',
  /** `keyword`: its place in the run's keywords. */
  input: z.object({ ...site, runId: id, keyword: z.coerce.number().int().min(0).max(9).default(0) }),
  output: z.object({
    day: z.string(),
    keyword: z.string(),
    leftOut: z.array(z.number()),
    /** Numbers of businesses at each point of the grid, the first first; null where it was not checked. */
    points: z.array(z.array(z.number()).nullable()),
    businesses: z.array(listedBusiness),
  }),
  oldBy: ['places'],
})
export type PlaceRunResults = z.infer<(typeof readPlaceRun)['output']>

/** How a business stood for a keyword in a run. `mean`: not found counts as one below the last result. */
export const placeSum = z.object({
  runId: z.number(),
  day: z.string(),
  keyword: z.string(),
  business: z.number(),
  name: z.string(),
  own: z.boolean(),
  checked: z.number(),
  mean: z.number(),
  first3: z.number(),
  found: z.number(),
})
export type PlaceSum = z.infer<typeof placeSum>
export const listPlaceSums = endpoint({
  summary: 'Figures of all runs of a grid',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/places/grids/:gridId/sums',
  input: z.object({ ...site, gridId: id }),
  /** Of the own businesses and of those that stand first most often in the newest run. */
  output: z.array(placeSum),
  oldBy: ['places'],
})

export const doubtfulListing = business.extend({
  own: z.boolean(),
  /** Sum of the signs; 2 is doubtful. */
  weight: z.number(),
  reasons: z.array(z.string()),
})
export type DoubtfulListing = z.infer<typeof doubtfulListing>
export const listDoubtfulListings = endpoint({
  summary: 'Listings of a town that may not be what they say',
  role: 'reader',
  errors: ['badInput', 'notFound', 'sourceFailed', 'quotaUsed'],
  method: 'GET',
  path: '/api/sites/:siteId/places/towns/:town/doubtful',
  input: z.object({ ...site, town: code }),
  output: z.object({ looked: z.number(), rows: z.array(doubtfulListing) }),
  oldBy: ['crawls'],
})
