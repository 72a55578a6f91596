const year = 12

/**
 * What each calendar month (0 = January) has of a keyword's demand, 1 = as much as a month has on average: means by calendar month of the
 * last three years that are known. Flat where the season is not called one (`seasonal`) or a calendar month was never seen. Months oldest
 * first, null = unknown; `firstMonth` is the calendar month (1–12) of the first. O(months).
 */
export function seasonIndex(months: ReadonlyArray<number | null>, firstMonth: number, seasonal: boolean): number[] {
  const flat = Array.from({ length: year }, () => 1)
  if (!seasonal) return flat
  const sums = flat.map(() => ({ sum: 0, count: 0 }))
  for (let i = Math.max(0, months.length - 3 * year); i < months.length; i++) {
    const value = months[i]
    if (value === null || value === undefined) continue
    const at = sums[(firstMonth - 1 + i) % year]!
    at.sum += value
    at.count++
  }
  if (sums.some(each => each.count === 0)) return flat
  const means = sums.map(({ sum, count }) => sum / count)
  const mean = means.reduce((sum, each) => sum + each, 0) / year
  return mean > 0 ? means.map(each => each / mean) : flat
}

/** Sum of visits by calendar month of keywords with seasons of their own; the mean of the twelve is the sum of their visits. */
export function monthlyVisits(keywords: ReadonlyArray<{ visits: number; season: readonly number[] }>): number[] {
  return Array.from({ length: year }, (_, month) =>
    keywords.reduce((sum, { visits, season }) => sum + visits * season[month]!, 0),
  )
}

/** Months with so much more a month on the mean, which has their season; flat where they have none. */
export function withMore(months: readonly number[], more: number): number[] {
  const mean = months.reduce((sum, each) => sum + each, 0) / months.length
  return months.map(each => (mean > 0 ? each * ((mean + more) / mean) : each + more))
}

/** The calendar month (0–11) with most, where it stands at least a fifth above the mean; null = no month stands out. */
export function peakMonth(months: readonly number[]): number | null {
  const mean = months.reduce((sum, each) => sum + each, 0) / months.length
  const most = Math.max(...months)
  return mean > 0 && most >= 1.2 * mean ? months.indexOf(most) : null
}

/** The last day (YYYY-MM-DD) by which a page should be out to have settled when the next peak begins, from a day on; `settle` in days. */
export function outBefore(peak: number, today: string, settle: number): string {
  const now = new Date(`${today}T00:00:00Z`)
  for (let ahead = 0; ; ahead++) {
    const begins = Date.UTC(now.getUTCFullYear() + ahead, peak, 1)
    const day = new Date(begins - settle * 86_400_000)
    if (day >= now) return day.toISOString().slice(0, 10)
  }
}
