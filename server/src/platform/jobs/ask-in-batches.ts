import { askEach } from './ask-each.ts'
import type { JobControl } from './job-control.ts'

/**
 * Asks a source about things batch by batch (`askEach`) and saves the answers of each batch, so that a job that is stopped keeps what it has.
 * `done` of `total` things were answered before. What the source refuses is warned of and left out; what halts it is thrown once the batch's
 * answers are saved.
 */
export async function askInBatches<Thing, Answer>(
  control: Pick<JobControl, 'warn' | 'step'>,
  waiting: readonly Thing[],
  { done, total, atOnce, atATime }: { done: number; total: number; atOnce: number; atATime: number },
  ask: (thing: Thing) => Promise<Answer>,
  save: (answers: Answer[]) => Promise<void>,
): Promise<void> {
  for (let from = 0; from < waiting.length; from += atATime) {
    await control.step(done + from, total)
    const answers: Answer[] = []
    const halted = await askEach(
      control,
      waiting.slice(from, from + atATime),
      atOnce,
      async thing => void answers.push(await ask(thing)),
      () => undefined,
    )
    if (answers.length) await save(answers)
    if (halted) throw halted
  }
  await control.step(total, total)
}
