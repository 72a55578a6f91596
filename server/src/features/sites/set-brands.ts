import type { BrandWords } from '@dew-trail/contract/brands'
import { brandWordings } from '@dew-trail/core/words/brand-words'
import { normalForm } from '@dew-trail/core/words/normal-form'
import { splitWords } from '@dew-trail/core/words/split-words'
import type { Context } from '../../context.ts'
import { doAct, type UndoWork } from '../../domain/acts/do-act.ts'
import { brandsOf, toBrandWords } from '../../domain/sites/brand-words.ts'
import { type BrandRow, manyBrandWords, replaceBrandWords, touchAllKeywords } from '../../domain/sites/queries.ts'

/** Saves brand words in normal form. A rival entered by its domain alone gets the wordings of its name. */
export async function setBrands(
  context: Context,
  siteId: number,
  brands: BrandWords[],
): Promise<{ brands: BrandWords[]; actId: number | null }> {
  const rows = brands.flatMap(each =>
    (each.words.length ? each.words : brandWordings(each.owner, each.owner)).map(word => ({
      owner: each.owner,
      own: each.own,
      wording: splitWords(normalForm(word)).join(' '),
    })),
  )
  return doAct(context, siteId, async db => {
    const before = await manyBrandWords(db, siteId)
    await replaceBrandWords(
      db,
      siteId,
      rows.filter(row => row.wording),
    )
    await touchAllKeywords(db, siteId)
    return {
      answer: { brands: toBrandWords(await brandsOf(db, siteId)) },
      act: { kind: 'brands', title: 'Brand words changed', data: { before } },
      changed: ['keywords', 'brands'],
    }
  })
}

export const undoBrands: UndoWork = async (db, siteId, { before }: { before: BrandRow[] }) => {
  await replaceBrandWords(db, siteId, before)
  await touchAllKeywords(db, siteId)
  return ['keywords', 'brands']
}
