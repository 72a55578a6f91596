import type { Endpoint } from './endpoint.ts'
import { describe, expect, test } from 'vitest'
import { requestParts } from './endpoint.ts'
import { AppError } from './errors.ts'
import { startGathering } from './gather.ts'
import { importFields, uploadPath } from './imports.ts'
import { actOnJob, siteEvent } from './jobs.ts'
import { changePage, createPage, listPages } from './plan.ts'
import { createSite } from './sites.ts'
import { keywordHistory, listPositions } from './track.ts'

type Glob = { glob(pattern: string, options: { eager: true }): Record<string, Record<string, unknown>> }
const modules = (import.meta as unknown as Glob).glob('./*.ts', { eager: true })
const allEndpoints = Object.entries(modules)
  .filter(([file]) => !file.includes('.test.'))
  .flatMap(([, module]) => Object.values(module))
  .filter((value): value is Endpoint => typeof value === 'object' && value !== null && 'summary' in value)

describe('request parts', () => {
  test('names of the path are filled in and escaped, the rest of a GET is the query', () => {
    expect(requestParts(keywordHistory, { siteId: 1, keywordId: 'a/b', days: 30 })).toEqual({
      url: '/api/sites/1/keywords/a%2Fb/history?days=30',
      body: undefined,
    })
    expect(requestParts(listPages, { siteId: 1, marketId: 2, today: '2026-11-20' }).url).toBe(
      '/api/sites/1/pages?marketId=2&today=2026-11-20',
    )
    expect(requestParts(listPositions, { siteId: 1, marketId: 2, compareDays: undefined }).url).toBe(
      '/api/sites/1/positions?marketId=2',
    )
  })
  test('other methods carry a body without what is in the path', () => {
    const { url, body } = requestParts(changePage, { siteId: 1, pageId: 7, title: 'x' })
    expect(url).toBe('/api/sites/1/pages/7')
    expect(JSON.parse(body!)).toEqual({ title: 'x' })
  })
  test('a file name is escaped', () =>
    expect(uploadPath(1, 'keywords', 'a&b.csv')).toBe('/api/sites/1/imports?kind=keywords&fileName=a%26b.csv'))
})

describe('inputs', () => {
  test('a gathering has defaults and limits', () => {
    const parsed = startGathering.input.parse({ siteId: '3', marketId: 1, seeds: [' kiln '] })
    expect(parsed).toMatchObject({
      siteId: 3,
      seeds: ['kiln'],
      ways: ['completions', 'related', 'page', 'rival', 'ads'],
      mostIdeas: 5_000,
    })
    for (const wrong of [
      { seeds: [] },
      { seeds: [''] },
      { seeds: ['x'.repeat(2_001)] },
      { seeds: ['a'], ways: [] },
      { seeds: ['a'], mostIdeas: 1 },
    ])
      expect(startGathering.input.safeParse({ siteId: 1, marketId: 1, ...wrong }).success).toBe(false)
  })
  test.each([
    ['name.example', true],
    ['Shop.Name.Example', true],
    ['https://x.example', true],
    ['x.example/a', true],
    ['localhost', false],
    ['-x.example', false],
    ['', false],
  ])('domain %j: %s', (domain, right) => expect(createSite.input.safeParse({ domain, name: 'x' }).success).toBe(right))
  test('a pasted address of a site is its domain', () => {
    const { domain } = createSite.input.parse({ domain: ' HTTPS://X.example:443/a?b#c ', name: 'x' })
    expect(domain).toBe('x.example')
  })
  test.each([
    ['/guides', true],
    ['https://x.example/a', true],
    [null, true],
    ['guides', false],
    ['javascript:alert(1)', false],
  ])('address %j: %s', (address, right) =>
    expect(createPage.input.safeParse({ siteId: 1, title: 'x', address }).success).toBe(right),
  )
  test('a change of a page may name single fields', () => {
    expect(changePage.input.safeParse({ siteId: 1, pageId: 1, deadline: null }).success).toBe(true)
    expect(changePage.input.safeParse({ siteId: 1, pageId: 1, state: 'lost' }).success).toBe(false)
    expect(actOnJob.input.safeParse({ jobId: 1, action: 'explode' }).success).toBe(false)
  })
  test('every import needs the column that says what its lines are about', () => {
    for (const [kind, fields] of Object.entries(importFields))
      expect(
        fields.some(
          field => field.key === ({ links: 'target', popularity: 'domain' }[kind] ?? 'phrase') && field.needed,
        ),
      ).toBe(true)
  })
})

test('every endpoint says what it does, who may call it, and nothing twice', () => {
  expect(new Set(allEndpoints.map(spec => `${spec.method} ${spec.path}`)).size).toBe(allEndpoints.length)
  expect(new Set(allEndpoints.map(spec => spec.summary)).size).toBe(allEndpoints.length)
  for (const { summary, method, role, path } of allEndpoints) {
    expect(summary.length, summary).toBeLessThan(61)
    // Who may only read can change nothing but their own account.
    if (path.startsWith('/api/me')) expect(['anyone', 'reader'], summary).toContain(role)
    else if (['PUT', 'PATCH', 'DELETE'].includes(method)) expect(['editor', 'owner', 'administrator']).toContain(role)
  }
})
test('events are told apart by their type', () => {
  expect(siteEvent.safeParse({ type: 'keywords' }).success).toBe(true)
  expect(siteEvent.safeParse({ type: 'job' }).success).toBe(false)
  expect(siteEvent.safeParse({ type: 'other' }).success).toBe(false)
})

test('an error carries a stable code and data', () => {
  const error = new AppError('notFound', 'gone', { id: 3 })
  expect(error).toMatchObject({ name: 'AppError', code: 'notFound', message: 'gone', data: { id: 3 } })
  expect(error).toBeInstanceOf(Error)
})
