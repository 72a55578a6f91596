import PQueue from 'p-queue'
import type { Context } from '../../context.ts'
import { AddressBook } from './address-book.ts'
import { follow } from './page-texts.ts'
import { countWebUse, savePages } from './save-pages.ts'
import type { JobControl } from '../../platform/jobs/job-control.ts'

const graphId = 1
const [atOnce, savedTogether] = [8, 40]

/**
 * Reads pages with our crawler, at the pace that each host allows: their texts, and whether links are there, with their words around.
 * `progress.read` counts those that were, so that after a stop it goes on behind them. `before`: steps of the job that came before.
 */
export async function readPages(
  context: Context,
  control: JobControl,
  pages: readonly string[],
  before = 0,
): Promise<{ read: number; failed: number }> {
  const { progress } = control
  let read = Number(progress.read ?? 0)
  let failed = Number(progress.unread ?? 0)
  const total = before + pages.length
  while (read < pages.length) {
    await control.step(before + read, total)
    const part = pages.slice(read, read + savedTogether)
    const queue = new PQueue({ concurrency: atOnce })
    const outcomes = (
      await Promise.all(part.map(page => queue.add(() => follow(context, page, control.signal))))
    ).flatMap(steps => steps ?? [])
    control.signal.throwIfAborted()
    await savePages(context.pool, graphId, new AddressBook(graphId), outcomes, new Date(), db =>
      countWebUse(db, outcomes),
    )
    failed += outcomes.filter(outcome => outcome.state === 'failed').length
    for (const { state, url, problem } of outcomes)
      if (state === 'failed') control.warn(`${new URL(url).host} could not be read${problem ? `: ${problem}` : ''}`)
    read += part.length
    Object.assign(progress, { read, unread: failed })
    await control.save()
  }
  await control.step(total, total)
  return { read, failed }
}
