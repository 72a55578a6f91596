import type { IncomingMessage } from 'node:http'
import { dayOf, monthOf } from './calendar.ts'
import { countryOf, type Device, type Engine, engines, type Language, places } from './world/vocabulary.ts'

/** What is wrong with a request, in words for who made it. */
export class BadRequest extends Error {}

/** Reads a body as JSON, at most 8 MB. */
export async function readJson(request: IncomingMessage): Promise<unknown> {
  const chunks: Buffer[] = []
  let size = 0
  for await (const chunk of request) {
    size += (chunk as Buffer).length
    if (size > 8_000_000) throw new BadRequest('The body is over 8 MB')
    chunks.push(chunk as Buffer)
  }
  try {
    return JSON.parse(Buffer.concat(chunks).toString('utf8') || '{}')
  } catch {
    throw new BadRequest('The body is not JSON')
  }
}
export async function readObject(request: IncomingMessage): Promise<Record<string, unknown>> {
  const body = await readJson(request)
  if (typeof body !== 'object' || body === null || Array.isArray(body))
    throw new BadRequest('The body is not an object')
  return body as Record<string, unknown>
}

export function textsFrom(value: unknown, name: string, most: number): string[] {
  if (!Array.isArray(value) || !value.every(item => typeof item === 'string'))
    throw new BadRequest(`"${name}" must be a list of texts`)
  if (value.length > most) throw new BadRequest(`"${name}" takes at most ${most} at a time`)
  return value
}
export function textFrom(value: unknown, name: string): string {
  if (typeof value !== 'string' || !value.trim()) throw new BadRequest(`"${name}" is empty`)
  return value
}
/** A whole number within bounds; `fallback` where it is left out. */
export function numberFrom(value: unknown, name: string, low: number, high: number, fallback: number): number {
  if (value === undefined || value === null || value === '') return fallback
  const number = Number(value)
  if (!Number.isInteger(number) || number < low || number > high)
    throw new BadRequest(`"${name}" must be a whole number from ${low} to ${high}`)
  return number
}
export function dayFrom(value: unknown, name: string, today: number): number {
  if (value === null || value === undefined || value === '') return today
  if (typeof value !== 'string' || !/^\d{4}-\d\d-\d\d$/.test(value) || Number.isNaN(dayOf(value)))
    throw new BadRequest(`"${name}" must be YYYY-MM-DD`)
  const day = dayOf(value)
  if (day > today) throw new BadRequest(`"${name}" lies in the future`)
  return day
}
/** Months counted from year 0; the last full month where it is left out. */
export function monthFrom(value: unknown, today: number): number {
  if (value === null || value === undefined || value === '') return monthOf(today) - 1
  if (typeof value !== 'string' || !/^\d{4}-(0[1-9]|1[0-2])$/.test(value))
    throw new BadRequest('"month" must be YYYY-MM')
  return monthOf(dayFrom(`${value}-01`, 'month', today))
}
export function placeFrom(value: unknown): string {
  const code = typeof value === 'string' && value ? value : 'tarrow'
  if (!places.some(place => place.code === code))
    throw new BadRequest(`"place" must be one of ${places.map(place => place.code).join(', ')}`)
  return code
}
export const countryFrom = (value: unknown): string => countryOf(placeFrom(value))!
export function languageFrom(value: unknown): Language {
  if (value !== 'en' && value !== 'de') throw new BadRequest('"language" must be en or de')
  return value
}
export function deviceFrom(value: unknown): Device {
  const device = value ?? 'desktop'
  if (device !== 'desktop' && device !== 'mobile') throw new BadRequest('"device" must be desktop or mobile')
  return device
}
export function engineFrom(value: unknown): Engine {
  if (!engines.includes(value as Engine)) throw new BadRequest(`There is no engine "${value}": ${engines.join(', ')}`)
  return value as Engine
}
/** "47.42,-28.61": WGS 84 latitude and longitude. */
export function pointFrom(value: unknown, name: string): [number, number] | undefined {
  if (value === null || value === undefined || value === '') return undefined
  const [latitude, longitude] = String(value).split(',').map(Number)
  if (
    latitude === undefined ||
    longitude === undefined ||
    !(Math.abs(latitude) <= 90) ||
    !(Math.abs(longitude) <= 180) ||
    String(value).split(',').length !== 2
  )
    throw new BadRequest(`"${name}" must be latitude,longitude`)
  return [latitude, longitude]
}
