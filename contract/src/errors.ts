import { z } from 'zod'

/** Stable codes: programs decide by these, people read the message. */
export const errorCodes = [
  'badInput',
  'notFound',
  'conflict',
  'tooLarge',
  'notSignedIn',
  'notAllowed',
  'sourceFailed',
  'quotaUsed',
  'databaseAway',
  'diskFull',
  'tooMany',
  'tooOften',
  'wrongType',
  'internal',
] as const
export type ErrorCode = (typeof errorCodes)[number]

export const errorShape = z.object({
  error: z.object({
    code: z.enum(errorCodes),
    message: z.string(),
    data: z.record(z.string(), z.unknown()).optional(),
  }),
})

/** The one class for errors that a user may see: what happened, what was kept, what to do. */
export class AppError extends Error {
  readonly code: ErrorCode
  readonly data: Record<string, unknown> | undefined
  constructor(code: ErrorCode, message: string, data?: Record<string, unknown>) {
    super(message)
    this.name = 'AppError'
    this.code = code
    this.data = data
  }
}
