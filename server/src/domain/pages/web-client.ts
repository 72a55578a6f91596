import { createBrotliDecompress, createGunzip, createInflate } from 'node:zlib'
import { type Readable, Writable } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import { Agent, type Dispatcher, Pool, ProxyAgent } from 'undici'
import { AddressGuard, readRanges, UnsafeAddress } from '../../platform/outside/safe-address.ts'

export type WebSettings = {
  agent: string
  proxy: string | null
  /** Whether https goes through the proxy as a tunnel (CONNECT), as real proxies want it. */
  proxyTunnel: boolean
  timeoutMs: number
  maxBytes: number
  allowPrivate: string
}
export type WebAnswer = {
  url: string
  status: number
  headers: Record<string, string>
  /** Decoded from gzip, deflate or brotli; empty for a redirect, a 304 and a type that was not asked for. */
  body: Buffer
  /** The absolute address of a redirect. */
  location: string | null
}
export type WebErrorKind = 'unsafe' | 'unreachable' | 'slow' | 'large' | 'spoilt'

/** A request that brought no answer; the message says why, for people. */
export class WebError extends Error {
  readonly kind: WebErrorKind
  constructor(kind: WebErrorKind, message: string) {
    super(message)
    this.kind = kind
  }
}

/** `maxBytes`: largest body, else as set; `cut`: what is longer is cut there instead of being refused. */
type Ask = {
  headers?: Record<string, string>
  types?: RegExp
  signal?: AbortSignal
  maxBytes?: number
  cut?: boolean
}

/**
 * Asks the web for one address. Redirects are not followed: whoever asks must look at each step (robots.txt, loops). Connects only to
 * public addresses, checked on the resolved address of every connection, or goes through a proxy, to which no name is given that leads
 * inside by what this machine knows.
 */
export class WebClient {
  readonly #settings: WebSettings
  readonly #guard: AddressGuard
  readonly #direct: Dispatcher
  /** A proxy asked in absolute form, for https too. */
  readonly #absolute: Pool | null

  constructor(settings: WebSettings) {
    this.#settings = settings
    this.#guard = new AddressGuard(readRanges(settings.allowPrivate))
    const limits = {
      connectTimeout: settings.timeoutMs,
      headersTimeout: settings.timeoutMs,
      bodyTimeout: settings.timeoutMs,
      maxHeaderSize: 64_000,
    }
    if (settings.proxy && settings.proxyTunnel) {
      this.#direct = new ProxyAgent({ uri: settings.proxy, ...limits })
      this.#absolute = null
    } else {
      this.#direct = new Agent({
        ...limits,
        connections: 8,
        connect: { timeout: settings.timeoutMs, lookup: this.#guard.lookup as never },
      })
      this.#absolute = settings.proxy ? new Pool(new URL(settings.proxy).origin, { ...limits, connections: 32 }) : null
    }
  }

  async ask(address: string, { headers = {}, types, signal, maxBytes, cut = false }: Ask = {}): Promise<WebAnswer> {
    const { agent, timeoutMs } = this.#settings
    const url = new URL(address)
    const deadline = AbortSignal.timeout(timeoutMs)
    const both = signal ? AbortSignal.any([signal, deadline]) : deadline
    try {
      await this.#guard.check(url, this.#settings.proxy !== null)
      const options = {
        method: 'GET' as const,
        headers: {
          'user-agent': agent,
          accept: 'text/html,application/xhtml+xml,application/xml;q=0.9,text/plain;q=0.8,*/*;q=0.1',
          'accept-encoding': 'gzip, deflate, br',
          ...headers,
        },
        signal: both,
      }
      const reply = this.#absolute
        ? await this.#absolute.request({
            ...options,
            path: address,
            headers: { ...options.headers, host: url.host },
          })
        : await this.#direct.request({ ...options, origin: url.origin, path: url.pathname + url.search })
      const given = Object.fromEntries(
        Object.entries(reply.headers).map(([name, value]) => [
          name,
          Array.isArray(value) ? value.join(', ') : (value ?? ''),
        ]),
      )
      const { location } = given
      const moved = reply.statusCode >= 300 && reply.statusCode < 400 && location !== undefined
      const type = given['content-type'] ?? ''
      const wanted = isContent(reply.statusCode) && (!types || !type || types.test(type))
      let body: Buffer = Buffer.alloc(0)
      if (wanted)
        body = await readBody(reply.body, given['content-encoding'] ?? '', maxBytes ?? this.#settings.maxBytes, cut)
      else await reply.body.dump({ limit: 65_536 })
      return {
        url: address,
        status: reply.statusCode,
        headers: given,
        body,
        location: moved ? (URL.parse(location, address)?.href ?? null) : null,
      }
    } catch (error) {
      if (signal?.aborted) throw signal.reason
      throw toWarnings(error, url, deadline.aborted, timeoutMs)
    }
  }

  async close(): Promise<void> {
    await Promise.all([this.#direct.destroy(), this.#absolute?.destroy()])
  }
}

/** Whether an answer brings what was asked for: also one that a proxy on the way changed (203). */
export const isContent = (status: number): boolean => status === 200 || status === 203

/** Thrown to stop reading a body that is long enough. */
class LongEnough extends Error {}

async function readBody(body: Readable, encoding: string, maxBytes: number, cut: boolean): Promise<Buffer> {
  const decoders = encoding
    .toLowerCase()
    .split(',')
    .map(each => each.trim())
    .filter(each => each && each !== 'identity')
    .reverse()
    .map(name => {
      if (name === 'gzip' || name === 'x-gzip') return createGunzip()
      if (name === 'br') return createBrotliDecompress()
      if (name === 'deflate') return createInflate()
      body.destroy()
      throw new WebError('spoilt', `The page is encoded as ${name}, which was not asked for`)
    })
  const chunks: Buffer[] = []
  let size = 0
  const collect = new Writable({
    write(chunk: Buffer, _encoding, done) {
      size += chunk.length
      chunks.push(chunk)
      if (size <= maxBytes) done()
      else if (cut) done(new LongEnough())
      else
        done(new WebError('large', `The page is larger than ${Math.round(maxBytes / 1_000).toLocaleString('en')} kB`))
    },
  })
  try {
    await pipeline([body, ...decoders, collect])
  } catch (error) {
    if (!(error instanceof LongEnough)) throw error
  }
  return Buffer.concat(chunks).subarray(0, maxBytes)
}

function toWarnings(error: unknown, url: URL, timedOut: boolean, timeoutMs: number): WebError {
  if (error instanceof WebError) return error
  const { code, cause, message } = error as NodeJS.ErrnoException & { cause?: Error }
  const unsafe = error instanceof UnsafeAddress ? error : cause instanceof UnsafeAddress ? cause : null
  if (unsafe) return new WebError('unsafe', `Not asked: ${unsafe.message}`)
  if (timedOut || /TIMEOUT/.test(code ?? ''))
    return new WebError('slow', `${url.host} did not answer within ${timeoutMs / 1_000} s`)
  if (code === 'ENOTFOUND' || code === 'EAI_AGAIN')
    return new WebError('unreachable', `There is no host ${url.hostname}`)
  if (/^Z_|^ERR__|BROTLI|unexpected end of file|incorrect header/i.test(`${code ?? ''} ${message}`))
    return new WebError('spoilt', `${url.host} sent a body that cannot be unpacked`)
  return new WebError('unreachable', `${url.host} cannot be reached (${code ?? message})`)
}
