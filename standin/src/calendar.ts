/** Days are counted from 1970-01-01 UTC. */
export const dayOf = (isoDate: string): number => Math.floor(Date.parse(`${isoDate}T00:00:00Z`) / 86_400_000)
export const isoOf = (day: number): string => new Date(day * 86_400_000).toISOString().slice(0, 10)

/** Months are counted from January of year 0, so that months can be added. */
export function monthOf(day: number): number {
  const date = new Date(day * 86_400_000)
  return date.getUTCFullYear() * 12 + date.getUTCMonth()
}
export const monthIso = (month: number): string =>
  `${Math.floor(month / 12)}-${String((month % 12) + 1).padStart(2, '0')}`
