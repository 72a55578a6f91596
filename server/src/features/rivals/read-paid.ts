import { mostListed } from '@dew-trail/contract/rivals'
import { readTarget } from '@dew-trail/core/rivals/target'
import type pg from 'pg'
import { manyLoads } from './known-queries.ts'
import { manyPaid } from './paid-queries.ts'
import type { OpenMarket } from './ranked.ts'

/** What a site pays for in the newest month that the ads data was asked for; `month` null: it was not asked. The first `most` rows. */
export async function readPaid(pool: pg.Pool, { at, site }: OpenMarket, domain: string, most: number) {
  const month = (await manyLoads(pool, at, [domain])).find(load => load.edition === 'paid')?.asOf ?? null
  if (month === null) return { month, keywords: 0, spend: 0, rows: [] }
  const { rows, total, spend } = await manyPaid(pool, at, domain, site.domain, most)
  return { month, keywords: total, spend, rows }
}

/** The keywords that a target's site pays for, most spent first. */
export async function readPaidKeywords(pool: pg.Pool, open: OpenMarket, text: string) {
  const { domain } = readTarget(text)!
  const { rows, keywords: total, spend, month } = await readPaid(pool, open, domain, mostListed)
  return {
    rows: rows.map(row => ({ ...row, spendShare: spend ? row.spend / spend : null })),
    total,
    spend,
    month,
    domain,
  }
}
