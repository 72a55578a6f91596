import { unit } from '../random.ts'
import type { Engine, Language } from '../world/vocabulary.ts'
import type { World } from '../world/world.ts'

/** Completions by demand: the last word may be unfinished, the others must all be in the phrase, in any place. */
export class Completions {
  readonly #byPrefix = new Map<string, number[]>()
  readonly #world: World
  constructor(world: World) {
    this.#world = world
    const order = [...world.keywords].sort((a, b) => b.base - a.base || a.id - b.id)
    for (const keyword of order) {
      const prefixes = new Set<string>()
      for (const word of keyword.phrase.split(' '))
        for (let length = 1; length <= Math.min(word.length, 12); length++) prefixes.add(word.slice(0, length))
      for (const prefix of prefixes) {
        const list = this.#byPrefix.get(prefix)
        if (list) list.push(keyword.id)
        else this.#byPrefix.set(prefix, [keyword.id])
      }
    }
  }
  /** What an engine completes to: its own searchers ask some things more and others less than all of them do. */
  ofEngine(engine: Engine, text: string, language: Language, count = 10): string[] {
    const asked = (phrase: string): number => {
      const keyword = this.#world.byPhrase.get(phrase)!
      return keyword.base * 4 ** (unit(this.#world.seed, keyword.id, engine === 'lantern' ? 311 : 312) - 0.5)
    }
    return this.suggest(text, language, count * 3)
      .map(phrase => ({ phrase, asked: asked(phrase) }))
      .sort((a, b) => b.asked - a.asked)
      .slice(0, count)
      .map(each => each.phrase)
  }
  /** By the demand at all engines. */
  suggest(text: string, language: Language, count = 10): string[] {
    const typed = text.toLowerCase().replace(/\s+/g, ' ').trimStart()
    const words = typed.trim().split(' ').filter(Boolean)
    if (!words.length) return []
    const lists = words.map(word => this.#byPrefix.get(word.slice(0, 12)) ?? []).sort((a, b) => a.length - b.length)
    const found: string[] = []
    for (const id of lists[0]!) {
      const keyword = this.#world.keywords[id]!
      if (keyword.language !== language || keyword.phrase === typed.trim()) continue
      const parts = keyword.phrase.split(' ')
      const last = words.length - 1
      if (
        words.every((word, i) =>
          i === last && !typed.endsWith(' ') ? parts.some(part => part.startsWith(word)) : parts.includes(word),
        )
      )
        found.push(keyword.phrase)
      if (found.length === count) break
    }
    return found
  }
}
