import { PassThrough, Readable } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import { id } from '@dew-trail/contract/common'
import { decodeMonth } from '@dew-trail/core/results/month-results'
import type { Context } from '../../context.ts'
import { to as copyTo } from 'pg-copy-streams'
import type { Router } from 'express'
import yazl from 'yazl'
import { z } from 'zod'
import { needSite } from '../../domain/sites/need-market.ts'
import { manyDays } from '../../domain/positions/day-queries.ts'
import { checkInput } from '../../platform/http/mount.ts'
import { needRole } from '../../platform/http/who.ts'
import type { Table } from '../../platform/tables/table.ts'
import { writeTable } from '../../platform/tables/write-table.ts'

/** What is packed, kept for speed alone, or secret: packed days go out unpacked, the rest is made again or is nobody's to have. */
const leftOut = new Set([
  'row_block',
  'position_day',
  'position_year',
  'result_month',
  'secret_link',
  'site_counter',
  'job',
])

/** Tables that hold rows of a site, with columns that open formats can say. */
async function manySiteTables({ pool }: Context): Promise<Array<{ name: string; columns: string[] }>> {
  const { rows } = await pool.query<{ name: string; columns: string[] }>(
    `select c.relname name, array_agg(a.attname::text
      order by a.attnum) filter (where a.atttypid <> 'bytea'::regtype) columns
     from pg_class c join pg_attribute a on a.attrelid = c.oid and a.attnum > 0 and not a.attisdropped
     where c.relkind in ('r', 'p') and not c.relispartition and c.relnamespace = 'public'::regnamespace
       and exists (select from pg_attribute s where s.attrelid = c.oid and s.attname = 'site_id') group by 1
         order by 1`,
  )
  return rows.filter(row => !leftOut.has(row.name) && !/^import_(?!error$)/.test(row.name))
}

/** Positions of a market as lines of CSV, day by day; 0 of the database is "not checked" and has no line. */
async function* positionLines(context: Context, siteId: number, marketId: number): AsyncGenerator<string> {
  yield 'day,keyword,position,not_found_within\n'
  const { rows: slots } = await context.pool.query<{ slot: number; phrase: string }>(
    `select t.slot, k.phrase from tracked_keyword t join keyword k on k.site_id = t.site_id and k.id = t.keyword_id
     where t.site_id = $1`,
    [siteId],
  )
  const phrases = new Map(slots.map(row => [row.slot, row.phrase]))
  const { rows } = await context.pool.query<{ year: number }>(
    `select distinct extract(year from day)::int "year" from position_day where site_id = $1 and market_id = $2
      order by 1`,
    [siteId, marketId],
  )
  // A month at a time: a day of many keywords is large.
  for (const { year } of rows)
    for (let month = 1; month <= 12; month++) {
      const from = `${year}-${String(month).padStart(2, '0')}`
      const days = await manyDays(context.pool, siteId, marketId, `${from}-01`, lastOf(year, month))
      for (const { day, positions } of days) {
        let text = ''
        for (let at = 0; at * 2 < positions.length; at++) {
          const position = positions.readInt16LE(at * 2)
          const phrase = phrases.get(at)
          if (position === 0 || phrase === undefined) continue
          text += `${day},"${phrase.replaceAll('"', '""')}",${position > 0 ? position : ''},${position < 0 ? -position : ''}\n`
        }
        if (text) yield text
      }
    }
}
/** Rows of `result_month` that are unpacked at a time. */
const monthsAtATime = 500
/** Every result page that is kept of a market, a line a result; `page` is an id of rows/result_address.csv. */
async function* resultLines({ pool }: Context, siteId: number, marketId: number): AsyncGenerator<string> {
  yield 'day,keyword,looked_down_to,position,page\n'
  let [keywordId, month] = [0, '0001-01-01']
  for (;;) {
    const { rows } = await pool.query<{ keywordId: number; month: string; days: Buffer; phrase: string }>(
      `select m.keyword_id "keywordId", m.month::text "month", m.days, k.phrase from result_month m
       join keyword k on k.site_id = $1 and k.id = m.keyword_id
       where m.site_id = $1 and m.market_id = $2 and (m.keyword_id, m.month) > ($3, $4::date)
       order by m.keyword_id, m.month limit ${monthsAtATime}`,
      [siteId, marketId, keywordId, month],
    )
    for (const row of rows) {
      const keyword = `"${row.phrase.replaceAll('"', '""')}"`
      let text = ''
      for (const { day, depth, pages } of decodeMonth(row.days))
        for (const [i, page] of pages.entries())
          text += `${row.month.slice(0, 8)}${String(day).padStart(2, '0')},${keyword},${depth},${i + 1},${page || ''}\n`
      if (text) yield text
    }
    const last = rows.at(-1)
    if (!last || rows.length < monthsAtATime) return
    ;[keywordId, month] = [last.keywordId, last.month]
  }
}
const lastOf = (year: number, month: number): string => new Date(Date.UTC(year, month, 0)).toISOString().slice(0, 10)

