import { readFileSync } from 'node:fs'
import type { Stream } from '../random.ts'
import { endlessRank, modelOf, nameOf } from '../world/names.ts'
import type { Language } from '../world/vocabulary.ts'

type Piece = string | { slot: string } | { choice: Piece[][] }
type Sentence = Piece[]
export type Intent = 'learn' | 'compare' | 'buy' | 'go' | 'near'
export const intents: Intent[] = ['learn', 'compare', 'buy', 'go', 'near']
type Grammar = Record<Intent | 'general' | 'common' | 'post', Sentence[]> & { facts: Record<string, Sentence[]> }

/** Reads "[a|b {slot}] c": alternatives in brackets, which may hold others, and slots in braces. */
function parse(text: string): Sentence {
  let at = 0
  const sequence = (): Piece[] => {
    const out: Piece[] = []
    let run = ''
    const flush = (): void => {
      if (run) out.push(run)
      run = ''
    }
    while (at < text.length && text[at] !== '|' && text[at] !== ']') {
      const char = text[at++]!
      if (char === '{') {
        flush()
        const end = text.indexOf('}', at)
        out.push({ slot: text.slice(at, end) })
        at = end + 1
      } else if (char === '[') {
        flush()
        const choice = [sequence()]
        while (text[at] === '|') {
          at++
          choice.push(sequence())
        }
        at++
        out.push({ choice })
      } else run += char
    }
    flush()
    return out
  }
  return sequence()
}

function read(language: Language): Grammar {
  const { facts, ...others } = JSON.parse(
    readFileSync(new URL(`./grammar-${language}.json`, import.meta.url), 'utf8'),
  ) as { facts: Record<string, string[]> } & Record<string, string[]>
  const parsed = (lists: Record<string, string[]>): Record<string, Sentence[]> =>
    Object.fromEntries(Object.entries(lists).map(([name, list]) => [name, list.map(parse)]))
  return { ...parsed(others), facts: parsed(facts) } as Grammar
}
export const grammars: Record<Language, Grammar> = { en: read('en'), de: read('de') }

export type Subject = {
  language: Language
  head: string
  heads: string
  other: string
  city: string
  brand: string
  /** The year in which the page was written. */
  year: number
}

const upper = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1)
const title = (text: string): string => text.replace(/(^| )\p{L}/gu, letter => letter.toUpperCase())

/** One sentence of a pattern about a subject; `phrase` is the wording of the need it speaks of. */
export function say(sentence: Sentence, subject: Subject, phrase: string, stream: Stream): string {
  const fill = (pieces: Piece[]): string => {
    let out = ''
    for (const piece of pieces) {
      if (typeof piece === 'string') out += piece
      else if ('choice' in piece) out += fill(stream.pick(piece.choice))
      else out += slot(piece.slot)
    }
    return out
  }
  const slot = (name: string): string => {
    switch (name) {
      case 'p':
        return phrase
      case 'P':
        return upper(phrase)
      case 'h':
        return subject.head
      case 'hs':
        return subject.heads
      case 'o':
        return subject.other
      case 'city':
        return title(subject.city)
      case 'brand':
        return title(subject.brand)
      case 'person':
      case 'Person':
        return `${nameOf('person', endlessRank(stream.next()))} ${nameOf('family', endlessRank(stream.next()))}`
      case 'first':
        return nameOf('person', endlessRank(stream.next()))
      case 'village':
        return nameOf('village', endlessRank(stream.next()))
      case 'model':
      case 'model2':
        return modelOf(stream.chance(0.5) ? title(subject.brand) : nameOf('make', endlessRank(stream.next())), stream)
      case 'year':
        return String(subject.year - Math.floor(12 * stream.next() ** 2))
      case 'money':
        return subject.language === 'de' ? `${4 + stream.int(900)} Kronen` : `${4 + stream.int(900)} crowns`
      default: {
        const range = /^n(\d+)(?:-(\d+))?$/.exec(name)
        if (!range) throw new Error(`The grammar has no slot {${name}}`)
        const low = Number(range[1])
        return String(low + stream.int(Number(range[2] ?? range[1]) - low + 1))
      }
    }
  }
  return upper(fill(sentence))
}
