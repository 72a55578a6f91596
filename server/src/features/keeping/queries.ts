import type { Keeping, Retention } from '@dew-trail/contract/keeping'
import type { Db } from '../../platform/db/pool.ts'

/** Tables by what they hold, by the beginning of their names; the first that fits counts. */
const kinds: ReadonlyArray<[kind: Keeping['space'][number]['kind'], pattern: string]> = [
  ['resultTexts', '^result_page'],
  ['results', '^(result_|known_|ranking_|weighing|strength|prediction|sweep|figures_change)'],
  ['positions', '^(position_|page_found|feature_found|tracked_keyword|visibility|voice)'],
  ['pageTexts', '^(page_content|own_page_text)'],
  ['links', '^(link|linked_|linking_|anchor_text|page_standing|site_standing|graph|popularity|site_fact)'],
  ['keywords', '^(keyword|demand|finding|gathering|row_block|log_|theme)'],
  ['logs', '^(job|activity|import|act$|act_|source_use|web_hook)'],
]
/** Bytes of the database by kind, with indexes; what fits none is "other". */
export async function manySpaces(db: Db): Promise<Keeping['space']> {
  const cases = kinds.map(([kind, pattern]) => `when c.relname ~ '${pattern}' then '${kind}'`).join(' ')
  const { rows } = await db.query<Keeping['space'][number]>(
    `select case when n.nspname = 'pgboss' then 'logs' when n.nspname <> 'public' then 'other' ${cases}
      else 'other' end kind,
       sum(pg_total_relation_size(c.oid))::float8 bytes
     from pg_class c join pg_namespace n on n.oid = c.relnamespace
     where c.relkind in ('r', 'm') and not c.relisshared and n.nspname <> 'pg_toast' group by 1 order by 2 desc`,
  )
  return rows
}

/** Removes what is kept no longer, but for texts of result pages, which weighing prunes. */
export async function prune(db: Db, { pageTexts, workLog, activity }: Retention): Promise<void> {
  if (pageTexts !== null)
    await db.query(
      'update page_content set text = null where text is not null and fetched_at < now() - make_interval(days => $1)',
      [pageTexts],
    )
  if (workLog !== null) {
    await db.query('delete from job where ended_at < now() - make_interval(days => $1)', [workLog])
    await db.query(
      `delete from import_error e using import i where i.site_id = e.site_id and i.id = e.import_id
         and i.created_at < now() - make_interval(days => $1)`,
      [workLog],
    )
    await forgetTakenBack(db, workLog)
  }
  if (activity !== null)
    await db.query(
      `delete from activity
    where at < now() - make_interval(days => $1)`,
      [activity],
    )
}

/** Lets go of what imports older than so many days need to be taken back or put back. */
async function forgetTakenBack(db: Db, days: number): Promise<void> {
  const old = 'created_at < now() - make_interval(days => $1)'
  await db.query(
    `delete from link_taken_back where load in (select (brought->>'load')::integer from import where ${old})`,
    [days],
  )
  for (const table of [
    ...['log_week', 'log_page_week', 'popularity', 'position', 'page_found'],
    ...['page', 'page_content', 'link'],
  ])
    await db.query(
      `delete from import_${table} a using import i where i.site_id = a.site_id and i.id = a.import_id and i.${old}`,
      [days],
    )
  await db.query(`update import set brought = null where brought is not null and ${old}`, [days])
}
