import { anchorLanguage, usualLanguages } from '@dew-trail/core/links/anchor-language'
import { languageCode, languageOfCode } from '@dew-trail/core/links/link-columns'
import { countByCode } from '@dew-trail/core/links/link-sums'
import type { AnchorUse } from '@dew-trail/core/links/odd-anchor'
import type pg from 'pg'
import { chosenOf, type LinkPack, memo, memoLater, scopeKey } from './link-pack.ts'
import { graphId, type LinkScope } from './link-scope.ts'

/** Of so many anchors, those with most links, the language is told: each takes some 20 µs. */
const mostDetected = 5_000

/** Languages of the words of links, by anchor; those that do not tell are not there. */
export const anchorLanguagesOf = (pool: pg.Pool, pack: LinkPack): Promise<Map<number, string>> =>
  memoLater(pack, 'anchor languages', () => queryLanguages(pool, pack))
async function queryLanguages(pool: pg.Pool, { links }: LinkPack): Promise<Map<number, string>> {
  const pages = new Map<string, number>()
  const anchors = new Map<number, number>()
  for (let i = 0; i < links.count; i++) {
    if (links.language[i] === 0) continue
    const language = languageOfCode(links.language[i]!)!
    pages.set(language, (pages.get(language) ?? 0) + 1)
    anchors.set(links.anchor[i]!, (anchors.get(links.anchor[i]!) ?? 0) + 1)
  }
  const usual = usualLanguages(pages)
  if (!usual.size) return new Map()
  const most = [...anchors].sort((a, b) => b[1] - a[1] || a[0] - b[0]).slice(0, mostDetected)
  const { rows } = await pool.query<{ id: number; text: string }>(
    'select id, text from anchor_text where graph_id = $1 and id = any($2)',
    [graphId, most.map(([id]) => id)],
  )
  return new Map(
    rows.flatMap(({ id, text }) => {
      const language = isAddress(text) ? null : anchorLanguage(text, usual)
      return language ? [[id, language] as const] : []
    }),
  )
}
const isAddress = (text: string): boolean => /^(https?:|www\.)|^[^\s]+\.[a-z]{2,}(\/|$)/i.test(text.trim())

export type LanguagePart = { key: string; links: number; sites: number }
/** Links by the language of their page, '' where it is unknown; `de:en` where its words are in another (here English words on a German page). */
export async function manyLanguageParts(pool: pg.Pool, pack: LinkPack, scope: LinkScope): Promise<LanguagePart[]> {
  const languages = await anchorLanguagesOf(pool, pack)
  return memo(pack, `languages ${scopeKey(scope, scope.age)}`, () => {
    const { language, anchor } = pack.links
    const codes = new Map<number, number>()
    const words = new Map([...languages].map(([id, name]) => [id, languageCode(name)]))
    const codeOf = (i: number): number => {
      const page = language[i]!
      const own = page === 0 ? 0 : (words.get(anchor[i]!) ?? page)
      const pair = page * 65_536 + own
      let code = codes.get(pair)
      if (code === undefined) codes.set(pair, (code = codes.size))
      return code
    }
    const counts = countByCode(pack.links, chosenOf(pack, scope), codeOf)
    const pairs = [...codes.keys()]
    return counts
      .map(({ code, links, sites }) => ({ key: keyOf(pairs[code]!), links, sites }))
      .sort((a, b) => b.links - a.links)
  })
}
function keyOf(pair: number): string {
  const [page, words] = [Math.floor(pair / 65_536), pair % 65_536]
  if (page === 0) return ''
  return page === words ? languageOfCode(page)! : `${languageOfCode(page)}:${languageOfCode(words)}`
}

/** Of anchors with a known language on pages in another one: how many links stand on those, of how many whose page's language is known. */
export async function foreignAnchors(
  pool: pg.Pool,
  pack: LinkPack,
  scope: LinkScope,
): Promise<Map<number, NonNullable<AnchorUse['foreign']>>> {
  const languages = await anchorLanguagesOf(pool, pack)
  return memo(pack, `foreign ${scopeKey(scope, scope.age)}`, () => {
    const { count, language, anchor } = pack.links
    const chosen = chosenOf(pack, scope)
    const found = new Map<number, { of: number; pages: Map<number, number> }>()
    for (let i = 0; i < count; i++) {
      const words = languages.get(anchor[i]!)
      if (chosen[i] === 0 || language[i] === 0 || words === undefined) continue
      let entry = found.get(anchor[i]!)
      if (!entry) found.set(anchor[i]!, (entry = { of: 0, pages: new Map() }))
      entry.of++
      if (languageCode(words) !== language[i]) entry.pages.set(language[i]!, (entry.pages.get(language[i]!) ?? 0) + 1)
    }
    return new Map(
      [...found].flatMap(([id, { of, pages }]) => {
        const [most] = [...pages].sort((a, b) => b[1] - a[1])
        if (!most) return []
        const links = [...pages.values()].reduce((sum, each) => sum + each, 0)
        return [[id, { language: languages.get(id)!, pages: languageOfCode(most[0])!, links, of }] as const]
      }),
    )
  })
}