/**
 * Everything of a site as a ZIP of CSV files: what its screens show (`shown/`), positions day by day, and the rows as they are stored
 * (`rows/`). It is written as it is read, so its size does not matter.
 */
async function siteArchive(
  context: Context,
  siteId: number,
  tables: Readonly<Record<string, Table>>,
): Promise<Readable> {
  const site = await needSite(context.pool, siteId)
  const zip = new yazl.ZipFile()
  const out = zip.outputStream as unknown as Readable
  /** Opened only when its turn has come, so that one connection is used at a time. */
  const add = (name: string, open: () => Promise<Readable>) =>
    zip.addReadStreamLazy(name, (done: (error: unknown, stream: NodeJS.ReadableStream) => void) => {
      open().then(
        stream => done(null, stream),
        error => done(error, new PassThrough()),
      )
    })
  zip.on('error', error => out.destroy(error as Error))
  zip.addBuffer(Buffer.from(readme(site.domain), 'utf8'), 'README.txt')
  for (const market of site.markets) {
    const folder = `${market.engine}-${market.place}-${market.language}-${market.device}`
    for (const [name, table] of Object.entries(tables))
      add(`shown/${folder}/${name}.csv`, async () => {
        const query = { siteId, marketId: market.id, table: name, format: 'csv' as const, where: [], sort: [] }
        return Readable.from(await writeTable(await table(context, siteId, market.id), query))
      })
    add(`results/${folder}.csv`, async () => Readable.from(resultLines(context, siteId, market.id)))
    add(`positions/${folder}.csv`, async () => Readable.from(positionLines(context, siteId, market.id)))
  }
  for (const { name, columns } of await manySiteTables(context))
    add(`rows/${name}.csv`, async () => {
      const client = await context.pool.connect()
      const list = columns.map(column => `"${column}"`).join(', ')
      const stream = client.query(
        copyTo(
          `copy (select ${list} from "${name}" where site_id = ${Number(siteId)}) to stdout with (format csv, header)`,
        ),
      )
      let free = false
      const release = (error?: Error) => {
        if (free) return
        free = true
        client.release(error)
      }
      stream.on('end', () => release())
      stream.on('error', error => release(error))
      stream.on('close', () => release(new Error('left in the middle')))
      return stream
    })
  zip.end()
  return out
}

const readme = (domain: string): string => `Everything that Dew Trail holds of ${domain}.

shown/       what the screens show, by market: keywords, plan, positions
positions/   every position that was found, day by day; not_found_within: looked at as many results and not found
results/     every result page that is kept, a line a result; page: its id in rows/result_address.csv, empty
where it is not known
rows/        the rows as they are stored, a file a table; times are of UTC

All files are CSV in UTF-8 with the columns' names in the first line. An empty cell is not known.
Secret addresses, keys and passwords are not in here.
`

/** Mounts the archive of a site; it holds the tables of all features. */
export function mountSiteArchive(router: Router, context: Context, tables: Readonly<Record<string, Table>>): void {
  router.get('/api/sites/:siteId/everything.zip', async (request, response) => {
    const { siteId } = checkInput(z.object({ siteId: id }), request.params)
    needRole('owner', siteId)
    const { domain } = await needSite(context.pool, siteId)
    context.people.noteExport(siteId, 'Everything of the site')
    response.setHeader('content-disposition', `attachment; filename="${domain}.zip"`)
    response.type('application/zip')
    await pipeline(await siteArchive(context, siteId, tables), response).catch(error => {
      context.log.warn({ err: error, siteId }, 'an archive of a site ended early')
    })
  })
}
