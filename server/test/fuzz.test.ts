import type { ErrorCode } from '@dew-trail/contract/errors'
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { request } from 'node:http'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { gzipSync } from 'node:zlib'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { allEndpoints, samples } from '@dew-trail/contract/all-endpoints'
import { filledSite } from './filled-site.ts'
import { type TestServer, testServer } from './test-server.ts'

let server: TestServer
let folder: string
let things: Record<string, unknown>
beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'dew-trail-fuzz-'))
  mkdirSync(join(folder, 'assets'))
  writeFileSync(join(folder, 'index.html'), '<!doctype html>')
  server = await testServer({ WEB_DIR: folder, EVENT_STREAMS: '3' })
  things = await filledSite(server, 'fuzz.example')
})
afterAll(async () => {
  await server.close()
  rmSync(folder, { recursive: true })
})

/** Sends a request as it is, since fetch would put much of it right; the status, and the code of an error. */
const send = (method: string, path: string, body?: string | Buffer, headers: Record<string, string> = {}) =>
  new Promise<{ status: number; code: string | undefined }>((resolve, reject) => {
    const { hostname, port } = new URL(server.url)
    const requests = request({ hostname, port, method, path, headers }, response => {
      const type = response.headers['content-type'] ?? ''
      if (type.startsWith('text/event-stream')) {
        response.destroy()
        resolve({ status: response.statusCode!, code: undefined })
        return
      }
      const chunks: Buffer[] = []
      response.on('data', chunk => chunks.push(chunk))
      response.on('end', () => {
        const text = Buffer.concat(chunks).toString()
        const code = type.includes('json') && text.startsWith('{') ? JSON.parse(text).error?.code : undefined
        resolve({ status: response.statusCode!, code })
      })
    })
    requests.on('error', error =>
      /socket hang up|ECONNRESET/.test(error.message) ? resolve({ status: 0, code: undefined }) : reject(error),
    )
    requests.end(body)
  })

const odd: unknown[] = [
  null,
  true,
  '',
  ' ',
  0,
  -1,
  1.5,
  2_147_483_647,
  2_147_483_648,
  1e21,
  1e308,
  '1e3',
  '0x10',
  'NaN',
  '\u0000',
  'a\u0000b',
  '\ud800',
  'x\udc00y',
  '%',
  '%00',
  '%ff',
  '../../etc/passwd',
  '0000-01-01',
  '0001-01-01',
  '9999-12-31',
  '2026-02-30',
  "'; drop table keyword; --",
  '([{\\^$.|?*+',
  'x'.repeat(3_000),
  '🏺'.repeat(300),
  [],
  [null],
  [[]],
  ['', '\u0000'],
  [0, -1, 2_147_483_648],
  {},
  { a: { b: ['\u0000'] } },
  { '\u0000': 1 },
  ['a'.repeat(300), '\ud83d'],
]
const pathOf = (path: string, input: Record<string, unknown>): string =>
  path.replace(/:([a-zA-Z]+)/g, (_, name: string) => {
    const value = input[name]
    const text = typeof value === 'string' ? value : JSON.stringify(value ?? null)
    // What an address cannot carry raw is escaped; a lone percent sign stays one.
    return text.replace(/[^\w.~%-]/gu, char =>
      /[\ud800-\udfff]/.test(char) && char.length === 1 ? '%ED%A0%80' : encodeURIComponent(char),
    )
  })

const ofAnyCall: ErrorCode[] = ['databaseAway', 'diskFull', 'tooMany', 'tooLarge', 'wrongType', 'notAllowed']

