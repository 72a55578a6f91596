import type { Coverage } from '@dew-trail/contract/rivals'
import { formatDay, formatShortDay, formatWhole, plural } from '../../ui/format.ts'

const editions: Record<string, string> = { weekly: 'weekly part', full: 'full part' }
/** Of how many keywords, which days and whom results are known. */
export function coverageText(coverage: Coverage | undefined): string {
  if (!coverage) return ''
  const { keywords, from, to, depth, sources, notFed } = coverage
  const days = from && to ? (from === to ? formatDay(to) : `${formatShortDay(from)} to ${formatDay(to)}`) : ''
  const fetched = keywords ? `Results of ${plural(keywords, 'keyword')} fetched, ${days}, up to ${depth} deep` : ''
  const fed = sources.filter(each => each.source in editions)
  const feed = fed.length
    ? `rankings feed: ${fed.map(each => `${editions[each.source]} of ${formatWhole(each.keywords)}, ${formatShortDay(each.to)}`).join('; ')}`
    : 'rankings feed not loaded'
  // Beside sites of which the feed tells, one of fetched results alone looks smaller than it is: that is said first.
  if (fed.length && notFed.length)
    return `Not loaded for ${notFed.join(', ')}, so ${notFed.length === 1 ? 'it stands' : 'they stand'} by fetched results alone. ${fetched}; ${feed}`
  return fetched ? `${fetched}; ${feed}` : fed.length ? upper(feed) : 'No results are known in this market yet'
}
const upper = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1)
