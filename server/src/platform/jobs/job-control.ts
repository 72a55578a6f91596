import { setMaxListeners } from 'node:events'
import type { Context } from '../../context.ts'
import { type JobRow, maybeJob, saveProgress, toJob } from './queries.ts'

/** Thrown inside a job when it was paused or cancelled; not an error. */
export class JobHalted extends Error {
  readonly wanted: 'pause' | 'cancel'
  constructor(wanted: 'pause' | 'cancel') {
    super(`job ${wanted}`)
    this.wanted = wanted
  }
}

/** What a job's work holds on to: its row, progress that survives a kill, and the wish of the user to stop. */
export class JobControl {
  readonly job: JobRow
  readonly signal: AbortSignal
  readonly abort = new AbortController()
  /** Kept between runs of the job. Must be plain JSON. */
  readonly progress: Record<string, unknown>
  readonly warnings: Record<string, number>
  done: number
  total: number | null
  readonly #context: Context
  readonly #startedMs = performance.now()
  readonly #ranBeforeMs: number
  #savedMs = 0
  /** When the work last said how far it is. */
  movedMs = performance.now()
  /** Nobody waits for this run any more: it may neither save nor go on. */
  over = false

  constructor(context: Context, job: JobRow) {
    this.job = job
    this.#context = context
    this.signal = this.abort.signal
    // Every request under way listens to it.
    setMaxListeners(0, this.signal)
    this.progress = job.progress
    this.warnings = job.warnings
    this.done = job.done
    this.total = job.total
    this.#ranBeforeMs = job.runningMs
  }

  /** The site it belongs to. Throws for work that belongs to none. */
  get siteId(): number {
    if (this.job.siteId === null) throw new Error(`job ${this.job.id} belongs to no site`)
    return this.job.siteId
  }

  /** Forgets what earlier tries warned of: they are no longer true of this one. */
  clearWarnings(): void {
    for (const what of Object.keys(this.warnings)) delete this.warnings[what]
  }

  /** Notes what went wrong without stopping the job, for the user to see. */
  warn(what: string): void {
    this.warnings[what] = (this.warnings[what] ?? 0) + 1
  }

  /** Says how far the work is; saves and tells at most five times a second; stops the work when the user wants that. */
  async step(done: number, total: number | null): Promise<void> {
    this.movedMs = performance.now()
    if (this.over) throw this.signal.reason ?? new Error('this run of the job is over')
    this.done = Math.round(done)
    this.total = total
    if (this.signal.aborted) throw this.signal.reason
    if (performance.now() - this.#savedMs < 200) return
    await this.save()
    const wanted = (await maybeJob(this.#context.pool, this.job.id))?.wanted
    if (wanted === 'pause' || wanted === 'cancel') {
      const halted = new JobHalted(wanted)
      this.abort.abort(halted)
      throw halted
    }
  }

  async save(): Promise<void> {
    if (this.over) return
    this.#savedMs = performance.now()
    const row = await saveProgress(this.#context.pool, this.job.id, {
      done: this.done,
      total: this.total,
      progress: this.progress,
      warnings: this.warnings,
      runningMs: Math.round(this.#ranBeforeMs + performance.now() - this.#startedMs),
    })
    this.#context.events.publish(row.siteId, { type: 'job', job: toJob(row) })
  }
}
