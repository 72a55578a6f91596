import { AppError } from '@dew-trail/contract/errors'
import type { RequestHandler } from 'express'
import type { Config } from '../config.ts'

/**
 * Refuses requests whose Host is not ours (DNS rebinding) and writes that come from another site, by their Origin or, where a browser
 * sends none, by Sec-Fetch-Site. The port the server listens on is only known once it does, so it is asked for.
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
    const from = request.headers['sec-fetch-site']
    const writes = request.method !== 'GET' && request.method !== 'HEAD'
    // Programs that are no browsers send neither.
    if (writes && origin === undefined && from !== undefined && from !== 'same-origin' && from !== 'none')
      throw new AppError('notAllowed', 'Requests from another site are not allowed')
    next()
  }
}
