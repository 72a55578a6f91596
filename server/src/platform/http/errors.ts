import { AppError, type ErrorCode } from '@dew-trail/contract/errors'
import type { ErrorRequestHandler } from 'express'
import type { Logger } from 'pino'
import type { DatabaseWatch } from '../db/database-watch.ts'
import { SourceError } from '../outside/source-error.ts'
import { isDatabaseAway, isDiskFull } from '../db/database-errors.ts'

/** The HTTP status that an error is answered with. */
export const statusOf: Record<ErrorCode, number> = {
  badInput: 400,
  notFound: 404,
  conflict: 409,
  tooLarge: 413,
  notSignedIn: 401,
  notAllowed: 403,
  sourceFailed: 502,
  quotaUsed: 503,
  databaseAway: 503,
  diskFull: 507,
  tooMany: 503,
  tooOften: 429,
  wrongType: 415,
  internal: 500,
}

/** The last handler: known errors with their code, everything else as "internal" with details only in the log. */
export function errorHandler(log: Logger, database: DatabaseWatch): ErrorRequestHandler {
  return (error: unknown, request, response, next) => {
    database.report(error)
    if (response.headersSent) {
      next(error)
      return
    }
    const known = toAppError(error)
    // What the framework refuses keeps its status.
    const given = (error as { status?: unknown } | null)?.status
    const code = typeof given === 'number' && given >= 400 && given < 500 ? given : statusOf[known.code]
    if (known.code === 'internal') log.error({ err: error, path: request.path }, 'request failed')
    response
      .status(code)
      .json({ error: { code: known.code, message: known.message, ...(known.data ? { data: known.data } : {}) } })
  }
}

/** What bodies and addresses are refused for before our own checks see them: by the type that Express's parsers give their errors. */
const refusals: Record<string, [code: ErrorCode, message: string]> = {
  'entity.too.large': ['tooLarge', 'The request is larger than 20 MB. Nothing was changed.'],
  'entity.parse.failed': ['badInput', 'The request body is not valid JSON. Nothing was changed.'],
  'entity.verify.failed': ['badInput', 'The request body is not valid UTF-8. Nothing was changed.'],
  'charset.unsupported': ['wrongType', 'The request body must be UTF-8. Nothing was changed.'],
  'encoding.unsupported': [
    'wrongType',
    'The request body is packed in a way that is not understood; gzip, deflate and br are.',
  ],
  'request.size.invalid': [
    'badInput',
    'The request body has another length than its Content-Length says. Nothing was changed.',
  ],
  'request.aborted': ['badInput', 'The request ended before its body was whole. Nothing was changed.'],
}

function toAppError(error: unknown): AppError {
  if (error instanceof AppError) return error
  const { type, status: given, code } = error as { type?: string; status?: number; code?: string }
  const refusal = type ? refusals[type] : undefined
  if (refusal) return new AppError(...refusal)
  if (error instanceof SourceError)
    return new AppError(
      error.kind === 'quotaUsed' ? 'quotaUsed' : 'sourceFailed',
      `${error.message}. Nothing was changed.`,
    )
  if (isDatabaseAway(error))
    return new AppError(
      'databaseAway',
      'The database does not answer just now. The server waits for it; what this request was to change was not changed. Try again in a moment.',
    )
  if (isDiskFull(error))
    return new AppError(
      'diskFull',
      'There is no room left on the disk. Nothing was half done; make room and try again.',
    )
  // Values that PostgreSQL cannot hold: characters, numbers out of range, dates that do not exist. The schemas refuse those they know.
  if (typeof code === 'string' && /^22/.test(code))
    return new AppError('badInput', 'A value in the request cannot be stored. Nothing was changed.')
  // A row that is referred to went while the request was on its way, or never was there.
  if (code === '23503')
    return new AppError('notFound', 'Something that the request names is not there. Nothing was changed.')
  if (error instanceof URIError) return new AppError('badInput', 'The address holds a % that stands for nothing.')
  if (given === 404) return new AppError('notFound', 'There is nothing at this address.')
  if (given && given >= 400 && given < 500)
    return new AppError('badInput', `The request cannot be understood: ${(error as Error).message}`)
  return new AppError(
    'internal',
    'Something went wrong on the server. Nothing was half done; try again, and see the server log if it stays.',
  )
}
