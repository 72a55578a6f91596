import { parentPort } from 'node:worker_threads'
import { matchTotals } from '@dew-trail/core/demand/match-totals'
import { wordsOf } from '@dew-trail/core/words/split-words'
import { answerInThread } from '../../platform/jobs/run-in-thread.ts'

export type MatchQuestion = { phrases: string[]; searches: Array<number | null>; figures: string[] }
export type MatchAnswer = ReturnType<typeof matchTotals>

answerInThread<MatchQuestion, MatchAnswer>(parentPort!, ({ phrases, searches, figures }) =>
  matchTotals(phrases.map((phrase, i) => ({ words: wordsOf(phrase), searches: searches[i]!, figures: figures[i]! }))),
)
