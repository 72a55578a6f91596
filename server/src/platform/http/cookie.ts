import type { Request } from 'express'

/** The value of a cookie that a request brings. */
export const cookieOf = (request: Request, name: string): string | undefined =>
  (request.headers.cookie ?? '')
    .split(/; */)
    .find(part => part.startsWith(`${name}=`))
    ?.slice(name.length + 1)
