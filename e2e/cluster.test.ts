import { trialCluster } from '@dew-trail/scripts/lib/trial-cluster'
import { expect, test } from 'vitest'

test('processes die while gatherings, imports, checks and a crawl run: nothing is lost, doubled or said to be gone', async () => {
  const trial = await trialCluster({ rounds: 1, lines: 4_000, pages: 50, everyMs: 4_000 })
  expect(trial).toMatchObject({ wrong: [], falseMissing: 0 })
  expect(trial.kills).toBeGreaterThan(0)
  expect(trial.keywords).toBeGreaterThan(4_000)
})
