import {
  listPlaceGrids,
  type ListedBusiness,
  type PlaceGrid,
  type PlaceRun,
  readPlaceRun,
} from '@dew-trail/contract/places'
import { gridPoints } from '@dew-trail/core/places/grid-points'
import { bestRanksOf, ranksOf } from '@dew-trail/core/places/strongholds'
import { useMemo } from 'react'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { useSite } from '../../ui/site-context.ts'
import { useAddress } from '../../ui/use-address.ts'

export const tabs = {
  map: 'Map',
  points: 'Points',
  strongholds: 'Strongholds',
  runs: 'All runs',
  doubtful: 'Doubtful listings',
} as const

/** The grids of the site, and the one that the address names, else the newest. */
export function useGrids() {
  const { site } = useSite()
  const [params] = useAddress()
  const { data, error } = useEndpoint(listPlaceGrids, { siteId: site.id }, { keep: true })
  const grids = data?.grids
  const grid = grids?.find(each => String(each.id) === params.get('grid')) ?? grids?.[0] ?? null
  return { grids, grid, timeZone: data?.timeZone ?? 'UTC', error }
}

/** What of a grid is looked at, as the address says: run, keyword, whose positions, and the run beside. */
export function useLookedAt(grid: PlaceGrid) {
  const [params] = useAddress()
  const keyword = grid.keywords.includes(params.get('keyword') ?? '') ? params.get('keyword')! : null
  const has = (run: PlaceRun): boolean => keyword === null || run.keywords.includes(keyword)
  const run =
    grid.runs.find(each => String(each.id) === params.get('run')) ??
    grid.runs.find(each => has(each) && each.checked > 0) ??
    grid.runs[0] ??
    null
  const beside = grid.runs.find(each => String(each.id) === params.get('beside') && each.id !== run?.id) ?? null
  const phrase = keyword && run?.keywords.includes(keyword) ? keyword : (run?.keywords[0] ?? grid.keywords[0]!)
  return { run, beside, phrase }
}

/** Results of a run for a keyword; null while they are loading, or where the run has none of the keyword. */
export function useResults(run: PlaceRun | null, phrase: string) {
  const { site } = useSite()
  const keyword = run?.keywords.indexOf(phrase) ?? -1
  const isThere = run !== null && keyword >= 0
  const answer = useEndpoint(
    readPlaceRun,
    { siteId: site.id, runId: run?.id ?? 0, keyword: Math.max(0, keyword) },
    { keep: true, enabled: isThere },
  )
  // What is kept of another keyword must not stand for a run that lacks this one.
  return { ...answer, data: isThere ? answer.data : undefined }
}
export type Results = NonNullable<ReturnType<typeof useResults>['data']>

/** Whose positions are looked at: of one business, or the best of all own ones. */
export function useSubject(grid: PlaceGrid, results: Results | undefined) {
  const [params] = useAddress()
  const wanted = Number(params.get('of'))
  const one = results?.businesses.find(each => each.number === wanted) ?? null
  const own = useMemo(() => (results?.businesses ?? []).filter(each => each.own), [results])
  const shown: ListedBusiness[] = useMemo(() => (one ? [one] : own), [one, own])
  const name = one?.name ?? (own.length > 1 ? 'the best of yours' : (own[0]?.name ?? grid.businesses[0]?.name ?? ''))
  return { one, own, shown, name }
}
export const ranksIn = (results: Results, shown: readonly ListedBusiness[]) =>
  shown.length === 1
    ? ranksOf(results.points, shown[0]!.number)
    : bestRanksOf(
        results.points,
        shown.map(each => each.number),
      )
export const pointsOf = (grid: PlaceGrid) => gridPoints(grid, grid.size, grid.spacing)
/** Where in the grid a point lies, in words. */
export function pointWords(grid: { size: number }, at: number): string {
  const half = (grid.size - 1) / 2
  const [east, north] = [(at % grid.size) - half, half - Math.floor(at / grid.size)]
  if (!east && !north) return 'centre'
  return [
    north ? `${Math.abs(north)} ${north > 0 ? 'north' : 'south'}` : '',
    east ? `${Math.abs(east)} ${east > 0 ? 'east' : 'west'}` : '',
  ]
    .filter(Boolean)
    .join(' ')
}
