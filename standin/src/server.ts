import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http'
import type { Socket } from 'node:net'
import { Readable } from 'node:stream'
import { brotliCompressSync, constants, gzipSync } from 'node:zlib'
import { BadRequest } from './ask.ts'
import { isoOf } from './calendar.ts'
import type { FaultKind, Faults } from './faults.ts'
import { Limits } from './limits.ts'
import { makeServices } from './routes.ts'
import { protocol } from './protocol.ts'
import { resultPage } from './web/result-page.ts'
import { encodeBody, serveWeb } from './web/serve.ts'
import type { World } from './world/world.ts'

export type StandinOptions = { faults: Faults; throttled: boolean; key: string }

const failure = (code: string, message: string): object => ({ error: { code, message } })

/** The outside world's HTTP port: every service under its own path, and the web by host name, as a proxy or by Host header. */
export function createStandin(world: World, options: StandinOptions): Server {
  const services = makeServices(world)
  const limits = new Limits(options.throttled)
  const shared = { world, limits, ...options }

  const server = createServer((request, response) => {
    const address = webAddress(world, request)
    if (address) return answerWeb(shared, address, request, response)
    const send = (
      status: number,
      body: object,
      type = 'application/json',
      headers: Record<string, string> = {},
    ): void => {
      response.writeHead(status, { 'content-type': `${type}; charset=utf-8`, ...headers })
      response.end(JSON.stringify(body))
    }
    let path: string[]
    const url = new URL(request.url ?? '/', 'http://standin')
    try {
      path = url.pathname.split('/').filter(Boolean).map(decodeURIComponent)
    } catch {
      return send(400, failure('bad_request', 'The path is not well encoded'))
    }
    const service = path.shift() ?? ''
    if (service === 'health')
      return send(200, {
        ready: true,
        today: isoOf(world.today),
        keywords: world.keywords.length,
        pages: world.pages.length,
        links: world.links.count,
      })
    if (service === 'openapi.json') return send(200, protocol)
    if (service === 'engines' && path.length === 1 && request.method === 'GET') {
      try {
        const html = resultPage(world, path[0], url.searchParams)
        response.writeHead(200, { 'content-type': 'text/html; charset=utf-8' })
        response.end(html)
      } catch (error) {
        if (!(error instanceof BadRequest)) throw error
        send(400, failure('bad_request', error.message))
      }
      return
    }
    const serve = services[service]
    if (!serve) return send(404, failure('not_found', `No service at /${service}`))
    if (request.headers.authorization !== `Bearer ${options.key}`)
      return send(401, failure('bad_key', 'The key is missing or not known'))
    const wait = limits.take(service, Date.now())
    if (wait > 0)
      return send(429, failure('too_many', 'Too many requests'), 'application/json', { 'retry-after': String(wait) })
    const fault = wait < 0 ? 'quota' : options.faults.pick(service, `${request.method} ${request.url}`)
    if (fault === 'quota') return send(403, failure('quota_used', 'The quota of today is used up'))
    if (fault === 'tooMany')
      return send(429, failure('too_many', 'Too many requests'), 'application/json', { 'retry-after': '1' })
    if (fault === 'serverError') return send(503, failure('unavailable', 'Try again later'))
    if (fault === 'contentType') {
      response.writeHead(200, { 'content-type': 'text/html' })
      response.end('<h1>Please try again</h1>')
      return
    }
    if (fault === 'timeout') return
    Promise.resolve()
      .then(() => serve({ path, query: url.searchParams, request }))
      .then(
        result => {
          if (!result) send(404, failure('not_found', `Nothing at ${url.pathname}`))
          else if (result.body instanceof Readable) {
            response.writeHead(200, { 'content-type': 'text/csv; charset=utf-8' })
            const { body } = result
            body.on('error', () => response.destroy())
            response.on('close', () => body.destroy())
            body.pipe(response)
          } else if (fault === 'truncated') {
            response.writeHead(200, { 'content-type': 'application/json' })
            response.end(JSON.stringify(result.body).slice(0, 40))
          } else send(result.status ?? 200, result.body, result.type)
        },
        error =>
          error instanceof BadRequest
            ? send(400, failure('bad_request', error.message))
            : send(500, failure('internal', String(error))),
      )
  })
  // A proxy's tunnel: to port 80 it is this same server; nobody here holds certificates for port 443.
  server.on('connect', (request: IncomingMessage, socket: Socket) => {
    socket.on('error', () => socket.destroy())
    if (!request.url?.endsWith(':80')) {
      socket.end(
        'HTTP/1.1 501 Not Implemented\r\ncontent-type: text/plain\r\n\r\nAsk for https addresses in absolute form.\n',
      )
      return
    }
    socket.write('HTTP/1.1 200 Connection established\r\n\r\n')
    server.emit('connection', socket)
  })
  return server
}

