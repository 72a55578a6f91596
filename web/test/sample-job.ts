import type { Job } from '@dew-trail/contract/jobs'

/** A piece of work in the background, a quarter done. */
export const sampleJob = (more: Partial<Job> = {}): Job => ({
  id: 5,
  siteId: 1,
  kind: 'weigh',
  state: 'running',
  stopping: false,
  title: 'Weighing 400 keywords',
  done: 100,
  total: 400,
  secondsLeft: 75,
  warnings: [],
  error: null,
  createdAt: '2026-11-20T10:00:00Z',
  endedAt: null,
  result: null,
  ...more,
})