describe('whatever is sent', () => {
  test.each(allEndpoints)('to %s is refused or done, and never breaks the server', async (name, spec) => {
    const sample = {
      ...samples[name],
      ...Object.fromEntries(Object.entries(things).filter(([key]) => key in samples[name]!)),
    }
    const shape = 'shape' in spec.input ? Object.keys(spec.input.shape as object) : []
    const fields = [...new Set([...Object.keys(sample), ...shape])]
    const broken: string[] = []
    for (const [at, field] of fields.entries())
      for (const [i, value] of odd.entries()) {
        // Of neighbouring fields each gets every other value: all of them in all took a quarter of the time of all tests of the server.
        if (fields.length > 1 && (i + at) % 2) continue
        const input = { ...sample, [field]: value }
        const path = pathOf(spec.path, input)
        const withBody = spec.method !== 'GET' && spec.method !== 'DELETE'
        const query = withBody
          ? ''
          : `?${Object.entries(input)
              .map(
                ([key, each]) =>
                  `${key}=${typeof each === 'string' ? each.replace(/[^\w.~%-]/gu, '') : encodeURIComponent(JSON.stringify(each))}`,
              )
              .join('&')}`
        const answer = await send(
          spec.method,
          path + query,
          withBody ? JSON.stringify(input) : undefined,
          withBody ? { 'content-type': 'application/json' } : {},
        )
        if (answer.status >= 500 && !['sourceFailed', 'quotaUsed'].includes(answer.code ?? ''))
          broken.push(`${answer.status} ${field} ${JSON.stringify(value).slice(0, 60)}`)
        // What an endpoint may refuse with is part of what it promises.
        else if (answer.code && ![...spec.errors, ...ofAnyCall].includes(answer.code as ErrorCode))
          broken.push(`${answer.code} ${field} ${JSON.stringify(value).slice(0, 60)}`)
      }
    expect(broken).toEqual([])
  })

  const json = { 'content-type': 'application/json' }
  const bodies: Array<[name: string, status: number, body: string | Buffer, headers: Record<string, string>]> = [
    ['no JSON', 400, '{oops', json],
    ['a list', 400, '[1]', json],
    ['a text', 400, '"x"', json],
    ['nothing', 400, '', json],
    ['JSON as text', 415, '{"domain":"a.example","name":"a"}', { 'content-type': 'text/plain' }],
    ['JSON without a type', 415, '{"domain":"a.example","name":"a"}', {}],
    ['a form', 415, 'domain=a.example', { 'content-type': 'application/x-www-form-urlencoded' }],
    ['an unknown charset', 415, '{}', { 'content-type': 'application/json; charset=klingon' }],
    ['an unknown packing', 415, '{}', { ...json, 'content-encoding': 'zzz' }],
    ['no gzip though it says so', 400, '{}', { ...json, 'content-encoding': 'gzip' }],
    ['a bomb', 413, gzipSync(`{"domain":"${'x'.repeat(30_000_000)}"}`), { ...json, 'content-encoding': 'gzip' }],
    ['deep nesting', 400, `${'{"a":'.repeat(2_000)}1${'}'.repeat(2_000)}`, json],
    ['a prototype', 400, '{"__proto__":{"domain":"a.example"},"constructor":{"name":"x"}}', json],
    ['bytes that are no UTF-8', 400, Buffer.from([0x7b, 0x22, 0xff, 0xfe, 0x22, 0x3a, 0x31, 0x7d]), json],
  ]
  test.each(bodies)('as a body that is %s gives %i', async (_name, status, body, headers) => {
    expect((await send('POST', '/api/sites', body, headers)).status).toBe(status)
  })

  test.each([
    ['/%', 400],
    ['/%ff', 400],
    ['/api/%', 404],
    ['/api/sites/%/trail', 400],
    ['/api/sites/%ff/trail', 400],
    ['/api/sites/1%00/trail', 400],
    ['/assets/missing.js', 404],
    ['/assets/%', 400],
    ['/assets/..%2f..%2findex.html', 403],
    ['/assets/%00', 400],
    ['/some/where', 200],
    ['/api/nothing', 404],
    ['/api/sites/2147483648/trail', 400],
    ['/api/sites/99999999999999999999/trail', 400],
    ['/api/sites/1/trail/more', 404],
    ['/api/jobs/2147483647', 404],
    ['/api/jobs/2147483648', 400],
    ['/api/events', 400],
    ['/api/events?siteIds=1,x', 400],
    ['/api/sites/1/keywords', 400],
    ['/api/sites/1/keywords?marketId=1&since=-1', 400],
    ['/api/sites/1/keywords?marketId=1&since=1e300', 400],
    ['/api/sites/1/keywords?marketId=1&marketId=2', 400],
    ['/api/sites/1/imports/2147483647/errors.csv', 404],
  ])('as an address %s gives %i', async (path, status) => {
    expect((await send('GET', path)).status).toBe(status)
  })

  test('with another method, other headers or no end is answered or cut off', async () => {
    expect((await send('DELETE', '/api/sites')).status).toBe(404)
    expect((await send('PATCH', '/api/nothing', '{}', json)).status).toBe(404)
    expect((await send('GET', `/api/sites?${'x'.repeat(60_000)}`)).status).toBe(431)
    expect(
      (
        await send('GET', '/api/sites', undefined, {
          range: 'bytes=9-1',
          'if-modified-since': 'x',
          'accept-encoding': ',,;q=',
        })
      ).status,
    ).toBe(200)
    expect((await server.raw('/api/health')).status).toBe(200)
  })
})
