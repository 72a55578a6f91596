import { familyKey } from '@dew-trail/core/words/family-key'
import { guessIntent } from '@dew-trail/core/words/intent'
import { keywordKind } from '@dew-trail/core/words/keyword-kind'
import { splitWords } from '@dew-trail/core/words/split-words'
import type { NewKeyword } from './queries.ts'

/** What a keyword's words alone tell of it. */
export function describeKeyword(phrase: string, language: string, asCompletion: boolean): NewKeyword {
  const words = splitWords(phrase)
  const guess = guessIntent(words)
  return {
    phrase,
    family: familyKey(words, language),
    kind: keywordKind(words, language, asCompletion),
    intent: guess.intent,
    intentShare: guess.probability,
    words: words.length,
  }
}
