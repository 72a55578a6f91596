import { type ClickCurve, curveFromFirst, expectedVisits, visitsFromChances } from '@dew-trail/core/demand/click-curve'
import { plainOrganicShare } from '@dew-trail/core/demand/click-split'
import { type Brand, brandFinder } from '@dew-trail/core/words/brand-words'
import type { Market } from '@dew-trail/contract/sites'
import type pg from 'pg'
import { manyCurves } from '../query-log/queries.ts'
import type { Db } from '../../platform/db/pool.ts'
import { brandsOf } from '../sites/brand-words.ts'
import { maybeSite } from '../sites/queries.ts'
import { maybeMeanOrganic } from './queries.ts'

export type WeighedVisits = {
  chance3: number | null
  chance10: number | null
  chance20: number | null
  organicShare: number | null
}
/** Whose click curve: the default, that of the query log, or the owner's own share at the first place, with the rest in proportion. */
export type CurveKind = 'default' | 'fitted' | 'set'
export type VisitReader = {
  brands: Brand[]
  /** The brand a phrase names. */
  brandOf(phrase: string): Brand | null
  /** Which curve visits of phrases with or without a brand follow: that of the own query log, the default, or one the owner set. */
  curveOf(brand: boolean): CurveKind
  /** The curve of phrases without a brand; undefined = the default. */
  curve: ClickCurve | undefined
  /**
   * Visits a month of a weighed keyword from its searches: by the site's click curve, in proportion to the share of the keyword's
   * searches that click a result, against the share where the curve was seen. `null` where searches or chances are unknown.
   */
  visits(searches: number | null, weighed: WeighedVisits | undefined, brand: boolean): number | null
  /** What a visit is worth: to the owner where they said so, else the CPC; null where neither is known. */
  worthOf(keywordId: number, cpc: number | null): number | null
  /** Visits at a position that the site has; below 0 = not found, which brings none. `null` where position or searches are unknown. */
  visitsAt(position: number, searches: number | null, organicShare: number | null, brand: boolean): number | null
}

/** What turns chances into visits in a market of a site, with all that is the same for every keyword. */
export async function visitReader(pool: pg.Pool, siteId: number, market: Market): Promise<VisitReader> {
  const [curves, brands, meanOrganic, byLabel, site] = await Promise.all([
    manyCurves(pool, siteId),
    brandsOf(pool, siteId),
    maybeMeanOrganic(pool, siteId, market.id),
    worthByLabel(pool, siteId),
    maybeSite(pool, siteId),
  ])
  const ownWorth = site?.visitWorth ?? null
  const ofLog = (brand: boolean) => curves.find(each => each.device === market.device && each.brand === brand)?.shares
  const fitted = { yes: ofLog(true), no: ofLog(false) }
  const set = site?.firstShare ?? null
  const used = { yes: fitted.yes, no: set === null ? fitted.no : curveFromFirst(set, market.device, fitted.no) }
  const plain = plainOrganicShare(market.device)
  /** Searches as they would be if as many of them clicked a result as where the curve was seen. */
  const clicking = (searches: number, organicShare: number | null, brand: boolean): number => {
    const typical = (fitted[brand ? 'yes' : 'no'] ? meanOrganic : null) ?? plain
    return searches * ((organicShare ?? typical) / typical)
  }
  return {
    brands,
    brandOf: brandFinder(brands),
    worthOf: (keywordId, cpc) => byLabel.get(keywordId) ?? ownWorth ?? cpc,
    curveOf: brand => (!brand && set !== null ? 'set' : fitted[brand ? 'yes' : 'no'] ? 'fitted' : 'default'),
    curve: used.no,
    visits(searches, weighed, brand) {
      if (searches === null || !weighed) return null
      const { chance3, chance10, chance20, organicShare } = weighed
      if (chance3 === null || chance10 === null || chance20 === null) return null
      return visitsFromChances(
        clicking(searches, organicShare, brand),
        { within3: chance3, within10: chance10, within20: chance20 },
        market.device,
        used[brand ? 'yes' : 'no'],
      )
    },
    visitsAt(position, searches, organicShare, brand) {
      if (position === 0 || searches === null) return null
      if (position < 0) return 0
      const curve = used[brand ? 'yes' : 'no']
      return expectedVisits(clicking(searches, organicShare, brand), position, market.device, curve)
    },
  }
}

/** What visits by keywords are worth to the owner by their labels; of several labels the one that is worth most. */
export async function worthByLabel(db: Db, siteId: number): Promise<Map<number, number>> {
  const { rows } = await db.query<{ id: number; worth: number }>(
    `select k.keyword_id id, max(l.visit_worth) worth from list l
     join list_keyword k on k.site_id = $1 and k.list_id = l.id
     where l.site_id = $1 and l.kind = 'label' and l.visit_worth is not null group by 1`,
    [siteId],
  )
  return new Map(rows.map(row => [row.id, row.worth]))
}
