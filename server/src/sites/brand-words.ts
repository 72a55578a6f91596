import type { BrandWords } from '@dew-trail/contract/brands'
import { type Brand, brandWordings } from '@dew-trail/core/words/brand-words'
import { normalForm } from '@dew-trail/core/words/normal-form'
import { splitWords } from '@dew-trail/core/words/split-words'
import type pg from 'pg'
import type { Context } from '../context.ts'
import { type Db, inTransaction } from '../db/pool.ts'
import { needSite } from './need-market.ts'
import { lockSite, manyBrandWords, replaceBrandWords, touchAllKeywords } from './queries.ts'

/** Brands of a site: its own by name and domain, and what was entered. */
export async function brandsOf(db: Db, siteId: number): Promise<Brand[]> {
  const site = await needSite(db, siteId)
  const own: Brand & { words: string[] } = {
    owner: site.domain,
    own: true,
    words: brandWordings(site.name, site.domain),
  }
  const brands = new Map<string, Brand & { words: string[] }>([[site.domain, own]])
  for (const row of await manyBrandWords(db, siteId)) {
    const key = row.own ? site.domain : row.owner
    const known = brands.get(key)
    if (known) {
      if (!known.words.includes(row.wording)) known.words.push(row.wording)
    } else brands.set(key, { owner: row.owner, own: row.own, words: [row.wording] })
  }
  return [...brands.values()]
}

export const toBrandWords = (brands: Brand[]): BrandWords[] => brands.map(each => ({ ...each, words: [...each.words] }))

/** Saves brand words in normal form. A rival entered by its domain alone gets the wordings of its name. */
export async function setBrands(context: Context, siteId: number, brands: BrandWords[]): Promise<BrandWords[]> {
  await needSite(context.pool, siteId)
  const rows = brands.flatMap(each =>
    (each.words.length ? each.words : brandWordings(each.owner, each.owner)).map(word => ({
      owner: each.owner,
      own: each.own,
      wording: splitWords(normalForm(word)).join(' '),
    })),
  )
  await inTransaction(context.pool, async (db: pg.PoolClient) => {
    await lockSite(db, siteId)
    await replaceBrandWords(
      db,
      siteId,
      rows.filter(row => row.wording),
    )
    await touchAllKeywords(db, siteId)
  })
  context.events.publish(siteId, { type: 'keywords' })
  return toBrandWords(await brandsOf(context.pool, siteId))
}
