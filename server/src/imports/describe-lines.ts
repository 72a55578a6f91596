import { describeKeyword } from '../gather/describe-keyword.ts'
import { copyField } from './copy-line.ts'

export type DescribeQuestion = {
  siteId: number
  language: string
  keptAt: string | null
  ids: number[]
  phrases: string[]
}

/** How many lines are turned into bytes at once: a longer text lives long enough to be moved about by the collector of garbage. */
const linesAtOnce = 100

/** New keywords with what their words tell, as lines of PostgreSQL's COPY for the columns that `addKeywords` names. */
export function describeLines({ siteId, language, keptAt, ids, phrases }: DescribeQuestion): Buffer {
  // There are far fewer different shares than keywords, and writing one out takes longer than all else.
  const shares = new Map<number, string>()
  const end = `\t${copyField(keptAt)}\n`
  const parts: Buffer[] = []
  for (let from = 0; from < phrases.length; from += linesAtOnce) {
    let text = ''
    for (let i = from; i < Math.min(phrases.length, from + linesAtOnce); i++) {
      const { phrase, family, kind, intent, intentShare, words } = describeKeyword(phrases[i]!, language, false)
      let share = shares.get(intentShare)
      if (share === undefined) {
        share = String(intentShare)
        shares.set(intentShare, share)
      }
      // Only phrases and families can hold what has to be written otherwise.
      text += `${siteId}\t${ids[i]}\t${language}\t${copyField(phrase)}\t${copyField(family)}\t${kind}\t${intent}\t${share}\t${words}${end}`
    }
    parts.push(Buffer.from(text))
  }
  return Buffer.concat(parts)
}
