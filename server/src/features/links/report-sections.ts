import { roundTicks } from '@dew-trail/core/pictures/line-picture'
import { textBlock } from '@dew-trail/core/reports/report-document'
import { longDay, shortDay } from '@dew-trail/core/days/day-words'
import { wholeNumber } from '@dew-trail/core/reports/report-words'
import type { Feature } from '../../feature.ts'
import type { ReportSection, SectionOf } from '../../platform/reports/report-section.ts'
import type { Context } from '../../context.ts'
import { readProfile } from './read-profile.ts'

const profileOf = ({ pool }: Context, { siteId, domain, asOf }: SectionOf) =>
  readProfile(pool, { siteId, url: domain, scope: 'site' }, asOf)

export const linkFigures: NonNullable<Feature['figures']> = async (context, of) => {
  const profile = await profileOf(context, of)
  if (!profile.known) return []
  const gained = profile.gained
    .filter(each => each.week > of.since && each.week <= of.asOf)
    .reduce((sum, each) => sum + each.sites, 0)
  return [
    {
      label: 'Linking sites',
      value: wholeNumber(profile.linkingSites),
      change: `${wholeNumber(gained)} first seen in this time`,
      good: gained > 0 ? true : null,
    },
  ]
}

const links: ReportSection = async (context, of) => {
  const profile = await profileOf(context, of)
  if (!profile.known) return [textBlock('No links to the site are known yet.', true)]
  const weeks = profile.gained.filter(each => each.week <= of.asOf)
  const { list } = profile.anchors
  return [
    textBlock(
      `${wholeNumber(profile.linkingSites)} sites link to ${of.domain} with ${wholeNumber(profile.links)} links from ${wholeNumber(profile.linkingPages)} pages; ${wholeNumber(profile.follow)} of the links are followed.`,
    ),
    ...(weeks.some(each => each.sites)
      ? [
          {
            kind: 'lines' as const,
            picture: {
              title: 'Linking sites first seen, by week',
              labels: weeks.map(each => shortDay(each.week)),
              lines: [{ name: of.domain, colour: '#b4540a', values: weeks.map(each => each.sites) }],
              ticks: roundTicks(Math.max(...weeks.map(each => each.sites))),
              height: 240,
            },
          },
        ]
      : []),
    ...profile.bursts.map(burst =>
      textBlock(
        `In the week of ${longDay(burst.week)} ${wholeNumber(burst.sites)} sites linked for the first time; usual are ${wholeNumber(burst.usual)}.`,
        true,
      ),
    ),
    ...(list.length
      ? [
          {
            kind: 'table' as const,
            head: ['Anchor text', 'Kind', 'Links'],
            rows: list.slice(0, of.section.most ?? 10).map(each => [each.text, each.kind, wholeNumber(each.links)]),
            of: list.length,
          },
        ]
      : []),
  ]
}

export const linkSections: NonNullable<Feature['sections']> = { links }
