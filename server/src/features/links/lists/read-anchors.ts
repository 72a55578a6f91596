import { createHash } from 'node:crypto'
import type { AnchorRow, LinkFigures } from '@dew-trail/contract/link-lists'
import { anchorBatch, anchorSpecs } from '@dew-trail/contract/link-tables'
import { type AnchorClass, anchorClass } from '@dew-trail/core/links/anchor-class'
import { linkKinds } from '@dew-trail/core/links/link-codes'
import { oddAnchor } from '@dew-trail/core/links/odd-anchor'
import { brandFinder, brandWordings } from '@dew-trail/core/words/brand-words'
import type pg from 'pg'
import { brandsOf } from '../../../domain/sites/brand-words.ts'
import { foreignAnchors } from './link-languages.ts'
import { type LinkPack, memo, memoLater, readPack, scopeKey } from './link-pack.ts'
import { type LinkScope, maybeScope, needTarget } from './link-scope.ts'
import { type AnchorRowOf, manyPhrasesOf, manyTargetAnchors } from './list-queries.ts'
import { cellsIn, checkColumns, isSifted, type Listed, nothing, type Of, type Sifting, siftRows } from './sift.ts'

/** How many phrases for which the target's site ranks are used to classify its anchor texts. */
const mostPhrases = 2_000

/** Anchors of the links to a target with what they say, and (of the first 10,000) the classes they are of. */
export async function readAnchors(
  pool: pg.Pool,
  wanted: Of & Sifting,
): Promise<Listed<AnchorRow> & { sites: number; classes: LinkFigures['anchors'] }> {
  checkColumns(anchorSpecs, wanted)
  const target = needTarget(wanted.target)
  const scope = await maybeScope(pool, target, wanted)
  if (!scope) return { ...nothing, sites: 0, classes: [] }
  const pack = await readPack(pool, scope)
  const sifted = isSifted(wanted)
  // Kept beside the links: the words of ten thousand anchors are not asked for at each look.
  const most = sifted ? Number.POSITIVE_INFINITY : wanted.most
  const found = await memoLater(pack, `anchors named ${most} ${scopeKey(scope, scope.age)}`, () =>
    manyTargetAnchors(pool, scope, most),
  )
  const name = await anchorNamer(pool, pack, scope, { siteId: wanted.siteId, domain: target.domain })
  const bySense = [...wanted.where, ...wanted.sort].some(({ column }) => column === 'kind' || column === 'odd')
  const total = found[0]?.total ?? 0
  const sites = found[0]?.ofSites ?? 0
  if (!sifted) {
    const rows = await name(found)
    return { total, met: total, sites, rows, classes: classesOf(rows) }
  }
  const all = bySense ? await name(found) : found.map(row => plainAnchor(row, null))
  const { rows, met } = siftRows(all, cellsIn(anchorBatch(all).columns), wanted)
  if (bySense) return { total, met, sites, rows, classes: [] }
  const byId = new Map(found.map(row => [row.id, row]))
  return { total, met, sites, classes: [], rows: await name(rows.map(row => byId.get(row.id)!)) }
}
type Sense = { kind: AnchorClass; odd: string | null }
const plainAnchor = ({ total: _, ofSites, networkSites: __, ...row }: AnchorRowOf, sense: Sense | null): AnchorRow => ({
  ...row,
  kind: sense?.kind ?? 'other',
  sitesShare: ofSites ? row.sites / ofSites : 0,
  odd: sense?.odd ?? null,
})
function classesOf(rows: readonly AnchorRow[]): LinkFigures['anchors'] {
  const sums = new Map<string, { key: string; links: number; sites: number }>()
  for (const { kind, links, sites } of rows) {
    const sum = sums.get(kind) ?? { key: kind, links: 0, sites: 0 }
    sum.links += links
    sum.sites += sites
    sums.set(kind, sum)
  }
  return [...sums.values()].sort((a, b) => b.links - a.links)
}

/** Naming an anchor takes some 50 µs; other requests get their turn after so many. */
const namedAtOnce = 1_000
/** What tells what anchors say of a site and whether they are odd; what was told once stays beside the links. */
async function anchorNamer(
  pool: pg.Pool,
  pack: LinkPack,
  scope: LinkScope,
  { siteId, domain }: { siteId: number; domain: string },
): Promise<(rows: readonly AnchorRowOf[]) => Promise<AnchorRow[]>> {
  const [phrases, brands, foreign] = await Promise.all([
    manyPhrasesOf(pool, siteId, domain, mostPhrases),
    brandsOf(pool, siteId),
    foreignAnchors(pool, pack, scope),
  ])
  const brand = brands.filter(each => each.owner === domain).flatMap(each => each.words)
  const findsBrand = brandFinder([{ owner: domain, own: true, words: [...brand, ...brandWordings(domain, domain)] }])
  const about = { domain, brand, phrases, language: 'en' }
  const words = createHash('sha1').update(JSON.stringify(about)).digest('hex')
  const known = memo(pack, `named ${scopeKey(scope, scope.age)} ${words}`, () => new Map<number, Sense>())
  const senseOf = (row: AnchorRowOf): Sense => {
    const kind = anchorClass(row.text, linkKinds[row.kind]!, about)
    const { sites, networkSites, ofSites } = row
    const named = findsBrand(row.text) !== null
    return { kind, odd: oddAnchor({ kind, named, sites, networkSites, ofSites, foreign: foreign.get(row.id) ?? null }) }
  }
  return async rows => {
    let made = 0
    for (const row of rows) {
      if (known.has(row.id)) continue
      known.set(row.id, senseOf(row))
      if (++made % namedAtOnce === 0) await new Promise(resolve => setImmediate(resolve))
    }
    return rows.map(row => plainAnchor(row, known.get(row.id)!))
  }
}
