import type { Figure } from '@dew-trail/core/reports/report-document'
import type { Context } from '../../context.ts'
import type { ReportSection, SectionOf } from '../../platform/reports/report-section.ts'
import type { Table } from '../../platform/tables/table.ts'

/** What features say in reports, and their tables. */
export type ReportParts = {
  sections: Readonly<Record<string, ReportSection>>
  figures: ReadonlyArray<(context: Context, of: SectionOf) => Promise<Figure[]>>
  tables: Readonly<Record<string, Table>>
}

let known: ReportParts | null = null
/** Tells of what reports can be composed: once, when the program is put together, as no feature knows the others. */
export const setReportParts = (parts: ReportParts): void => {
  known = parts
}
export function reportParts(): ReportParts {
  if (!known) throw new Error('Nobody told of what reports can be composed')
  return known
}
