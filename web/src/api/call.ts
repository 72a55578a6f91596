import { type Endpoint, requestParts } from '@dew-trail/contract/endpoint'
import { signIn } from '@dew-trail/contract/people'
import { AppError, type ErrorCode } from '@dew-trail/contract/errors'
import type { z } from 'zod'

/** Sent to the window when the server does not know (any more) who asks. */
export const signedOutEvent = 'dew-trail-signed-out'
/** Sent to the window when the server says that its database does not answer. */
export const databaseAwayEvent = 'dew-trail-database-away'

/** Changes under way, by what is asked: a button that is pressed again before its answer came changes nothing twice. */
const underWay = new Map<string, Promise<unknown>>()

/**
 * Calls an endpoint; throws AppError with what the server said, or in plain words when it could not be reached. The same change asked for
 * while it is under way is the same call.
 */
export async function call<Input extends z.ZodType, Output extends z.ZodType>(
  spec: Endpoint<Input, Output>,
  input: z.input<Input>,
): Promise<z.output<Output>> {
  const { url, body } = requestParts(spec, input as Record<string, unknown>)
  const ask = () =>
    send(url, {
      method: spec.method,
      ...(body === undefined ? {} : { body, headers: { 'content-type': 'application/json' } }),
    })
  if (spec.method === 'GET') return (await ask()) as z.output<Output>
  const key = `${spec.method} ${url} ${body ?? ''}`
  let answer = underWay.get(key)
  if (!answer) {
    answer = ask().finally(() => underWay.delete(key))
    underWay.set(key, answer)
  }
  return (await answer) as z.output<Output>
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
  if (error?.code === 'notSignedIn' && url !== signIn.path) window.dispatchEvent(new Event(signedOutEvent))
  if (error?.code === 'databaseAway') window.dispatchEvent(new Event(databaseAwayEvent))
  throw new AppError(
    error?.code ?? 'internal',
    error?.message ?? `The server answered with status ${response.status}`,
    error?.data,
  )
}
