import { parentPort } from 'node:worker_threads'
import { type Learnt, learnStrength, type RankedPage } from '@dew-trail/core/results/learn-strength'
import { answerInThread } from '../../platform/jobs/run-in-thread.ts'

answerInThread<RankedPage[], Learnt | null>(parentPort!, pages => learnStrength(pages, 'learnt strengths'))
