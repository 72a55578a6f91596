import { Stream, textHash, unit } from '../random.ts'
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
export type Head = HeadSpec & { id: number; language: Language }
export type Aspect = AspectSpec & { id: number; language: Language }

export const plural = (name: string): string =>
  /s$/.test(name) && !/ss$/.test(name)
    ? name
    : /(ss|x|ch|sh)$/.test(name)
      ? `${name}es`
      : /[^aeiou]y$/.test(name)
        ? name.replace(/y$/, 'ies')
        : `${name}s`

export function makeHeads(): Head[] {
  return (['en', 'de'] as const)
    .flatMap(language => vocabulary[language].heads.map(head => ({ ...head, language })))
    .map((head, id) => ({ ...head, id }))
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

/** Makes `count` keywords; the first 15 % of the need's forms get most of the demand, as in life. */
export function makeKeywords(seed: number, count: number, heads: Head[], aspects: Aspect[]): Keyword[] {
  const seen = new Set<string>()
  const keywords: Keyword[] = []
  const add = (phrase: string, head: Head, aspect: Aspect, share: number): void => {
    const clean = phrase.replace(/\s+/g, ' ').trim()
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
  const pairs = heads.flatMap(head =>
    aspects.filter(aspect => goesWith(head, aspect)).map(aspect => ({ head, aspect })),
  )
  const fill = (form: string, head: Head, other: string, stream: Stream): string => {
    const words = vocabulary[head.language]
    return form
      .replaceAll('{s}', plural(head.name))
      .replaceAll('{o}', other)
      .replaceAll('{c}', stream.pick(words.cities))
      .replaceAll('{b}', stream.pick(words.brands))
      .replaceAll('{}', head.name)
  }
  const sameGroup = (head: Head): Head[] =>
    heads.filter(other => other.language === head.language && other.group === head.group && other.id !== head.id)
  for (let round = 0; keywords.length < count && round < 400; round++) {
    const before = keywords.length
    for (const { head, aspect } of pairs) {
      if (keywords.length >= count) break
      const stream = new Stream(seed, head.id, aspect.id, round, 3)
      const mates = sameGroup(head)
      const other = mates.length ? mates[(head.id * 7 + aspect.id) % mates.length]!.name : 'clay'
      const form = aspect.forms[round]
      if (form) add(fill(form, head, other, stream), head, aspect, round === 0 ? 1 : 0.45 / round)
      else if (round >= 4) {
        // The long tail: the same needs, told more exactly.
        if (stream.chance(0.35)) continue
        const words = vocabulary[head.language]
        const picked = [stream.pick(words.adjectives)]
        if (round > 9) picked.push(stream.pick(words.adjectives))
        if (round > 40) picked.push(stream.pick(words.brands))
        const text = fill(stream.pick(aspect.forms), head, other, stream)
        add(
          text.includes(head.name)
            ? text.replace(head.name, `${[...new Set(picked)].join(' ')} ${head.name}`)
            : `${picked[0]} ${text}`,
          head,
          aspect,
          0.12 / (1 + round / 12),
        )
      }
    }
    if (keywords.length === before && round > 60) break
  }
  return keywords
}
