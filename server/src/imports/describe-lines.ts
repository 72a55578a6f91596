import { describeKeyword } from '../gather/describe-keyword.ts'
import { copyLine } from './copy-line.ts'

export type DescribeQuestion = {
  siteId: number
  language: string
  keptAt: string | null
  ids: number[]
  phrases: string[]
}

/** New keywords with what their words tell, as lines of PostgreSQL's COPY for the columns that `addKeywords` names. */
export function describeLines({ siteId, language, keptAt, ids, phrases }: DescribeQuestion): string {
  let text = ''
  phrases.forEach((phrase, i) => {
    const word = describeKeyword(phrase, language, false)
    text += copyLine([
      siteId,
      ids[i]!,
      language,
      phrase,
      word.family,
      word.kind,
      word.intent,
      word.intentShare,
      word.words,
      keptAt,
    ])
  })
  return text
}