/** The web address a request asks for: in absolute form to a proxy, or by the Host header of a site. */
function webAddress(world: World, request: IncomingMessage): URL | undefined {
  const target = request.url ?? '/'
  if (/^https?:\/\//i.test(target)) return URL.canParse(target) ? new URL(target) : undefined
  const host = (request.headers.host ?? '').split(':')[0]!.toLowerCase()
  if (!host.endsWith('.example')) return undefined
  const site = world.byHost.get(host)
  const forwarded = request.headers['x-forwarded-proto']
  const scheme = forwarded === 'http' || forwarded === 'https' ? forwarded : site?.secure ? 'https' : 'http'
  return URL.canParse(target, `${scheme}://${host}`) ? new URL(target, `${scheme}://${host}`) : undefined
}

type Shared = StandinOptions & { world: World; limits: Limits }

function answerWeb(shared: Shared, url: URL, request: IncomingMessage, response: ServerResponse): void {
  const { world, limits, faults, throttled } = shared
  const plain = (status: number, text: string, headers: Record<string, string> = {}): void => {
    response.writeHead(status, { 'content-type': 'text/plain; charset=utf-8', ...headers })
    response.end(text)
  }
  if (request.method !== 'GET' && request.method !== 'HEAD') {
    plain(405, 'Only GET and HEAD\n', { allow: 'GET, HEAD' })
    return
  }
  const wait = limits.take('web', Date.now(), url.hostname)
  if (wait) {
    plain(429, 'Too many requests\n', { 'retry-after': String(Math.max(1, wait)) })
    return
  }
  const fault: FaultKind | undefined = faults.pick('web', url.href)
  if (fault === 'tooMany' || fault === 'quota') {
    plain(429, 'Too many requests\n', { 'retry-after': '1' })
    return
  }
  if (fault === 'serverError') {
    plain(503, 'Try again later\n')
    return
  }
  if (fault === 'timeout') return
  const reply = serveWeb(world, url, world.today)
  const site = world.byHost.get(url.hostname)
  const { headers } = reply
  const unchanged =
    reply.status === 200 &&
    (request.headers['if-none-match'] !== undefined
      ? request.headers['if-none-match'] === headers.etag
      : headers['last-modified'] !== undefined &&
        Date.parse(request.headers['if-modified-since'] ?? '') >= Date.parse(headers['last-modified']))
  const answer = (): void => {
    if (unchanged) {
      response.writeHead(304, headers)
      response.end()
      return
    }
    const encoded = encodeBody(reply.body, site, fault === 'contentType' ? 'application/octet-stream' : reply.type)
    let { body } = encoded
    const accepted = String(request.headers['accept-encoding'] ?? '')
    const squeeze = reply.status === 200 && body.length > 800 && reply.type.startsWith('text/')
    if (squeeze && /\bbr\b/.test(accepted) && site && site.id % 3 === 0) {
      body = brotliCompressSync(body, { params: { [constants.BROTLI_PARAM_QUALITY]: 3 } })
      headers['content-encoding'] = 'br'
    } else if (squeeze && /\bgzip\b/.test(accepted)) {
      body = gzipSync(body, { level: 4 })
      headers['content-encoding'] = 'gzip'
    }
    response.writeHead(reply.status, {
      'content-type': encoded.type,
      'content-length': body.length,
      vary: 'accept-encoding',
      ...headers,
    })
    if (request.method === 'HEAD') response.end()
    else if (fault === 'truncated') response.write(body.subarray(0, body.length >> 1), () => response.destroy())
    else response.end(body)
  }
  if (throttled && reply.delayMs) setTimeout(answer, reply.delayMs)
  else answer()
}
