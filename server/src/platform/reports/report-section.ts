import type { Section } from '@dew-trail/contract/reports'
import type { Market } from '@dew-trail/contract/sites'
import type { ReportBlock } from '@dew-trail/core/reports/report-document'
import type { Context } from '../../context.ts'

/** What a section is drawn for. `asOf`: the day it speaks of; `since`: the day it compares with. */
export type SectionOf = {
  siteId: number
  domain: string
  market: Market
  asOf: string
  since: string
  section: Section
}

/** Draws a section of a report from the data of a site as of a day; nothing where there is nothing to say of. */
export type ReportSection = (context: Context, of: SectionOf) => Promise<ReportBlock[]>
