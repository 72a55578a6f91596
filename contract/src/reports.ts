import { keptPart } from './kept-section.ts'
import { z } from 'zod'
import { acted } from './acts.ts'
import { day, id, text } from './common.ts'
import { endpoint } from './endpoint.ts'
import { rhythm } from './schedules.ts'
import { secretLink } from './secret-links.ts'
import { viewState } from './views.ts'

const site = { siteId: id }
/** What a report is composed of. Those but "words" and "view" fill themselves from the data of the site and the day. */
export const sectionKinds = [
  'figures',
  'visibility',
  'spread',
  'happened',
  'movers',
  'effects',
  'voices',
  'work',
  'links',
  'rivals',
  'view',
  'kept',
  'words',
  'break',
] as const
export type SectionKind = (typeof sectionKinds)[number]
export const sectionNames: Record<SectionKind, string> = {
  figures: 'Figures',
  visibility: 'Visibility over time',
  spread: 'Where the keywords stand',
  happened: 'What happened',
  movers: 'Keywords that moved most',
  effects: 'Did it help',
  voices: 'Share of voice',
  work: 'Work done and planned',
  links: 'Links',
  rivals: 'Rivals side by side',
  view: 'A table',
  kept: 'As it was shown',
  words: 'Own words',
  break: 'New page',
}
/** Sections that are of the day on which a report is issued, whatever day it speaks of: no earlier state of what they show is kept. */
export const sectionsOfNow: readonly SectionKind[] = ['voices', 'work', 'links', 'rivals', 'view']
export const section = z.object({
  kind: z.enum(sectionKinds),
  /** In place of its own name; empty = its own. */
  title: text(120).default(''),
  /** Of "words": Markdown. */
  words: z.string().max(20_000).optional(),
  /** Of "view": a table of the program with conditions, order and columns. */
  table: z.object({ name: z.string().max(40), state: viewState }).optional(),
  /** Of "kept": what a screen showed. */
  kept: keptPart.optional(),
  /** How many rows or keywords at most. */
  most: z.int().min(1).max(1_000).optional(),
})
export type Section = z.infer<typeof section>

/** Reports that come with the program, each filling itself for the site, market and month it is used for. */
export const templates = {
  glance: { name: 'The site at a glance', sections: ['figures', 'visibility', 'happened', 'work', 'links'] },
  positions: {
    name: 'A month in positions',
    sections: ['figures', 'visibility', 'spread', 'happened', 'movers', 'effects', 'voices'],
  },
  links: { name: 'Links', sections: ['figures', 'links'] },
  rivals: { name: 'Rivals', sections: ['rivals', 'voices'] },
  empty: { name: 'Own report', sections: ['words'] },
} as const satisfies Record<string, { name: string; sections: readonly SectionKind[] }>
export type TemplateName = keyof typeof templates

