import ical, { ICalCalendarMethod, ICalEventStatus } from 'ical-generator'
import { manyPages } from '../../domain/plans/queries.ts'
import { needSite } from '../../domain/sites/need-market.ts'
import type { Db } from '../../platform/db/pool.ts'

const kinds = { new: 'New page', keep: 'Page', rework: 'Rework', merge: 'Merge', remove: 'Remove' } as const
const states = { idea: 'idea', writing: 'writing', published: 'published' } as const

/**
 * Deadlines of the plan as an iCalendar file (RFC 5545), a whole day each. An entry keeps its UID through all changes, and its SEQUENCE
 * goes up with each of the page. Pages without a deadline are left out.
 */
export async function planCalendar(db: Db, siteId: number): Promise<string> {
  const site = await needSite(db, siteId)
  const calendar = ical({
    name: `Plan of ${site.domain}`,
    prodId: { company: 'Dew Trail', product: 'Plan', language: 'EN' },
    method: ICalCalendarMethod.PUBLISH,
    ttl: 3_600,
  })
  for (const page of await manyPages(db, siteId)) {
    if (page.deadline === null) continue
    const start = new Date(`${page.deadline}T00:00:00Z`)
    calendar.createEvent({
      id: `page-${siteId}-${page.id}@${site.domain}`,
      sequence: page.version - 1,
      allDay: true,
      start,
      end: new Date(start.getTime() + 86_400_000),
      summary: `${kinds[page.kind]}: ${page.title}`,
      status: page.state === 'published' ? ICalEventStatus.CONFIRMED : ICalEventStatus.TENTATIVE,
      categories: [{ name: states[page.state] }],
      description: [
        `State: ${states[page.state]}`,
        ...(page.owner ? [`Owner: ${page.owner}`] : []),
        ...(page.effort === null ? [] : [`Effort: ${page.effort} ${page.effort === 1 ? 'day' : 'days'}`]),
        ...(page.address === null ? [] : [`Address: ${new URL(page.address, `https://${site.domain}`).href}`]),
        ...(page.remarks ? ['', page.remarks] : []),
      ].join('\n'),
    })
  }
  return calendar.toString()
}
