import { type ReportBlock, textBlock } from '@dew-trail/core/reports/report-document'
import { longDay } from '@dew-trail/core/days/day-words'
import { wholeNumber } from '@dew-trail/core/reports/report-words'
import { manyPages, type PageRow } from '../../domain/plans/queries.ts'
import type { Feature } from '../../feature.ts'
import type { ReportSection } from '../../platform/reports/report-section.ts'

const kinds = { new: 'new page', keep: 'page', rework: 'rework', merge: 'merge', remove: 'remove' } as const
const mostPlanned = 30

const isDone = (page: PageRow, since: string, asOf: string): boolean =>
  page.doneOn !== null && page.doneOn > since && page.doneOn <= asOf

/** Pages published in the period, and how many of its deadlines were kept. */
export const planFigures: NonNullable<Feature['figures']> = async ({ pool }, { siteId, since, asOf }) => {
  const pages = await manyPages(pool, siteId)
  const due = pages.filter(page => page.deadline !== null && page.deadline > since && page.deadline <= asOf)
  const kept = due.filter(page => page.state === 'published' && page.doneOn !== null && page.doneOn <= page.deadline!)
  return [
    {
      label: 'Work finished',
      value: wholeNumber(pages.filter(page => isDone(page, since, asOf)).length),
      change: null,
      good: null,
    },
    ...(due.length
      ? [
          {
            label: `Deadlines kept, of ${wholeNumber(due.length)}`,
            value: wholeNumber(kept.length),
            change: null,
            good: null,
          },
        ]
      : []),
  ]
}

const work: ReportSection = async ({ pool }, { siteId, since, asOf, section }) => {
  const pages = (await manyPages(pool, siteId)).filter(page => page.kind !== 'keep')
  const done = pages.filter(page => isDone(page, since, asOf))
  const open = pages
    .filter(page => page.state !== 'published')
    .sort((a, b) => ((a.deadline ?? '9999') < (b.deadline ?? '9999') ? -1 : 1))
  const doneTable: ReportBlock = {
    kind: 'table',
    head: ['Finished', 'What', 'On', 'By'],
    rows: done.map(page => [page.title, kinds[page.kind], longDay(page.doneOn!), page.owner]),
  }
  const openTable: ReportBlock = {
    kind: 'table',
    head: ['Planned', 'What', 'State', 'Deadline', 'By'],
    rows: open
      .slice(0, section.most ?? mostPlanned)
      .map(page => [
        page.title,
        kinds[page.kind],
        page.state,
        page.deadline === null ? '' : `${longDay(page.deadline)}${page.deadline < asOf ? ', late' : ''}`,
        page.owner,
      ]),
    of: open.length,
  }
  return [
    ...(done.length ? [doneTable] : [textBlock('No work was finished in this time.', true)]),
    ...(open.length ? [openTable] : []),
  ]
}

export const planSections: NonNullable<Feature['sections']> = { work }
