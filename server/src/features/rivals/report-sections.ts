import { textBlock } from '@dew-trail/core/reports/report-document'
import { oneDigit, wholeNumber } from '@dew-trail/core/reports/report-words'
import type { Feature } from '../../feature.ts'
import type { ReportSection } from '../../platform/reports/report-section.ts'
import { manyRivalStates } from './queries.ts'
import { openMarket } from './ranked.ts'
import { readProfile } from './read-profiles.ts'
import { readRivals } from './read-rivals.ts'

/** The own site and so many beside it fit across a page. */
const mostRivals = 4

const rivals: ReportSection = async ({ pool }, { siteId, market, domain, section }) => {
  const states = await manyRivalStates(pool, siteId)
  const accepted = [...states].filter(([, state]) => state === 'accepted').map(([name]) => name)
  const beside = accepted.length
    ? accepted
    : (await readRivals(pool, await openMarket(pool, siteId, market.id, []), undefined)).rivals.map(each => each.domain)
  const targets = [domain, ...beside.filter(each => each !== domain)].slice(
    0,
    1 + Math.min(section.most ?? mostRivals, mostRivals),
  )
  if (targets.length < 2) return [textBlock('No rivals are known yet.', true)]
  const open = await openMarket(pool, siteId, market.id, targets)
  const profiles: Array<Awaited<ReturnType<typeof readProfile>>> = []
  for (const target of targets) profiles.push(await readProfile(pool, open, target))
  const row = (name: string, cell: (profile: (typeof profiles)[number]) => string): string[] => [
    name,
    ...profiles.map(cell),
  ]
  const known = (value: number | null, write = wholeNumber): string => (value === null ? 'unknown' : write(value))
  return [
    {
      kind: 'table',
      head: ['', ...targets],
      rows: [
        row('Keywords within 3', each => wholeNumber(each.within[3])),
        row('Keywords within 10', each => wholeNumber(each.within[10])),
        row('Keywords within 100', each => wholeNumber(each.within[100])),
        row('Visits a month, estimated', each => known(each.visits)),
        row('Pages that stand', each => wholeNumber(each.pages)),
        row('Standing of the site', each => known(each.standing, oneDigit)),
        row('Linking sites', each => known(each.linkingSites)),
      ],
    },
  ]
}

export const rivalSections: NonNullable<Feature['sections']> = { rivals }
