/** `npm run test:cluster`: several processes on one database, of which one is killed every few seconds while work runs. */
import { say } from './lib/say.mjs'
import { trialCluster } from './lib/trial-cluster.ts'

const trial = await trialCluster({ rounds: 6, lines: 20_000, pages: 200, everyMs: 4_000 })
say(
  `${trial.kills} processes killed in ${trial.seconds.toFixed(0)} s, ${trial.keywords} keywords, ${trial.crawledPages} pages crawled`,
)
for (const each of trial.wrong) say(each)
if (trial.falseMissing) say(`${trial.falseMissing} times something was said not to be there that was`)
say(trial.wrong.length || trial.falseMissing ? 'Something was lost or doubled' : 'Nothing lost, nothing doubled')
process.exitCode = trial.wrong.length || trial.falseMissing ? 1 : 0
