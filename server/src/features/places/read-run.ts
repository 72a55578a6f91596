import { AppError } from '@dew-trail/contract/errors'
import type { ListedBusiness, PlaceRunResults, PlaceSum } from '@dew-trail/contract/places'
import { registrableDomain } from '@dew-trail/core/links/registrable-domain'
import { sumRanks } from '@dew-trail/core/places/rank-figures'
import { ranksOf } from '@dew-trail/core/places/strongholds'
import type pg from 'pg'
import { needSite } from '../../domain/sites/need-market.ts'
import { type BusinessRow, manyBusinesses, manyPoints, manyRivalDomains, manyRuns, type PointRow } from './queries.ts'
import { needGrid, needRun } from './read-grids.ts'

/** Businesses other than the own whose figures are told, those that stand first most often. */
const mostOthers = 5

const siteOf = (url: string | null): string | null => (url && URL.canParse(url) ? registrableDomain(url) : null)

/** Tells own businesses and those of rivals. */
async function markedBusinesses(
  pool: pg.Pool,
  siteId: number,
  numbers: readonly number[],
  own: readonly number[],
): Promise<ListedBusiness[]> {
  const [site, rivals, rows] = await Promise.all([
    needSite(pool, siteId),
    manyRivalDomains(pool, siteId),
    manyBusinesses(pool, siteId, numbers),
  ])
  return rows.map((row: BusinessRow) => {
    const domain = siteOf(row.url)
    return {
      ...row,
      own: own.includes(row.number) || domain === site.domain,
      rival: domain !== null && rivals.includes(domain),
    }
  })
}

/** The results at each point of a run for one of its keywords. */
export async function readRun(pool: pg.Pool, siteId: number, runId: number, keyword: number): Promise<PlaceRunResults> {
  const { run, grid } = await needRun(pool, siteId, runId)
  const phrase = run.keywords[keyword]
  if (phrase === undefined) throw new AppError('badInput', `The run has ${run.keywords.length} keywords`)
  const rows = await manyPoints(pool, siteId, [runId], keyword)
  const points: Array<number[] | null> = Array.from({ length: grid.size * grid.size }, () => null)
  for (const { point, listings } of rows) points[point] = listings
  const numbers = new Set([...grid.businessIds, ...rows.flatMap(row => row.listings)])
  return {
    day: run.day,
    keyword: phrase,
    leftOut: run.leftOut,
    points,
    businesses: await markedBusinesses(pool, siteId, [...numbers], grid.businessIds),
  }
}

/** Figures of all runs of a grid, of own businesses and of those that lead most points of the newest run. */
export async function readSums(pool: pg.Pool, siteId: number, gridId: number): Promise<PlaceSum[]> {
  const grid = await needGrid(pool, siteId, gridId)
  const runs = await manyRuns(pool, siteId, gridId)
  const rows = await manyPoints(
    pool,
    siteId,
    runs.map(run => run.id),
    null,
  )
  const others = leadersOf(rows.filter(row => row.runId === runs[0]?.id)).filter(
    each => !grid.businessIds.includes(each),
  )
  const shown = [...grid.businessIds, ...others.slice(0, mostOthers)]
  const businesses = await markedBusinesses(pool, siteId, shown, grid.businessIds)
  const byPart = new Map<string, PointRow[]>()
  for (const row of rows) {
    const key = `${row.runId}:${row.keyword}`
    const of = byPart.get(key)
    if (of) of.push(row)
    else byPart.set(key, [row])
  }
  return runs.flatMap(run =>
    run.keywords.flatMap((keyword, at) => {
      const results = (byPart.get(`${run.id}:${at}`) ?? []).map(row => row.listings)
      if (!results.length) return []
      return businesses.map(({ number, name, own }) => {
        const { checked, mean, first3, found } = sumRanks(ranksOf(results, number), grid.depth)
        return {
          runId: run.id,
          day: run.day,
          keyword,
          business: number,
          name,
          own,
          checked,
          mean: mean!,
          first3,
          found,
        }
      })
    }),
  )
}
/** Businesses by how many points they lead, the most first. */
function leadersOf(rows: readonly PointRow[]): number[] {
  const leads = new Map<number, number>()
  for (const { listings } of rows) if (listings.length) leads.set(listings[0]!, (leads.get(listings[0]!) ?? 0) + 1)
  return [...leads].sort((a, b) => b[1] - a[1] || a[0] - b[0]).map(([number]) => number)
}
