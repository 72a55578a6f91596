import { parentPort } from 'node:worker_threads'
import { learnStrength, type RankedPage } from '@dew-trail/core/results/learn-strength'

parentPort!.on('message', (pages: RankedPage[]) => parentPort!.postMessage(learnStrength(pages, 'learnt strengths')))
