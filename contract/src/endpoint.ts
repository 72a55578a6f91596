import type { z } from 'zod'
import type { ErrorCode } from './errors.ts'

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
  | 'sites'
  | 'rivals'
  | 'prospects'
  | 'disavowed'
  | 'themes'
  | 'finds'
  | 'places'
  | 'alerts'
  | 'reports'
  | 'people'
  | 'keeping'
  | 'webHooks'
  | 'job'
  | 'learn'

/**
 * Who may call an endpoint; each may what those before it may, within the sites they belong to. `anyone` needs no sign-in, `link` holds a
 * secret link to what is requested. `mount` holds requests to it; where nobody has to sign in, whoever asks is an administrator.
 */
export const roles = ['anyone', 'link', 'reader', 'editor', 'owner', 'administrator'] as const
export type Role = (typeof roles)[number]

/** One agreement between browser and server: mounted by the one, called by the other. `:name` in the path is taken from the input. */
export type Endpoint<Input extends z.ZodType = z.ZodType, Output extends z.ZodType = z.ZodType> = {
  /** What it does or gives, in a few words. */
  summary: string
  role: Role
  /** Errors that its caller should expect, besides those that any call may meet (a database away, a full disk, too many calls). */
  errors: readonly ErrorCode[]
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
      for (const each of Array.isArray(value) ? value : [value])
        if (each !== undefined && each !== null) query.append(name, String(each))
    return { url: query.size ? `${path}?${query}` : path, body: undefined }
  }
  return { url: path, body: JSON.stringify(rest) }
}
