import type { z } from 'zod'

export type Method = 'GET' | 'POST' | 'PUT' | 'PATCH' | 'DELETE'
/** What happens in a site that makes answers old. `job`: one ended; `learn`: strengths were learnt. */
export type OldBy =
  | 'keywords'
  | 'gatherings'
  | 'plan'
  | 'positions'
  | 'crawls'
  | 'schedules'
  | 'notes'
  | 'lists'
  | 'vetted'
  | 'brands'
  | 'acts'
  | 'job'
  | 'learn'

/** One agreement between browser and server: mounted by the one, called by the other. `:name` in the path is taken from the input. */
export type Endpoint<Input extends z.ZodType = z.ZodType, Output extends z.ZodType = z.ZodType> = {
  method: Method
  path: `/api/${string}`
  input: Input
  output: Output
  /** What makes an answer old, so that whoever shows it asks again. */
  oldBy?: readonly OldBy[]
}

export function endpoint<Input extends z.ZodType, Output extends z.ZodType>(
  spec: Endpoint<Input, Output>,
): Endpoint<Input, Output> {
  return spec
}

/** Address and body of a call: path names filled in; the rest as query for GET and DELETE, else as JSON. */
export function requestParts(
  spec: Endpoint,
  input: Record<string, unknown>,
): { url: string; body: string | undefined } {
  const rest = { ...input }
  const path = spec.path.replace(/:([a-zA-Z]+)/g, (_, name: string) => {
    const value = rest[name]
    delete rest[name]
    return encodeURIComponent(String(value))
  })
  if (spec.method === 'GET' || spec.method === 'DELETE') {
    const query = new URLSearchParams()
    for (const [name, value] of Object.entries(rest))
      if (value !== undefined && value !== null) query.set(name, String(value))
    return { url: query.size ? `${path}?${query}` : path, body: undefined }
  }
  return { url: path, body: JSON.stringify(rest) }
}
