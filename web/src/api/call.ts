import { type Endpoint, requestParts } from '@dew-trail/contract/endpoint'
import { AppError, type ErrorCode } from '@dew-trail/contract/errors'
import type { z } from 'zod'

/** Calls an endpoint; throws AppError with what the server said, or in plain words when it could not be reached. */
export async function call<Input extends z.ZodType, Output extends z.ZodType>(
  spec: Endpoint<Input, Output>,
  input: z.input<Input>,
): Promise<z.output<Output>> {
  const { url, body } = requestParts(spec, input as Record<string, unknown>)
  return (await send(url, {
    method: spec.method,
    ...(body === undefined ? {} : { body, headers: { 'content-type': 'application/json' } }),
  })) as z.output<Output>
}

export async function send(url: string, init: RequestInit): Promise<unknown> {
  let response: Response
  try {
    response = await fetch(url, init)
  } catch {
    throw new AppError(
      'internal',
      'The server cannot be reached. Nothing was changed; check that it runs, then try again.',
    )
  }
  const answer: unknown = await response.json().catch(() => undefined)
  if (response.ok) return answer
  const error = (answer as { error?: { code: ErrorCode; message: string; data?: Record<string, unknown> } } | undefined)
    ?.error
  throw new AppError(
    error?.code ?? 'internal',
    error?.message ?? `The server answered with status ${response.status}`,
    error?.data,
  )
}
