import type { ImportKind } from '@dew-trail/contract/imports'
import type { JobKind } from '@dew-trail/contract/jobs'

const jobOfKind = {
  keywords: 'importKeywords',
  positions: 'importPositions',
  log: 'importLog',
  links: 'importLinks',
  themes: 'importThemes',
  popularity: 'importPopularity',
} as const satisfies Record<ImportKind, JobKind>

/** The kind of job that reads files of a kind. */
export const importJobOf = (kind: ImportKind): JobKind => jobOfKind[kind]