const colour = z.string().regex(/^#[0-9a-f]{6}$/i, 'is no colour such as #0d5c63')
const report = z.object({
  id: z.number(),
  name: z.string(),
  marketId: z.number(),
  /** Days before the day it speaks of that it compares with. */
  days: z.number(),
  colour: z.string(),
  language: z.string(),
  sections: z.array(section),
  /** When it issues itself; null: only by hand. */
  rhythm: rhythm.nullable(),
  /** What went wrong the last time that it issued itself, as a mail that was not taken; null: nothing. */
  problem: z.string().nullable(),
  /** To whom an issue is mailed when it issues itself. */
  mailTo: z.string().nullable(),
  version: z.number(),
  issues: z.number(),
  lastIssued: z.string().nullable(),
})
export type Report = z.infer<typeof report>
const issue = z.object({
  id: z.number(),
  asOf: z.string(),
  since: z.string(),
  madeAt: z.string(),
  bySchedule: z.boolean(),
  /** Where who knows it reads this issue without signing in. */
  link: secretLink,
})
export type ReportIssue = z.infer<typeof issue>

export const listReports = endpoint({
  summary: 'Reports of a site',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/reports',
  input: z.object(site),
  output: z.object({ reports: z.array(report), hasLogo: z.boolean(), mails: z.boolean() }),
  oldBy: ['reports'],
})
export const createReport = endpoint({
  summary: 'Make a report from a template or another report',
  role: 'editor',
  errors: ['badInput', 'notFound'],
  method: 'POST',
  path: '/api/sites/:siteId/reports',
  input: z.object({
    ...site,
    marketId: id,
    name: text(120).min(1, 'Give it a name'),
    template: z.enum(['glance', 'positions', 'links', 'rivals', 'empty']).optional(),
    /** In place of a template: sections, as of a report of another site. */
    sections: z.array(section).max(60).optional(),
  }),
  output: report.extend(acted.shape),
})
export const changeReport = endpoint({
  summary: 'Change a report',
  role: 'editor',
  errors: ['badInput', 'notFound', 'conflict'],
  method: 'PATCH',
  path: '/api/sites/:siteId/reports/:reportId',
  input: z.object({
    ...site,
    reportId: id,
    version: z.int().min(1),
    name: text(120).min(1, 'Give it a name').optional(),
    marketId: id.optional(),
    days: z.int().min(1).max(400).optional(),
    colour: colour.optional(),
    language: z
      .string()
      .regex(/^[a-z]{2}(-[A-Z]{2})?$/, 'is no language such as en')
      .optional(),
    sections: z.array(section).max(60, 'may have 60 sections').optional(),
    rhythm: rhythm.nullable().optional(),
    mailTo: z.email('is not a mail address').max(254).nullable().optional(),
  }),
  output: report.extend(acted.shape),
})
export const removeReport = endpoint({
  summary: 'Remove a report; what it issued stays until then',
  role: 'editor',
  errors: ['badInput', 'notFound'],
  method: 'DELETE',
  path: '/api/sites/:siteId/reports/:reportId',
  input: z.object({ ...site, reportId: id }),
  output: acted,
})
export const listIssues = endpoint({
  summary: 'Issues of a report',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/reports/:reportId/issues',
  input: z.object({ ...site, reportId: id }),
  output: z.array(issue),
  oldBy: ['reports'],
})
/** Draws the report from the data as of a day, keeps it as it is then, and gives it. Without a day: of the last checked one. */
export const issueReport = endpoint({
  summary: 'Issue a report',
  role: 'editor',
  errors: ['badInput', 'notFound'],
  method: 'POST',
  path: '/api/sites/:siteId/reports/:reportId/issues',
  input: z.object({ ...site, reportId: id, asOf: day.optional() }),
  output: issue,
})
export const removeIssue = endpoint({
  summary: 'Remove an issue and its link',
  role: 'editor',
  errors: ['badInput', 'notFound'],
  method: 'DELETE',
  path: '/api/sites/:siteId/reports/:reportId/issues/:issueId',
  input: z.object({ ...site, reportId: id, issueId: id }),
  output: z.object({}),
})
/** Makes a new secret address of an issue, which ends the one before; with `end` there is none any more. */
export const renewReportLink = endpoint({
  summary: 'Make, renew or end the secret address of an issue',
  role: 'editor',
  errors: ['badInput', 'notFound'],
  method: 'POST',
  path: '/api/sites/:siteId/reports/:reportId/issues/:issueId/link',
  input: z.object({
    ...site,
    reportId: id,
    issueId: id,
    end: z.boolean().default(false),
    endsOn: day.nullable().default(null),
  }),
  output: secretLink,
})
/** The logo on a site's reports: a PNG or JPEG of at most half a megabyte in Base64; null takes it away. */
export const setReportLogo = endpoint({
  summary: "Set the logo of a site's reports",
  role: 'editor',
  errors: ['badInput', 'notFound'],
  method: 'PUT',
  path: '/api/sites/:siteId/report-logo',
  input: z.object({
    ...site,
    logo: z.object({ base64: z.base64().max(700_000, 'may have half a megabyte') }).nullable(),
  }),
  output: z.object({}),
})

/** Formats in which an issue, or the report as it would be now, is read. */
export const reportFormats = ['html', 'pdf', 'xlsx'] as const
export type ReportFormat = (typeof reportFormats)[number]
/** The address of a report as a file: of an issue, or as it would be if it were issued now. */
export const reportPath = (siteId: number, reportId: number, issueId: number | null, format: ReportFormat): string =>
  `/api/sites/${siteId}/reports/${reportId}/${issueId === null ? 'preview' : `issues/${issueId}`}.${format}`
