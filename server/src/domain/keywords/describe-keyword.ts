import { figureKeyOf } from '@dew-trail/core/words/family-key'
import { intentOf } from '@dew-trail/core/words/intent'
import { kindOf } from '@dew-trail/core/words/keyword-kind'
import { splitWords } from '@dew-trail/core/words/split-words'
import { factsOf } from '@dew-trail/core/words/word-facts'
import type { NewKeyword } from './queries.ts'

/** What a keyword's words alone tell of it. */
export function describeKeyword(phrase: string, language: string, asCompletion: boolean): NewKeyword {
  const words = splitWords(phrase).map(word => factsOf(word, language))
  const { intent, probability } = intentOf(words)
  return {
    phrase,
    family: figureKeyOf(words),
    kind: kindOf(words, asCompletion),
    intent,
    intentShare: probability,
    words: words.length,
  }
}
