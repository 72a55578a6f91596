import { AppError } from '@dew-trail/contract/errors'
import type { Endpoint } from '@dew-trail/contract/endpoint'
import type { Router } from 'express'
import type { z } from 'zod'

/** Mounts an endpoint: joins path, query and body, checks them, runs the work, checks the answer. Errors go to the last handler. */
export function mount<Input extends z.ZodType, Output extends z.ZodType>(
  router: Router,
  spec: Endpoint<Input, Output>,
  work: (input: z.output<Input>) => Promise<z.input<Output>>,
): void {
  const method = spec.method.toLowerCase() as 'get' | 'post' | 'put' | 'patch' | 'delete'
  router[method](spec.path, async (request, response) => {
    const fromBody = spec.method === 'GET' || spec.method === 'DELETE' ? request.query : (request.body ?? {})
    response.json(spec.output.parse(await work(checkInput(spec.input, { ...fromBody, ...request.params }))))
  })
}

/** Parses what came in; what is wrong is said by field. */
export function checkInput<T extends z.ZodType>(schema: T, value: unknown): z.output<T> {
  const parsed = schema.safeParse(value)
  if (parsed.success) return parsed.data
  const issues = parsed.error.issues.map(issue => ({ field: issue.path.join('.'), message: issue.message }))
  throw new AppError(
    'badInput',
    issues.map(issue => (issue.field ? `${issue.field}: ${issue.message}` : issue.message)).join('; '),
    { issues },
  )
}
