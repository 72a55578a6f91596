import PQueue from 'p-queue'
import type pg from 'pg'
import type { Context } from '../../context.ts'
import { AddressBook } from '../../domain/graph/address-book.ts'
import { follow } from '../../domain/graph/page-texts.ts'
import { countWebUse, savePages } from '../../domain/graph/save-pages.ts'
import type { JobControl } from '../../platform/jobs/job-control.ts'

const graphId = 1
const [atOnce, savedTogether] = [8, 40]

/**
 * Reads linking pages with our crawler, at the pace that each host allows: whether their links are there, their words around, their languages,
 * contacts. `progress.read` counts those that were, so that after a stop it goes on behind them. `before`: steps of the job that came before.
 */
export async function readLinkPages(
  context: Context,
  control: JobControl,
  pages: readonly string[],
  before = 0,
): Promise<{ read: number; failed: number }> {
  const { progress } = control
  let read = Number(progress.read ?? 0)
  let failed = Number(progress.unread ?? 0)
  const total = before + pages.length
  while (read < pages.length) {
    await control.step(before + read, total)
    const part = pages.slice(read, read + savedTogether)
    const queue = new PQueue({ concurrency: atOnce })
    const outcomes = (
      await Promise.all(part.map(page => queue.add(() => follow(context, page, control.signal))))
    ).flatMap(steps => steps ?? [])
    control.signal.throwIfAborted()
    await savePages(context.pool, graphId, new AddressBook(graphId), outcomes, new Date(), db =>
      countWebUse(db, outcomes),
    )
    failed += outcomes.filter(outcome => outcome.state === 'failed').length
    for (const { state, url, problem } of outcomes)
      if (state === 'failed') control.warn(`${new URL(url).host} could not be read${problem ? `: ${problem}` : ''}`)
    read += part.length
    Object.assign(progress, { read, unread: failed })
    await control.save()
  }
  await control.step(total, total)
  return { read, failed }
}

/** Linking pages of sites, those of the linking sites of the highest standing first, so many a site; pages read within 30 days are left out. */
export async function manyPagesToRead(pool: pg.Pool, domains: readonly string[], most: number): Promise<string[]> {
  const { rows } = await pool.query<{ url: string }>(
    `select distinct p.url from unnest($2::text[]) w (domain)
     join linked_site d on d.graph_id = $1 and d.domain = w.domain
     cross join lateral (
       select l.source_page_id from (
         select source_page_id, source_site_id from link where graph_id = $1 and target_site_id = d.id
           and source_site_id <> d.id and gone_on is null group by 1, 2
       ) l
       left join site_standing t on t.graph_id = $1 and t.site_id = l.source_site_id
         and t.snapshot_id = (select max(id) from graph_snapshot where graph_id = $1)
       where not exists (select from page_content c where c.graph_id = $1 and c.page_id = l.source_page_id
         and c.fetched_at > now() - interval '30 days')
       order by t.standing desc nulls last, l.source_page_id limit $3
     ) best join linked_page p on p.graph_id = $1 and p.id = best.source_page_id`,
    [graphId, domains, most],
  )
  return rows.map(row => row.url)
}
