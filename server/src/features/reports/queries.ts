import type { Report, ReportIssue } from '@dew-trail/contract/reports'
import type { ReportDocument } from '@dew-trail/core/reports/report-document'
import type { Db } from '../../platform/db/pool.ts'

/** A report as it is kept; when it issues itself stands in its schedule. */
export type ReportRow = Omit<Report, 'rhythm' | 'problem'>
const columns = `r.id, r.name, r.market_id "marketId", r.days, r.colour, r.language, r.sections, r.mail_to "mailTo",
  r.version,
  (select count(*)::integer from report_issue i where i.site_id = r.site_id and i.report_id = r.id) issues,
  (select max(as_of)::text from report_issue i where i.site_id = r.site_id and i.report_id = r.id) "lastIssued"`

export async function manyReports(db: Db, siteId: number): Promise<ReportRow[]> {
  const { rows } = await db.query<ReportRow>(
    `select ${columns} from report r where r.site_id = $1 and r.removed_at is null order by lower(r.name), r.id`,
    [siteId],
  )
  return rows
}
export async function maybeReport(db: Db, siteId: number, id: number): Promise<ReportRow | undefined> {
  const { rows } = await db.query<ReportRow>(
    `select ${columns} from report r where r.site_id = $1 and r.id = $2 and r.removed_at is null`,
    [siteId, id],
  )
  return rows[0]
}
export type ReportFields = Pick<ReportRow, 'name' | 'marketId' | 'days' | 'colour' | 'language' | 'sections' | 'mailTo'>
export async function insertReport(
  db: Db,
  siteId: number,
  { name, marketId, sections }: Pick<ReportFields, 'name' | 'marketId' | 'sections'>,
): Promise<number> {
  const { rows } = await db.query<{ id: number }>(
    'insert into report (site_id, name, market_id, sections) values ($1, $2, $3, $4) returning id',
    [siteId, name, marketId, JSON.stringify(sections)],
  )
  return rows[0]!.id
}
/** Whether there was one of that version. */
export async function updateReport(
  db: Db,
  siteId: number,
  { id, version, ...fields }: ReportFields & { id: number; version: number },
): Promise<boolean> {
  const { rowCount } = await db.query(
    `update report set name = $4, market_id = $5, days = $6, colour = $7, language = $8, sections = $9, mail_to = $10,
       version = version + 1
     where site_id = $1 and id = $2 and version = $3 and removed_at is null`,
    [
      siteId,
      id,
      version,
      fields.name,
      fields.marketId,
      fields.days,
      fields.colour,
      fields.language,
      JSON.stringify(fields.sections),
      fields.mailTo,
    ],
  )
  return rowCount === 1
}
export async function setRemoved(db: Db, siteId: number, id: number, removed: boolean): Promise<void> {
  await db.query('update report set removed_at = case when $3 then now() end where site_id = $1 and id = $2', [
    siteId,
    id,
    removed,
  ])
}

export type IssueRow = Omit<ReportIssue, 'link'>
const issueColumns =
  'id, as_of::text "asOf", since::text "since", to_json(made_at)#>>\'{}\' "madeAt", by_schedule "bySchedule"'
/** Issues of a report, the newest first. */
export async function manyIssues(db: Db, siteId: number, reportId: number): Promise<IssueRow[]> {
  const { rows } = await db.query<IssueRow>(
    `select ${issueColumns} from report_issue where site_id = $1 and report_id = $2 order by made_at desc, id desc`,
    [siteId, reportId],
  )
  return rows
}
export async function insertIssue(
  db: Db,
  siteId: number,
  reportId: number,
  document: ReportDocument,
  bySchedule: boolean,
): Promise<IssueRow> {
  const { rows } = await db.query<IssueRow>(
    `insert into report_issue (site_id, report_id, as_of, since, by_schedule, document)
     values ($1, $2, $3, $4, $5, $6) returning ${issueColumns}`,
    [siteId, reportId, document.asOf, document.since, bySchedule, JSON.stringify(document)],
  )
  return rows[0]!
}
/** The report as it was issued; undefined where the issue is of another report, or the report was removed. */
export async function maybeDocument(
  db: Db,
  siteId: number,
  reportId: number | null,
  issueId: number,
): Promise<ReportDocument | undefined> {
  const { rows } = await db.query<{ document: ReportDocument }>(
    `select i.document from report_issue i join report r on r.site_id = i.site_id and r.id = i.report_id
     where i.site_id = $1 and ($2::bigint is null or i.report_id = $2) and i.id = $3 and r.removed_at is null`,
    [siteId, reportId, issueId],
  )
  return rows[0]?.document
}
export async function deleteIssue(db: Db, siteId: number, reportId: number, issueId: number): Promise<void> {
  await db.query('delete from report_issue where site_id = $1 and report_id = $2 and id = $3', [
    siteId,
    reportId,
    issueId,
  ])
}

export async function maybeLogo(db: Db, siteId: number): Promise<ReportDocument['logo']> {
  const { rows } = await db.query<{ type: 'image/png' | 'image/jpeg'; bytes: Buffer }>(
    'select type, bytes from report_logo where site_id = $1',
    [siteId],
  )
  return rows[0] ? { type: rows[0].type, base64: rows[0].bytes.toString('base64') } : null
}
export async function setLogo(db: Db, siteId: number, logo: { type: string; bytes: Buffer } | null): Promise<void> {
  if (!logo) {
    await db.query('delete from report_logo where site_id = $1', [siteId])
    return
  }
  await db.query(
    `insert into report_logo (site_id, type, bytes) values ($1, $2, $3)
     on conflict (site_id) do update set type = excluded.type, bytes = excluded.bytes`,
    [siteId, logo.type, logo.bytes],
  )
}
