import { parentPort } from 'node:worker_threads'
import { type WeighedChoice, weighChoices } from '@dew-trail/core/planning/choose-pages'
import { answerInThread } from '../../platform/jobs/run-in-thread.ts'
import type { ChoiceQuestion } from './choose-first.ts'

answerInThread<ChoiceQuestion, WeighedChoice>(parentPort!, ({ candidates, months, capacity }) =>
  weighChoices(candidates, months, capacity),
)
