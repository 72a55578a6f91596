import type { JobKind } from '@dew-trail/contract/jobs'

/** Kinds of work as a user reads them. */
export const kindWords: Record<JobKind, string> = {
  gather: 'Gathering',
  figures: 'Figures of keywords',
  weigh: 'Weighing',
  check: 'Checks of positions',
  importKeywords: 'Imports of keywords',
  importPositions: 'Imports of positions',
  importLog: 'Imports of query logs',
  importLinks: 'Imports of links',
  importThemes: 'Imports of themes',
  importPopularity: 'Imports of popular sites',
  importPages: 'Imports of pages',
  importGraph: 'Imports of web graphs',
  log: 'Query log',
  crawl: 'Crawls',
  feeds: 'Link feeds',
  rank: 'Standing and trust',
  rankings: 'Rankings',
  sweep: 'Sweeps of result pages',
  learn: 'Learning strengths',
  group: 'Grouping',
  places: 'Positions over a town',
  readLinks: 'Reading linking pages',
  readForBrief: 'Reading pages for briefs',
  backup: 'Backups',
}
