import { AppError } from '@dew-trail/contract/errors'
import { unstorableAt } from '@dew-trail/contract/common'
import type { Endpoint } from '@dew-trail/contract/endpoint'
import type { Request, Response, Router } from 'express'
import type pg from 'pg'
import type { z } from 'zod'
import { checkIds } from './check-ids.ts'
import { needRole } from './who.ts'

/** What the application keeps as `locals.afterWrite` where replicas are read. */
export type AfterWrite = (response: Response) => Promise<void>

/**
 * Mounts an endpoint: joins path, query and body, checks them, that who asks may do it and that every id belongs to its site, runs the work,
 * checks the answer.
 * Errors go to the last handler. The application keeps the database's pool as `locals.pool`.
 */
export function mount<Input extends z.ZodType, Output extends z.ZodType>(
  router: Router,
  spec: Endpoint<Input, Output>,
  work: (input: z.output<Input>, http: { request: Request; response: Response }) => Promise<z.input<Output>>,
): void {
  const method = spec.method.toLowerCase() as 'get' | 'post' | 'put' | 'patch' | 'delete'
  router[method](spec.path, async (request, response) => {
    const given = spec.method === 'GET' || spec.method === 'DELETE' ? request.query : bodyOf(request)
    // Who may not do it at all hears nothing of what is wrong with the rest.
    needRole(spec.role, siteIn({ ...given, ...request.params }))
    const input = checkInput(spec.input, { ...given, ...request.params })
    await checkIds(request.app.locals.pool as pg.Pool, input)
    const answer = spec.output.parse(await work(input, { request, response }))
    // Who reads next, here or in another process, must see what was written.
    if (spec.method !== 'GET') await (request.app.locals.afterWrite as AfterWrite | undefined)?.(response)
    response.json(answer)
  })
}

/** The site that an input names; what is none is left to the schema. */
function siteIn({ siteId }: { siteId?: unknown }): number | undefined {
  const number = Number(siteId)
  return siteId !== undefined && Number.isInteger(number) ? number : undefined
}

/** The body of a request as an object; one without a body is empty. */
function bodyOf(request: Request): object {
  const { body } = request as { body: unknown }
  if (Array.isArray(body))
    throw new AppError('badInput', 'The request body must be a JSON object. Nothing was changed.')
  if (body !== undefined && body !== null) return body
  if (request.headers['transfer-encoding'] || Number(request.headers['content-length'] ?? 0) > 0)
    throw new AppError(
      'wrongType',
      `The request body must be JSON with the content type application/json, not ${request.headers['content-type'] ?? 'without one'}. Nothing was changed.`,
    )
  return {}
}

/** Parses what came in; what is wrong is said by field. */
export function checkInput<T extends z.ZodType>(schema: T, value: unknown): z.output<T> {
  const odd = unstorableAt(value)
  if (odd)
    throw new AppError('badInput', `${odd}: holds a character that cannot be stored`, {
      issues: [{ field: odd, message: 'holds a character that cannot be stored' }],
    })
  const parsed = schema.safeParse(value)
  if (parsed.success) return parsed.data
  const issues = parsed.error.issues.map(issue => ({ field: issue.path.join('.'), message: issue.message }))
  throw new AppError(
    'badInput',
    issues.map(issue => (issue.field ? `${issue.field}: ${issue.message}` : issue.message)).join('; '),
    { issues },
  )
}
