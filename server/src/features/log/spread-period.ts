import { mondayBefore } from './job.ts'

const msADay = 86_400_000
/** A week, and what part of a period lies before it and before its end, 0 to 1. */
export type WeekPart = { week: string; from: number; to: number }

/** The weeks of a period of days, each with its part of it; a period within one week is one part. */
export function weekParts(period: { from: string; to: string }): WeekPart[] {
  const [first, last] = [Date.parse(period.from), Date.parse(period.to)]
  const days = (last - first) / msADay + 1
  const parts: WeekPart[] = []
  for (let at = 0; at < days; ) {
    const day = first + at * msADay
    const left = 7 - ((new Date(day).getUTCDay() + 6) % 7)
    const end = Math.min(days, at + left)
    parts.push({ week: mondayBefore(new Date(day).toISOString().slice(0, 10)), from: at / days, to: end / days })
    at = end
  }
  return parts
}

export type Counts = { impressions: number; clicks: number }

/**
 * Counts of a period spread over its parts, in whole numbers that add up to them; parts without impressions are left out. Clicks follow the
 * impressions, so that no week has more clicks than impressions, which nobody would count.
 */
export function spread({ impressions, clicks }: Counts, parts: readonly WeekPart[]): Array<Counts & { week: string }> {
  const shown = (share: number): number => Math.round(impressions * share)
  const clicked = (share: number): number => (impressions ? Math.round((clicks * shown(share)) / impressions) : 0)
  return parts.flatMap(({ week, from, to }) => {
    const of = { week, impressions: shown(to) - shown(from), clicks: clicked(to) - clicked(from) }
    return of.impressions ? of : []
  })
}
