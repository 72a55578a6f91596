import { businessesOf, townOf } from '../world/towns.ts'
import type { World } from '../world/world.ts'
import { businessRecord } from './local.ts'

/** GeoJSON (RFC 7946) has longitude first. */
const lonLat = ([latitude, longitude]: [number, number]): [number, number] => [longitude, latitude]

/** Streets, coast and sea of a city as a GeoJSON FeatureCollection, or undefined where there is no such city. */
export function townGeoJson(world: World, code: string): object | undefined {
  const town = townOf(world, code)
  if (!town) return undefined
  const feature = (type: string, coordinates: unknown, properties: object): object => ({
    type: 'Feature',
    geometry: { type, coordinates },
    properties,
  })
  return {
    type: 'FeatureCollection',
    features: [
      feature('Polygon', [town.sea.map(lonLat)], { class: 'sea' }),
      feature('LineString', town.coast.map(lonLat), { class: 'coast' }),
      ...town.streets.map(street =>
        feature('LineString', street.line.map(lonLat), { class: street.class, name: street.name }),
      ),
      feature('Point', lonLat(town.place.centre), { class: 'centre', name: town.place.name }),
    ],
  }
}

/** Businesses of a city as GeoJSON points. */
export function businessGeoJson(world: World, code: string): object {
  return {
    type: 'FeatureCollection',
    features: businessesOf(world, code)
      .filter(business => business.opened <= world.today)
      .map(business => ({
        type: 'Feature',
        geometry: { type: 'Point', coordinates: lonLat(business.position) },
        properties: businessRecord(world, business),
      })),
  }
}
