import { Stream, textHash, unit } from '../random.ts'
import type { Site } from './sites.ts'
import { type Language, vocabulary } from './vocabulary.ts'
import type { AspectSpec, HeadSpec } from './vocabulary-spec.ts'

/** `need` is the searcher's need (head and aspect): keywords of one need mean the same. */
export type Keyword = {
  id: number
  phrase: string
  language: Language
  head: number
  aspect: number
  need: number
  /** True mean searches a month over the years, before season, trend and shocks. */
  base: number
  cpc: number
  competition: number
}
/** `site`: whose name it is, for heads of sort brand. `parent`: the head that a narrower one is a kind of. */
export type Head = HeadSpec & { id: number; language: Language; site?: number; parent?: number }
export type Aspect = AspectSpec & { id: number; language: Language }

export const plural = (name: string): string =>
  /s$/.test(name) && !/ss$/.test(name)
    ? name
    : /(ss|x|ch|sh)$/.test(name)
      ? `${name}es`
      : /[^aeiou]y$/.test(name)
        ? name.replace(/y$/, 'ies')
        : `${name}s`

/** How people type a site's name. */
export const typedName = (site: Site): string =>
  site.name
    .toLowerCase()
    .replace(/ & /g, ' and ')
    .replace(/[^\p{L}\p{N}]+/gu, ' ')
    .trim()

/** Heads of both languages, the names of known sites, and in larger worlds narrower heads ("portable kiln"). */
export function makeHeads(size: number, sites: Site[]): Head[] {
  const heads: Head[] = []
  for (const language of ['en', 'de'] as const)
    for (const head of vocabulary[language].heads) heads.push({ ...head, language, id: heads.length })
  for (const site of sites)
    if (site.appeal > 0.4 && ['own', 'rival', 'shop', 'magazine', 'marketplace', 'studio', 'forum'].includes(site.kind))
      if (!heads.some(head => head.name === typedName(site)))
        heads.push({
          name: typedName(site),
          group: 'brand',
          weight: 45 * site.appeal ** 3 * (site.language === 'de' ? 0.6 : 1),
          sort: 'brand',
          language: site.language,
          id: heads.length,
          site: site.id,
        })
  const narrower = Math.min(28, Math.max(0, Math.round(size ** 0.75) - 1))
  for (const parent of heads.filter(head => head.sort !== 'brand'))
    for (const adjective of vocabulary[parent.language].adjectives.slice(0, narrower))
      heads.push({
        ...parent,
        name: `${adjective} ${parent.name}`,
        weight: parent.weight * (0.05 + 0.4 * unit(parent.id, textHash(adjective), 12) ** 2),
        id: heads.length,
        parent: parent.id,
      })
  return heads
}
export function makeAspects(): Aspect[] {
  return (['en', 'de'] as const)
    .flatMap(language => vocabulary[language].aspects.map(aspect => ({ ...aspect, language })))
    .map((aspect, id) => ({ ...aspect, id }))
}

export const goesWith = (head: Head, aspect: Aspect): boolean =>
  head.language === aspect.language &&
  aspect.sorts.includes(head.sort[0]!) &&
  (!aspect.groups || aspect.groups.includes(head.group))

/** "a kiln", "an ash glaze"; no article before what is not counted or already many. */
const withArticle = (form: string, head: Head): string =>
  /^(clay|glaze|technique)$/.test(head.group) || /[^s]s$/.test(head.name)
    ? form.replace(/\ba \{\}/g, '{}')
    : /^[aeiou]/.test(head.name)
      ? form.replace(/\ba \{\}/g, 'an {}')
      : form

/** A form of an aspect with its places filled. */
export const fillForm = (form: string, head: Head, other: string, city: string, brand: string): string =>
  (head.language === 'en' ? withArticle(form, head) : form)
    .replaceAll('{s}', head.language === 'de' ? head.name : plural(head.name))
    .replaceAll('{o}', other)
    .replaceAll('{c}', city)
    .replaceAll('{b}', brand)
    .replaceAll('{}', head.name)

