import { randomBytes } from 'node:crypto'
import type { calendarLink } from '@dew-trail/contract/brief'
import { AppError } from '@dew-trail/contract/errors'
import ical, { ICalCalendarMethod, ICalEventStatus } from 'ical-generator'
import type { z } from 'zod'
import type { Context } from '../../context.ts'
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

type Link = z.output<typeof calendarLink>
const addressOf = (token: string): string => `/calendar/${token}.ics`

export async function readLink(db: Db, siteId: number): Promise<Link> {
  const { rows } = await db.query<{ token: string; madeOn: string }>(
    `select token, made_on::text "madeOn" from secret_link where site_id = $1 and kind = 'calendar'`,
    [siteId],
  )
  const [row] = rows
  return { address: row ? addressOf(row.token) : null, madeOn: row?.madeOn ?? null }
}
/** Makes a new address, which ends the one before, or only ends it. */
export async function renewLink({ pool, events }: Context, siteId: number, end: boolean): Promise<Link> {
  // 192 bits: nobody finds it by trying.
  const token = randomBytes(24).toString('base64url')
  await pool.query(
    end
      ? `delete from secret_link where site_id = $1 and kind = 'calendar' and $2::text is not null`
      : `insert into secret_link (site_id, kind, token) values ($1, 'calendar', $2)
         on conflict (site_id, kind) do update set token = excluded.token, made_on = current_date`,
    [siteId, token],
  )
  events.publish(siteId, { type: 'plan' })
  return readLink(pool, siteId)
}
/** The site whose calendar a secret address shows. */
export async function siteOfLink(db: Db, token: string): Promise<number> {
  const { rows } = await db.query<{ siteId: number }>(
    `select site_id "siteId" from secret_link where kind = 'calendar' and token = $1`,
    [token],
  )
  if (!rows[0]) throw new AppError('notFound', 'This calendar is not there, or its address was renewed')
  return rows[0].siteId
}
