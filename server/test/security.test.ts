import { request } from 'node:http'
import { createSite } from '@dew-trail/contract/sites'
import pg from 'pg'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { isOpenToOthers, readConfig } from '../src/platform/config.ts'
import { makeSchema } from '../src/platform/db/make-schema.ts'
import { type TestServer, testServer } from './test-server.ts'

let server: TestServer
beforeAll(async () => {
  server = await testServer()
})
afterAll(() => server.close())

/** fetch sets Host itself, so requests with another one go by node:http. */
const withHost = (host: string) =>
  new Promise<number>((resolve, reject) => {
    request(`${server.url}/api/sites`, { headers: { host } }, response => {
      response.resume()
      resolve(response.statusCode!)
    })
      .on('error', reject)
      .end()
  })

describe('the server', () => {
  test('answers only to its own names', async () => {
    const { port } = new URL(server.url)
    expect(await withHost(`localhost:${port}`)).toBe(200)
    expect(await withHost(`evil.example:${port}`)).toBe(403)
    expect(await withHost('127.0.0.1:1')).toBe(403)
  })

  test('refuses writes that come from another site', async () => {
    const body = JSON.stringify({ domain: 'x.example', name: 'x' })
    const headers = { 'content-type': 'application/json' }
    expect(
      (await server.raw('/api/sites', { method: 'POST', body, headers: { ...headers, origin: 'http://evil.example' } }))
        .status,
    ).toBe(403)
    expect(
      (await server.raw('/api/sites', { method: 'POST', body, headers: { ...headers, origin: server.url } })).status,
    ).toBe(200)
  })

  test('sends a content security policy without inline scripts', async () => {
    const policy = (await server.raw('/api/health')).headers.get('content-security-policy')!
    expect(policy).toContain("script-src 'self';")
    expect(policy).toContain("default-src 'none'")
    expect(policy).toContain("frame-ancestors 'none'")
  })

  test('limits bodies and says what is wrong with broken ones', async () => {
    const headers = { 'content-type': 'application/json' }
    expect(
      await server.raw('/api/sites', { method: 'POST', headers, body: `{"a":"${'x'.repeat(21_000_000)}"}` }),
    ).toMatchObject({ status: 413, body: { error: { code: 'tooLarge' } } })
    expect(await server.raw('/api/sites', { method: 'POST', headers, body: '{oops' })).toMatchObject({
      status: 400,
      body: { error: { code: 'badInput' } },
    })
    expect(await server.raw('/api/nothing')).toMatchObject({ status: 404, body: { error: { code: 'notFound' } } })
  })

  test('sends what is long packed, and nothing of the data stays in a cache', async () => {
    for (const encoding of ['gzip', 'br']) {
      const { headers } = await server.raw('/api/nothing-of-this-long-name', {
        headers: { 'accept-encoding': encoding },
      })
      expect(headers.get('cache-control')).toBe('no-store')
    }
    for (let i = 0; i < 12; i++) await server.call(createSite, { domain: `long-${i}.example`, name: 'Long'.repeat(20) })
    expect(
      (await server.raw('/api/sites', { headers: { 'accept-encoding': 'gzip' } })).headers.get('content-encoding'),
    ).toBe('gzip')
    expect(
      (await server.raw('/api/sites', { headers: { 'accept-encoding': 'identity' } })).headers.get('content-encoding'),
    ).toBe(null)
    expect((await server.raw('/api/sites')).body).toHaveLength(
      (await server.raw('/api/sites', { headers: { 'accept-encoding': 'br' } })).body.length,
    )
    expect((await server.raw('/api/health')).headers.get('permissions-policy')).toContain('camera=()')
    expect((await server.raw('/api/health')).headers.get('cross-origin-opener-policy')).toBe('same-origin')
  })

  test('sends tables of keywords packed over a network, and as they are on the same machine', async () => {
    const { id, markets } = await server.call(createSite, { domain: 'table.example', name: 'Table' })
    const path = `/api/sites/${id}/keywords?marketId=${markets[0]!.id}`
    const packed = (headers: Record<string, string>) =>
      server.raw(path, { headers: { 'accept-encoding': 'gzip', ...headers } }).then(answer => answer.headers)
    expect((await packed({ 'x-forwarded-for': '203.0.113.5' })).get('content-encoding')).toBe('gzip')
    expect((await packed({})).get('content-encoding')).toBeNull()
  })

  test('refuses a write that a browser sends from another site, also without its Origin', async () => {
    const post = (from: string) =>
      new Promise<number>((resolve, reject) => {
        const headers = { 'content-type': 'application/json', 'sec-fetch-site': from }
        request(`${server.url}/api/sites`, { method: 'POST', headers }, response => {
          response.resume()
          resolve(response.statusCode!)
        })
          .on('error', reject)
          .end('{}')
      })
    expect(await post('cross-site')).toBe(403)
    expect(await post('same-site')).toBe(403)
    expect(await post('same-origin')).toBe(400)
    expect(await post('none')).toBe(400)
  })

  test('a domain is checked and taken once', async () => {
    await expect(server.call(createSite, { domain: 'no such address', name: 'x' })).rejects.toMatchObject({
      code: 'badInput',
      message: expect.stringContaining('name.example'),
    })
    await server.call(createSite, { domain: 'Once.example', name: 'Once' })
    await expect(server.call(createSite, { domain: 'once.example', name: 'Twice' })).rejects.toMatchObject({
      code: 'conflict',
    })
  })

  test('text that looks like SQL is only text', async () => {
    const name = "Robert'); drop table keyword; --"
    expect((await server.call(createSite, { domain: 'sql.example', name })).name).toBe(name)
  })
})

describe('start', () => {
  test('wrong settings are named, all of them', () => {
    expect(() => readConfig({ PORT: 'abc', CHECK_DEPTH: '5' })).toThrow(/DATABASE_URL[\s\S]*PORT[\s\S]*CHECK_DEPTH/)
  })

  test('whoever is beyond this machine has to sign in', () => {
    const base = { DATABASE_URL: 'postgres://x' }
    for (const open of [
      { HOST: '0.0.0.0' },
      { HOST: '::' },
      { HOST: '192.168.1.5' },
      { PUBLIC_ORIGINS: 'https://t.example' },
    ])
      expect(isOpenToOthers(readConfig({ ...base, ...open }))).toBe(true)
    for (const HOST of ['127.0.0.1', '127.0.0.2', '::1', 'localhost'])
      expect(isOpenToOthers(readConfig({ ...base, HOST }))).toBe(false)
  })

  test('tables are made once, and those of another version are left alone with a word on what to do', async () => {
    const pool = new pg.Pool({ connectionString: server.databaseUrl })
    expect(await makeSchema(pool)).toBe(false)
    const { rows } = await pool.query<{ fingerprint: string }>('select fingerprint from schema_made')
    await pool.query("update schema_made set fingerprint = 'another'")
    await expect(makeSchema(pool)).rejects.toThrow(/another version of Dew Trail.*remove the data folder/)
    await pool.query('update schema_made set fingerprint = $1', [rows[0]!.fingerprint])
    expect(await makeSchema(pool)).toBe(false)
    await pool.end()
  })
})
