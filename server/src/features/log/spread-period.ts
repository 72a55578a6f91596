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

/** What of a count falls to a part, in whole numbers whose sum over all parts is the count. */
export const partOf = (count: number, { from, to }: WeekPart): number =>
  Math.round(count * to) - Math.round(count * from)
