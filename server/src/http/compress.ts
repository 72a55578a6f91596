import { constants } from 'node:zlib'
import compression from 'compression'
import type { RequestHandler } from 'express'

/** Tables of keywords are many megabytes that a browser waits for: packing them must take less time than it saves. */
const isLargeTable = (path: string): boolean => /^\/api\/sites\/\d+\/keywords$/.test(path)

const packer = (level: number, quality: number): RequestHandler =>
  compression({
    level,
    brotli: { params: { [constants.BROTLI_PARAM_QUALITY]: quality } },
    filter: (request, response) => {
      const type = String(response.getHeader('content-type') ?? '')
      // An event must arrive when it happens, not when a block is full.
      if (type.startsWith('text/event-stream')) return false
      return type.startsWith('application/x-ndjson') || compression.filter(request, response)
    },
  })

/** Sends answers packed, as the browser asks for it. */
export function compress(): RequestHandler {
  const thorough = packer(6, 4)
  const quick = packer(1, 1)
  return (request, response, next) => (isLargeTable(request.path) ? quick : thorough)(request, response, next)
}
