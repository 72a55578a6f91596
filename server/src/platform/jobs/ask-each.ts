import PQueue from 'p-queue'
import { SourceError } from '../outside/source-error.ts'
import type { JobControl } from './job-control.ts'

/**
 * Asks a source about each of some things, so many at once. What it refuses is warned of and told to `onRefused`. Where a quota ends, the job
 * is stopped, or anything else fails, nothing more is begun; the error is given once what is under way has ended, so that what was brought can
 * be saved before it is thrown. Undefined where all were asked.
 */
export async function askEach<Thing>(
  control: Pick<JobControl, 'warn'>,
  things: Iterable<Thing>,
  atOnce: number,
  ask: (thing: Thing) => Promise<void>,
  onRefused: (thing: Thing, error: SourceError) => void,
): Promise<unknown> {
  const queue = new PQueue({ concurrency: atOnce })
  let halted: unknown
  for (const thing of things)
    void queue.add(async () => {
      if (halted) return
      try {
        await ask(thing)
      } catch (error) {
        if (error instanceof SourceError && error.kind !== 'quotaUsed') {
          control.warn(error.message)
          onRefused(thing, error)
          return
        }
        halted ??= error
        queue.clear()
      }
    })
  await queue.onIdle()
  return halted
}
