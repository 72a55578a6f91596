import { textHash } from '../random.ts'
import type { Keyword } from '../world/keywords.ts'
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
export const trunk = (word: string): string =>
  word.length > 4 ? word.replace(/(ers|er|ing|ies|es|s|en|n)$/, '') : word.replace(/s$/, '')
const wordsOf = (text: string): string[] =>
  text
    .toLowerCase()
    .split(/[^\p{L}\p{N}]+/u)
    .filter(Boolean)

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
  if (known) return build(known.head, known.aspect, known.id, known)
  const stems = new Set(words.map(trunk))
  let head = -1
  let length = 0
  for (const candidate of world.heads) {
    if (candidate.language !== language) continue
    const parts = wordsOf(candidate.name)
    if (parts.length + candidate.name.length / 100 > length && parts.every(part => stems.has(trunk(part)))) {
      head = candidate.id
      length = parts.length + candidate.name.length / 100
    }
  }
  if (head < 0) {
    // One word of a head is enough for a vague query.
    const vague = world.heads.find(
      candidate => candidate.language === language && wordsOf(candidate.name).some(part => stems.has(trunk(part))),
    )
    if (!vague) return undefined
    head = vague.id
  }
  const headStems = new Set(wordsOf(world.heads[head]!.name).map(trunk))
  const rest = [...stems].filter(stem => !headStems.has(stem))
  let aspect = -1
  let best = -1
  for (const candidate of world.aspects) {
    if (candidate.language !== language) continue
    for (const form of candidate.forms) {
      const formStems = wordsOf(form.replace(/\{.\}|\{\}/g, ' ')).map(trunk)
      const hit = rest.filter(stem => formStems.includes(stem)).length
      const score = hit * 2 - formStems.length * 0.5 - (candidate.name === 'plain' ? 0 : 0.1)
      if (score > best || aspect < 0) {
        best = score
        aspect = candidate.id
      }
    }
  }
  return build(head, aspect, textHash(phrase))
}
