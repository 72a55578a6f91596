import { siteKind } from '@dew-trail/core/links/site-kind'
import type pg from 'pg'
import { manySiteDomains } from './queries.ts'
import { insertVetted } from './vetted-queries.ts'

/**
 * Trust begins with sites whose name says that a school or public body stands behind them, each kept with the reason. Sites that somebody
 * decided on stay as they are.
 */
export async function vetByName(pool: pg.Pool, graphId: number): Promise<void> {
  const vetted = (await manySiteDomains(pool, graphId)).flatMap(domain => {
    const { kind, reasons } = siteKind({ domain, title: '', text: '', paths: [] })
    return kind === 'school' || kind === 'public' ? [{ domain, why: reasons.join(', ') }] : []
  })
  await insertVetted(pool, graphId, vetted)
}
