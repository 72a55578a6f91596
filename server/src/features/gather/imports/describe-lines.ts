import { figureWords } from '@dew-trail/core/words/family-key'
import { type Intent, intentOf, intents } from '@dew-trail/core/words/intent'
import { type KeywordKind, keywordKinds, kindOf } from '@dew-trail/core/words/keyword-kind'
import { factsOf, isNumber, type WordFacts } from '@dew-trail/core/words/word-facts'
import { describeKeyword } from '../../../domain/keywords/describe-keyword.ts'
import { copyField } from './copy-line.ts'

export type Described = { siteId: number; language: string; keptAt: string | null; importId: number }

/** The columns of the lines that `lineDescriber` makes. */
export const describedColumns =
  'site_id, id, language, phrase, family, kind, intent, intent_share, words, kept_at, imported, import_id'

/** A word of a phrase, with where the bytes of its stem are. Copies of facts with more in them would be objects of many shapes, three times as slow. */
class Word implements WordFacts {
  readonly stem: string
  readonly plain: string
  readonly idle: boolean
  readonly question: boolean
  readonly preposition: boolean
  readonly comparison: boolean
  readonly difference: boolean
  readonly weights: readonly number[] | null
  readonly activity: boolean
  readonly binds: WordFacts['binds']
  readonly bytes: Buffer
  readonly from: number
  readonly to: number

  constructor(facts: WordFacts, bytes: Buffer, from: number, to: number) {
    this.stem = facts.stem
    this.plain = facts.plain
    this.idle = facts.idle
    this.question = facts.question
    this.preposition = facts.preposition
    this.comparison = facts.comparison
    this.difference = facts.difference
    this.weights = facts.weights
    this.activity = facts.activity
    this.binds = facts.binds
    this.bytes = bytes
    this.from = from
    this.to = to
  }
}

const newline = 10
const tab = 9
const space = 32
const zero = 48
const nine = 57
/** Words found again by their bytes. Emptied when full so that memory stays bounded. */
const mostKept = 200_000

/**
 * A function that turns lines of COPY with id and phrase of new keywords into lines of COPY for `describedColumns`. Phrases of small
 * letters, digits and spaces, which is nearly all of a large file, are described from their bytes: their words are looked up without
 * making strings of them, five times as fast. Lines must come whole. O(bytes).
 */
export function lineDescriber({ siteId, language, keptAt, importId }: Described): (lines: Buffer) => Buffer {
  const head = Buffer.from(`${siteId}\t`)
  const middle = Buffer.from(`\t${language}\t`)
  const end = `\t${copyField(keptAt)}\tt\t${importId}\n`
  const known = new Map<number, { word: string; facts: Word }>()
  // There are far fewer different shares than keywords, and writing one out takes longer than all else.
  const tails: Array<Map<number, Buffer> | undefined> = []

  const wordAt = (lines: Buffer, from: number, to: number, hash: number): Word => {
    const hit = known.get(hash)
    if (hit && isSame(lines, from, to, hit.word)) return hit.facts
    const word = lines.toString('latin1', from, to)
    // The stem of a number is the number.
    if (isNumber(word)) return new Word(factsOf(word, language), lines, from, to)
    const facts = factsOf(word, language)
    const bytes = Buffer.from(facts.plain)
    const kept = new Word(facts, bytes, 0, bytes.length)
    if (known.size >= mostKept) known.clear()
    known.set(hash, { word, facts: kept })
    return kept
  }
  /** All columns after the family. */
  const tailOf = (kind: KeywordKind, intent: Intent, share: number, words: number): Buffer => {
    const at = (words * keywordKinds.length + keywordKinds.indexOf(kind)) * intents.length + intents.indexOf(intent)
    let shares = tails[at]
    if (!shares) tails[at] = shares = new Map()
    let tail = shares.get(share)
    if (!tail) shares.set(share, (tail = Buffer.from(`\t${kind}\t${intent}\t${share}\t${words}${end}`)))
    return tail
  }
  /** Facts of the words of a phrase of small letters, digits and spaces; null when it has anything else. */
  const wordsAt = (lines: Buffer, from: number, to: number): Word[] | null => {
    const words: Word[] = []
    let start = from
    let hash = 7
    for (let i = from; i < to; i++) {
      const byte = lines[i]!
      if (byte === space) {
        if (i > start) words.push(wordAt(lines, start, i, hash & 0x3fffffff))
        start = i + 1
        hash = 7
      } else if ((byte >= 97 && byte <= 122) || (byte >= zero && byte <= nine)) hash = Math.imul(hash ^ byte, 16777619)
      else return null
    }
    if (to > start) words.push(wordAt(lines, start, to, hash & 0x3fffffff))
    return words
  }

  return lines => {
    let out: Buffer = Buffer.allocUnsafe(Math.max(1 << 16, lines.length * 4))
    let at = 0
    for (let begin = 0; begin < lines.length; ) {
      let afterId = begin
      while (lines[afterId] !== tab) afterId++
      let stop = afterId
      while (lines[stop] !== newline) stop++
      // A stem is hardly ever longer than its word, and never four times as long in bytes.
      const room = (stop - begin) * 8 + 400
      if (out.length - at < room) {
        const larger = Buffer.allocUnsafe(out.length * 2 + room)
        out.copy(larger, 0, 0, at)
        out = larger
      }
      at = put(out, at, head, 0, head.length)
      at = put(out, at, lines, begin, afterId)
      at = put(out, at, middle, 0, middle.length)
      at = put(out, at, lines, afterId + 1, stop)
      out[at++] = tab
      const words = wordsAt(lines, afterId + 1, stop)
      let tail: Buffer
      if (words) {
        const { intent, probability } = intentOf(words)
        const family = figureWords(words)
        for (let i = 0; i < family.length; i++) {
          const { bytes, from, to } = family[i]!
          if (i > 0) out[at++] = space
          at = put(out, at, bytes, from, to)
        }
        tail = tailOf(kindOf(words, false), intent, probability, words.length)
      } else {
        const phrase = readField(lines.toString('utf8', afterId + 1, stop))
        const { family, kind, intent, intentShare, words: count } = describeKeyword(phrase, language, false)
        at += out.write(copyField(family), at)
        tail = tailOf(kind, intent, intentShare, count)
      }
      at = put(out, at, tail, 0, tail.length)
      begin = stop + 1
    }
    return out.subarray(0, at)
  }
}

/** Copies a few bytes and gives where the next go. Quicker than `Buffer.copy` for so few. */
function put(out: Buffer, at: number, bytes: Buffer, from: number, to: number): number {
  for (let i = from; i < to; i++) out[at++] = bytes[i]!
  return at
}

function isSame(bytes: Buffer, from: number, to: number, word: string): boolean {
  if (to - from !== word.length) return false
  for (let i = 0; i < word.length; i++) if (bytes[from + i] !== word.charCodeAt(i)) return false
  return true
}

/** What a field of COPY stands for. */
const readField = (field: string): string =>
  field.includes('\\')
    ? field.replace(
        /\\(.)/g,
        (_, char: string) => ({ t: '\t', n: '\n', r: '\r', b: '\b', f: '\f', v: '\v' })[char] ?? char,
      )
    : field
