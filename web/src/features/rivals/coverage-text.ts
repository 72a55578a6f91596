import type { Coverage } from '@dew-trail/contract/rivals'
import { formatDay, plural } from '../../ui/format.ts'

const names: Record<string, string> = { engines: 'engines', rankings: 'the rankings feed' }
/** Of how many keywords, which days and whom results are known. */
export function coverageText(coverage: Coverage | undefined): string {
  if (!coverage) return ''
  if (!coverage.keywords) return 'No results are known in this market yet'
  const { from, to, depth, sources } = coverage
  const days = from === to ? formatDay(to!) : `${formatDay(from!)} to ${formatDay(to!)}`
  const by = sources.map(each => names[each.source] ?? each.source).join(' and ')
  return `Results of ${plural(coverage.keywords, 'keyword')}, ${days}, up to ${depth} deep, by ${by}`
}