/** Other heads of the same group and language, for comparisons; heads of the vocabulary only. */
export function matesOf(heads: Head[]): Head[][] {
  const groups = new Map<string, Head[]>()
  for (const head of heads) {
    if (head.parent !== undefined) continue
    const key = `${head.language}:${head.group}`
    const group = groups.get(key)
    if (group) group.push(head)
    else groups.set(key, [head])
  }
  return heads.map(head =>
    (groups.get(`${head.language}:${head.group}`) ?? []).filter(other => other.id !== (head.parent ?? head.id)),
  )
}

/** The head that a need of comparing compares with. */
export const otherOf = (mates: Head[], head: Head, aspect: Aspect): string =>
  mates.length ? mates[(head.id * 7 + aspect.id) % mates.length]!.name : head.language === 'de' ? 'ton' : 'clay'

/** Makes `count` keywords: the much-searched heads in more wordings than the rest, then the long tail of narrower ones. */
export function makeKeywords(seed: number, count: number, heads: Head[], aspects: Aspect[]): Keyword[] {
  const seen = new Set<string>()
  const keywords: Keyword[] = []
  const add = (phrase: string, head: Head, aspect: Aspect, share: number): void => {
    const clean = phrase
      .replace(/\s+/g, ' ')
      .trim()
      .replace(/\ban? (?=[aeio])/g, 'an ')
      .replace(/\ban (?=[^aeiou])/g, 'a ')
    if (seen.has(clean) || /(^| )(\S+) \2( |$)/.test(clean)) return
    seen.add(clean)
    const at = [seed, textHash(clean), 11]
    const words = clean.split(' ').length
    const spread = Math.exp((unit(...at, 1) + unit(...at, 2) + unit(...at, 3) - 1.5) * 2.4)
    const base =
      head.weight *
      95 *
      aspect.share *
      share *
      spread *
      0.86 ** Math.max(0, words - 3) *
      (0.6 + 0.8 * unit(seed, head.id, aspect.id))
    const buy = aspect.intent[2]! + 0.6 * aspect.intent[1]! + 0.5 * aspect.intent[4]!
    const cpc =
      Math.round(100 * (0.12 + buy * (0.5 + 2.6 * unit(seed, head.id, 5)) * Math.exp((unit(...at, 6) - 0.5) * 0.7))) /
      100
    const competition = Math.min(1, Math.max(0, buy * 0.85 + (unit(...at, 7) - 0.5) * 0.35))
    keywords.push({
      id: keywords.length,
      phrase: clean,
      language: head.language,
      head: head.id,
      aspect: aspect.id,
      need: head.id * 256 + aspect.id,
      base,
      cpc,
      competition,
    })
  }
  const mates = matesOf(heads)
  // The much-asked first, so that a small world has its main keywords in both languages.
  const pairs = heads
    .flatMap(head => aspects.filter(aspect => goesWith(head, aspect)).map(aspect => ({ head, aspect })))
    .sort((a, b) => b.head.weight * b.aspect.share - a.head.weight * a.aspect.share || a.head.id - b.head.id)
  for (let round = 0; keywords.length < count && round < 600; round++) {
    const before = keywords.length
    for (const { head, aspect } of pairs) {
      if (keywords.length >= count) break
      const stream = new Stream(seed, head.id, aspect.id, round, 3)
      const words = vocabulary[head.language]
      const known = Math.min(1, (head.weight / 14) ** 0.5 * (0.35 + aspect.share) ** 0.5)
      if (round && !stream.chance(known / (1 + 0.12 * Math.max(0, round - 4)))) continue
      const other = otherOf(mates[head.id]!, head, aspect)
      const fill = (form: string): string =>
        fillForm(form, head, other, stream.pick(words.cities), stream.pick(words.brands))
      const form = aspect.forms[round]
      if (form) add(fill(form), head, aspect, round === 0 ? 1 : 0.45 / round)
      else if (round >= 2 && head.sort !== 'brand') {
        // The long tail: the same needs, told more exactly.
        const picked = [stream.pick(words.adjectives)]
        if (round > 12) picked.push(stream.pick(words.adjectives))
        if (round > 60) picked.push(stream.pick(words.brands))
        const text = fill(stream.pick(aspect.forms))
        add(
          text.includes(head.name)
            ? text.replace(head.name, `${[...new Set(picked)].join(' ')} ${head.name}`)
            : `${picked[0]} ${text}`,
          head,
          aspect,
          0.16 / (1 + round / 10),
        )
      }
    }
    if (keywords.length === before && round > 300) break
  }
  return keywords
}
