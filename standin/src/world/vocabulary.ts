import { readFileSync } from 'node:fs'
import type { AspectSpec, HeadSpec } from './vocabulary-spec.ts'

export type Language = 'en' | 'de'
type Words = {
  heads: HeadSpec[]
  aspects: AspectSpec[]
  brands: string[]
  adjectives: string[]
  /** English head → German head of the same thing. */
  pairs?: Record<string, string>
}

const read = (language: Language): Words =>
  JSON.parse(readFileSync(new URL(`./vocabulary-${language}.json`, import.meta.url), 'utf8')) as Words

export const vocabulary = {
  en: { ...read('en'), cities: ['port hallow', 'wexmere', 'lindle', 'oxcombe'] },
  de: { ...read('de'), cities: ['brunnach', 'steinfurt am see', 'mettau'] },
}

/** A place that can be searched from; the first of each country is the country itself. `centre` is WGS 84 latitude and longitude. */
export type Place = {
  name: string
  code: string
  country: string
  language: Language
  share: number
  centre: [number, number]
}
export const places: Place[] = [
  { name: 'Tarrow', code: 'tarrow', country: 'tarrow', language: 'en', share: 1, centre: [47.6, -28.3] },
  { name: 'Port Hallow', code: 'port-hallow', country: 'tarrow', language: 'en', share: 0.22, centre: [47.42, -28.61] },
  { name: 'Wexmere', code: 'wexmere', country: 'tarrow', language: 'en', share: 0.12, centre: [47.71, -28.24] },
  { name: 'Lindle', code: 'lindle', country: 'tarrow', language: 'en', share: 0.07, centre: [47.83, -28.52] },
  { name: 'Oxcombe', code: 'oxcombe', country: 'tarrow', language: 'en', share: 0.05, centre: [47.55, -27.98] },
  { name: 'Verlau', code: 'verlau', country: 'verlau', language: 'de', share: 1, centre: [48.4, -26.2] },
  { name: 'Brunnach', code: 'brunnach', country: 'verlau', language: 'de', share: 0.16, centre: [48.35, -26.31] },
]
/** Cities that have a town map: all places that are not a whole country. */
export const cities = places.filter(place => place.code !== place.country)
export const countryOf = (code: string): string | undefined => places.find(place => place.code === code)?.country

/** The city whose centre is nearest to a point, if it lies within 25 km. */
export function cityNear(latitude: number, longitude: number): Place | undefined {
  let best: Place | undefined
  let bestMetres = 25_000
  for (const city of cities) {
    const metres = metresBetween(city.centre, [latitude, longitude])
    if (metres < bestMetres) [best, bestMetres] = [city, metres]
  }
  return best
}

/** Metres between two near points on the local tangent of the globe. */
export function metresBetween(a: readonly [number, number], b: readonly [number, number]): number {
  const north = (b[0] - a[0]) * 111_195
  const east = (b[1] - a[1]) * 111_195 * Math.cos(((a[0] + b[0]) / 360) * Math.PI)
  return Math.hypot(north, east)
}

export const engines = ['lantern', 'plover'] as const
export type Engine = (typeof engines)[number]
export type Device = 'desktop' | 'mobile'
