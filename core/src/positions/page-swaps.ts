/** So many days in a row make another page a lasting one. */
export const lastingDays = 3

/** From a day on an own page was found for a keyword, `null` where none was. */
export type PageFrom = { day: string; page: string | null }
export type PageSwap = {
  day: string
  from: string
  to: string
  /** The day on which the first page stood again, null while the second one stays. */
  backOn: string | null
}

/**
 * Own pages that took each other's place for a keyword and stayed for three days or more, oldest first. `pages`: the page found from each
 * day on, oldest first, equal pages under one name; days without any page are passed over. `until`: the last day that is known.
 */
export function pageSwaps(pages: readonly PageFrom[], until: string): PageSwap[] {
  const spans: Array<{ page: string; from: string; to: string }> = []
  pages.forEach(({ day, page }, i) => {
    if (page === null) return
    const to = pages[i + 1]?.day ?? nextDay(until)
    spans.push({ page, from: day, to })
  })
  const swaps: PageSwap[] = []
  let stands: { page: string } | null = null
  for (const { page, from, to } of merged(spans)) {
    if (daysFrom(from, to) < lastingDays) continue
    if (stands && stands.page !== page) {
      const last = swaps.at(-1)
      if (last && last.backOn === null && last.from === page && last.to === stands.page) last.backOn = from
      swaps.push({ day: from, from: stands.page, to: page, backOn: null })
    }
    stands = { page }
  }
  return swaps
}

/** Spans of one page that are parted by no other page, or by one for less than three days, are one. */
function merged(spans: ReadonlyArray<{ page: string; from: string; to: string }>) {
  const whole: Array<{ page: string; from: string; to: string }> = []
  for (const span of spans) {
    const last = whole.at(-1)
    if (last && last.page === span.page) {
      last.to = span.to
      continue
    }
    const before = whole.at(-2)
    if (last && before && before.page === span.page && daysFrom(last.from, last.to) < lastingDays) {
      whole.pop()
      before.to = span.to
      continue
    }
    whole.push({ ...span })
  }
  return whole
}

const nextDay = (day: string): string => new Date(Date.parse(day) + 86_400_000).toISOString().slice(0, 10)
const daysFrom = (from: string, to: string): number => Math.round((Date.parse(to) - Date.parse(from)) / 86_400_000)
