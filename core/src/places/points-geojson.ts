import type { GridPoint } from './grid-points.ts'

type PointFacts = { point: GridPoint; state: string; position: number | null; first: readonly string[] }
/** Points of a run as a GeoJSON FeatureCollection (RFC 7946: longitude first, right-handed, WGS 84). `about` is said of the collection. */
export function pointsGeoJson(points: readonly PointFacts[], about: Readonly<Record<string, string | number>>): object {
  return {
    type: 'FeatureCollection',
    ...about,
    features: points.map(({ point, state, position, first }, id) => ({
      type: 'Feature',
      id,
      geometry: { type: 'Point', coordinates: [point.longitude, point.latitude] },
      properties: { state, position, east: point.east, north: point.north, first },
    })),
  }
}
