import { AppError } from '@dew-trail/contract/errors'
import type { RequestHandler } from 'express'
import type { Config } from '../config.ts'

/**
 * Refuses requests whose Host is not ours (DNS rebinding) and writes whose Origin is another site's. The port the server listens
 * on is only known once it does, so it is asked for.
 */
export function guard(config: Config, port: () => number): RequestHandler {
  const origins = (): Set<string> => {
    const own = [
      '127.0.0.1',
      'localhost',
      '[::1]',
      ...(['0.0.0.0', '::'].includes(config.HOST) ? [] : [config.HOST]),
    ].map(host => `http://${host}:${port()}`)
    return new Set([...own, ...config.PUBLIC_ORIGINS])
  }
  return (request, _response, next) => {
    const known = origins()
    const host = request.headers.host ?? ''
    if (![...known].some(origin => new URL(origin).host === host))
      throw new AppError(
        'notAllowed',
        `This address (${host}) is not one the server answers to. Set PUBLIC_ORIGINS to allow it.`,
      )
    const { origin } = request.headers
    if (origin !== undefined && !known.has(origin))
      throw new AppError('notAllowed', `Requests from ${origin} are not allowed`)
    next()
  }
}
