import { allEndpoints, samples } from '@dew-trail/contract/all-endpoints'
import { Validator } from '@seriousme/openapi-schema-validator'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { type TestServer, testServer } from './test-server.ts'

let server: TestServer
beforeAll(async () => {
  server = await testServer()
})
afterAll(() => server.close())

test('the own API is described in valid OpenAPI 3.1: every endpoint, with role, errors and an example', async () => {
  const { body } = await server.raw('/api/openapi.json')
  const validator = new Validator()
  const { valid, errors } = await validator.validate(structuredClone(body))
  expect(errors).toBeUndefined()
  expect([valid, validator.version]).toEqual([true, '3.1'])
  const operations = Object.values(body.paths as Record<string, Record<string, any>>).flatMap(path =>
    Object.values(path),
  )
  expect(operations.map(each => each.operationId).sort()).toEqual(
    [...allEndpoints.map(([name]) => name), 'readTable', 'uploadFile'].sort(),
  )
  const of = (id: string) => operations.find(each => each.operationId === id)
  expect(of('addNote')).toMatchObject({
    summary: expect.any(String),
    description: 'For editors of the site and its owners.',
    requestBody: {
      content: {
        'application/json': {
          example: { day: '2026-11-20', text: 'New shop' },
          schema: { required: expect.arrayContaining(['day', 'text']) },
        },
      },
    },
    responses: { '400': { description: 'badInput' }, '404': { description: 'notFound' } },
  })
  expect(of('addNote').parameters).toMatchObject([{ name: 'siteId', in: 'path', required: true, example: 1 }])
  expect(of('readMe').security).toEqual([])
})

test('its examples are what the endpoints take', () => {
  const wrong = allEndpoints
    .filter(([name, spec]) => !spec.input.safeParse(samples[name]).success)
    .map(([name]) => name)
  expect(wrong).toEqual([])
})

test('it can be browsed without anything from outside', async () => {
  const page = await server.raw('/api/docs/')
  expect(page.body).not.toMatch(/https?:\/\//)
  for (const file of [...String(page.body).matchAll(/(?:src|href)="([^"]+)"/g)].map(match => match[1]))
    expect((await server.raw(`/api/docs/${file}`)).status).toBe(200)
})
