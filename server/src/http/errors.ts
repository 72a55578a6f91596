import { AppError, type ErrorCode } from '@dew-trail/contract/errors'
import type { ErrorRequestHandler } from 'express'
import type { Logger } from 'pino'

const status: Record<ErrorCode, number> = {
  badInput: 400,
  notFound: 404,
  conflict: 409,
  tooLarge: 413,
  notAllowed: 403,
  sourceFailed: 502,
  quotaUsed: 503,
  internal: 500,
}

/** The last handler: known errors with their code, everything else as "internal" with details only in the log. */
export function errorHandler(log: Logger): ErrorRequestHandler {
  return (error: unknown, request, response, next) => {
    if (response.headersSent) {
      next(error)
      return
    }
    const known = toAppError(error)
    if (known.code === 'internal') log.error({ err: error, path: request.path }, 'request failed')
    response
      .status(status[known.code])
      .json({ error: { code: known.code, message: known.message, ...(known.data ? { data: known.data } : {}) } })
  }
}

function toAppError(error: unknown): AppError {
  if (error instanceof AppError) return error
  const type = (error as { type?: string }).type
  if (type === 'entity.too.large')
    return new AppError('tooLarge', 'The request is larger than 20 MB. Nothing was changed.')
  if (type === 'entity.parse.failed')
    return new AppError('badInput', 'The request body is not valid JSON. Nothing was changed.')
  return new AppError(
    'internal',
    'Something went wrong on the server. Nothing was half done; try again, and see the server log if it stays.',
  )
}
