import { createReadStream } from 'node:fs'
import { stat } from 'node:fs/promises'
import { type ImportKind, runImport, type Uploaded, uploadPath } from '@dew-trail/contract/imports'
import type { Site } from '@dew-trail/contract/sites'
import { type Endpoint, requestParts } from '@dew-trail/contract/endpoint'
import { getJob, type Job } from '@dew-trail/contract/jobs'
import { setTimeout as sleep } from 'node:timers/promises'
import type { z } from 'zod'

/** Calls a server's endpoint from a script or a test; throws with what the server said. */
export async function callServer<Input extends z.ZodType, Output extends z.ZodType>(
  server: string,
  spec: Endpoint<Input, Output>,
  input: z.input<Input>,
): Promise<z.output<Output>> {
  const { url, body } = requestParts(spec, input as Record<string, unknown>)
  const response = await fetch(server + url, {
    method: spec.method,
    ...(body === undefined ? {} : { body, headers: { 'content-type': 'application/json' } }),
  })
  const answer = (await response.json()) as { error?: { message: string } }
  if (!response.ok) throw new Error(answer.error?.message ?? `status ${response.status}`)
  return answer as z.output<Output>
}

/** Waits for a job to end and gives it; a job that failed throws. */
export async function finishJob(server: string, jobId: number, everyMs = 20): Promise<Job> {
  for (;;) {
    const job = await callServer(server, getJob, { jobId })
    if (job.state === 'done') return job
    if (job.state === 'failed' || job.state === 'cancelled') throw new Error(`${job.title}: ${job.error ?? job.state}`)
    await sleep(everyMs)
  }
}

/** All keyword rows of a market as objects. */
export async function keywordRows(
  server: string,
  siteId: number,
  marketId: number,
): Promise<Array<Record<string, unknown> & { id: number }>> {
  const text = await (await fetch(`${server}/api/sites/${siteId}/keywords?marketId=${marketId}&since=0`)).text()
  const rows = new Map<number, Record<string, unknown> & { id: number }>()
  for (const line of text.trim().split('\n')) {
    const batch = JSON.parse(line) as { ids?: number[]; columns: Record<string, unknown[]>; same?: object }
    // A keyword that changed comes again in a later line, which counts.
    for (const [i, id] of (batch.ids ?? []).entries())
      rows.set(id, {
        id,
        ...batch.same,
        ...Object.fromEntries(Object.entries(batch.columns).map(([key, values]) => [key, values[i]])),
      })
  }
  return [...rows.values()]
}

/** Imports phrases as keywords of a site and waits for the end. */
export async function importPhrases(
  server: string,
  siteId: number,
  marketId: number,
  phrases: readonly string[],
  keep = false,
): Promise<void> {
  const upload = await fetch(server + uploadPath(siteId, 'keywords', 'phrases.csv'), {
    method: 'POST',
    body: `keyword\n${phrases.join('\n')}\n`,
    headers: { 'content-type': 'text/csv' },
  })
  const { importId } = (await upload.json()) as Uploaded
  const { jobId } = await callServer(server, runImport, { siteId, importId, marketId, mapping: { phrase: 0 }, keep })
  await finishJob(server, jobId)
}

/** Uploads a large file without holding it, runs its import with the suggested columns; gives the job and its seconds without the upload. */
export async function importLargeFile(
  server: string,
  site: Site,
  kind: ImportKind,
  file: string,
): Promise<{ job: Job; seconds: number }> {
  const upload = await fetch(server + uploadPath(site.id, kind, 'rows.csv'), {
    method: 'POST',
    body: createReadStream(file) as unknown as ReadableStream,
    duplex: 'half',
    headers: { 'content-type': 'text/csv', 'content-length': String((await stat(file)).size) },
  } as RequestInit)
  const { importId, suggested } = (await upload.json()) as Uploaded
  const startedMs = performance.now()
  const { jobId } = await callServer(server, runImport, {
    siteId: site.id,
    importId,
    marketId: site.markets[0]!.id,
    mapping: suggested,
  })
  const job = await finishJob(server, jobId)
  return { job, seconds: (performance.now() - startedMs) / 1000 }
}
