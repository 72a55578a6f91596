import type { BrandWords } from '@dew-trail/contract/brands'
import { type Brand, brandWordings } from '@dew-trail/core/words/brand-words'
import type { Db } from '../../platform/db/pool.ts'
import { needSite } from './need-market.ts'
import { manyBrandWords } from './queries.ts'

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
