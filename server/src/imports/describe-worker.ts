import { parentPort } from 'node:worker_threads'
import { type DescribeQuestion, describeLines } from './describe-lines.ts'

/** The thread that describes the keywords of a large import: a question in, its lines out. */
parentPort!.on('message', (question: DescribeQuestion) => parentPort!.postMessage(describeLines(question)))
