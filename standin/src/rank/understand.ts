import { textHash } from '../random.ts'
import type { Aspect, Head, Keyword } from '../world/keywords.ts'
import type { Language } from '../world/vocabulary.ts'
import type { World } from '../world/world.ts'

export type Query = {
  id: number
  phrase: string
  words: string[]
  language: Language
  head: number
  aspect: number
  need: number
  intent: number[]
  local: boolean
  keyword?: Keyword
}

/** Light stemming of the engines' own, so that "wheels" finds "wheel". */
export function trunk(word: string): string {
  const one = word.replace(/([^s])s$/, '$1')
  return one.length > 4 ? one.replace(/(er|ing|ie|en|e|n|y)$/, '') : one
}
const wordsOf = (text: string): string[] =>
  text
    .toLowerCase()
    .split(/[^\p{L}\p{N}]+/u)
    .filter(Boolean)
export const trunksOf = (text: string): string[] => wordsOf(text).map(trunk)

type Lexicon = {
  headsByTrunk: Map<string, Array<{ head: Head; trunks: string[] }>>
  forms: Array<{ aspect: Aspect; trunks: string[] }>
}
const lexicons = new WeakMap<World, Record<Language, Lexicon>>()
/** Heads by each of their words and the words of all forms, by language. */
function lexiconOf(world: World, language: Language): Lexicon {
  let known = lexicons.get(world)
  if (!known) {
    const make = (each: Language): Lexicon => {
      const headsByTrunk: Lexicon['headsByTrunk'] = new Map()
      for (const head of world.heads) {
        if (head.language !== each) continue
        const entry = { head, trunks: trunksOf(head.name) }
        for (const word of new Set(entry.trunks)) {
          const list = headsByTrunk.get(word)
          if (list) list.push(entry)
          else headsByTrunk.set(word, [entry])
        }
      }
      const forms = world.aspects
        .filter(aspect => aspect.language === each)
        .flatMap(aspect => aspect.forms.map(form => ({ aspect, trunks: trunksOf(form.replace(/\{.?\}/g, ' ')) })))
      return { headsByTrunk, forms }
    }
    lexicons.set(world, (known = { en: make('en'), de: make('de') }))
  }
  return known[language]
}

/** What a searcher means: a known keyword, else the longest head inside the words and the aspect whose form fits best. */
export function understand(world: World, text: string, language: Language): Query | undefined {
  const phrase = text.toLowerCase().replace(/\s+/g, ' ').trim()
  const words = wordsOf(phrase)
  const build = (head: number, aspect: number, id: number, keyword?: Keyword): Query => {
    const spec = world.aspects[aspect]!
    return {
      id,
      phrase,
      words,
      language: spec.language,
      head,
      aspect,
      need: head * 256 + aspect,
      intent: spec.intent,
      local: spec.intent[4]! >= 0.3,
      ...(keyword ? { keyword } : {}),
    }
  }
  const known = world.byPhrase.get(phrase)
  if (known && known.language === language) return build(known.head, known.aspect, known.id, known)
  const { headsByTrunk, forms } = lexiconOf(world, language)
  const stems = new Set(words.map(trunk))
  let head: Head | undefined
  let length = 0
  let vague: Head | undefined
  for (const stem of stems)
    for (const candidate of headsByTrunk.get(stem) ?? []) {
      // One word of a head is enough for a vague query.
      if (!vague || candidate.head.id < vague.id) vague = candidate.head
      const own = candidate.trunks.length + candidate.head.name.length / 100
      if (own > length && candidate.trunks.every(part => stems.has(part))) {
        head = candidate.head
        length = own
      }
    }
  head ??= vague
  if (!head) return undefined
  const headStems = new Set(trunksOf(head.name))
  const rest = [...stems].filter(stem => !headStems.has(stem))
  let aspect = -1
  let best = -Infinity
  for (const form of forms) {
    if (!form.aspect.sorts.includes(head.sort[0]!)) continue
    const hit = rest.filter(stem => form.trunks.includes(stem)).length
    const score = hit * 2 - form.trunks.length * 0.5 - (/plain|brand-home/.test(form.aspect.name) ? 0 : 0.1)
    if (score > best) {
      best = score
      aspect = form.aspect.id
    }
  }
  return build(head.id, aspect, textHash(phrase))
}

/** The needs besides the main one that a text speaks of: those whose every own word it has near the head. */
export function needsIn(world: World, text: string, head: number, language: Language): number[] {
  const subject = new Set(trunksOf(world.heads[head]!.name))
  const found = new Set<number>()
  for (const sentence of text.split(/[.!?\n]+/)) {
    const stems = new Set(trunksOf(sentence))
    if (![...subject].some(stem => stems.has(stem))) continue
    for (const { aspect, trunks } of lexiconOf(world, language).forms)
      if (trunks.length && aspect.sorts.includes(world.heads[head]!.sort[0]!) && trunks.every(stem => stems.has(stem)))
        found.add(aspect.id)
  }
  return [...found]
}
