import { allEndpoints, samples } from '@dew-trail/contract/all-endpoints'
import type { Endpoint, Role } from '@dew-trail/contract/endpoint'
import { type ErrorCode, errorShape } from '@dew-trail/contract/errors'
import { tableFormats, tableQuery } from '@dew-trail/contract/tables'
import { uploaded, uploadQuery } from '@dew-trail/contract/imports'
import { z } from 'zod'
import { statusOf } from '../../platform/http/errors.ts'

type Schema = Record<string, unknown>

const roleSays: Record<Role, string> = {
  anyone: 'Needs no sign-in.',
  link: 'Needs the secret link.',
  reader: 'For readers of the site, and all above them.',
  editor: 'For editors of the site and its owners.',
  owner: 'For owners of the site.',
  administrator: 'For administrators of the installation; no access key reaches it.',
}
/** What any call may meet besides what its endpoint promises. */
const ofAnyCall: readonly ErrorCode[] = ['notSignedIn', 'notAllowed', 'tooOften', 'databaseAway', 'internal']

/** A Zod schema as JSON Schema (2020-12), which is what OpenAPI 3.1 takes. What JSON cannot say of it is left out. */
function toSchema(schema: z.ZodType, io: 'input' | 'output'): Schema {
  const { $schema: _, ...made } = z.toJSONSchema(schema, { io, unrepresentable: 'any', reused: 'inline' }) as Schema
  return made
}

/** The part of the contract that a path belongs to: its first word behind the site. */
const tagOf = (path: string): string =>
  (path.replace('/api/sites/:siteId', '/api').split('/')[2] ?? 'sites').replaceAll('-', ' ')

const errorAnswers = (codes: readonly ErrorCode[]): Schema => {
  const byStatus = new Map<number, ErrorCode[]>()
  for (const code of [...new Set([...codes, ...ofAnyCall])])
    byStatus.set(statusOf[code], [...(byStatus.get(statusOf[code]) ?? []), code])
  return Object.fromEntries(
    [...byStatus].map(([status, of]) => [
      String(status),
      {
        description: of.join(', '),
        content: { 'application/json': { schema: { $ref: '#/components/schemas/Error' } } },
      },
    ]),
  )
}

const parameter = (
  name: string,
  where: 'path' | 'query',
  schema: Schema,
  required: boolean,
  example: unknown,
): Schema => ({
  name,
  in: where,
  required: where === 'path' || required,
  schema,
  ...(example === undefined ? {} : { example }),
  ...(schema.type === 'array' ? { explode: true, style: 'form' } : {}),
})

function describe(name: string, spec: Endpoint): Schema {
  const sample = samples[name] ?? {}
  const input = toSchema(spec.input, 'input')
  const properties = (input.properties ?? {}) as Record<string, Schema>
  const required = new Set((input.required ?? []) as string[])
  const inPath = [...spec.path.matchAll(/:([a-zA-Z]+)/g)].map(match => match[1]!)
  const rest = Object.keys(properties).filter(key => !inPath.includes(key))
  const asQuery = spec.method === 'GET' || spec.method === 'DELETE'
  const pick = <T>(of: Record<string, T>): Record<string, T> =>
    Object.fromEntries(Object.entries(of).filter(([key]) => !inPath.includes(key)))
  // What is no plain object (one of several shapes, say) is given as it is, with the path's parts in it.
  const body = input.properties
    ? { type: 'object', properties: pick(properties), required: rest.filter(key => required.has(key)) }
    : input
  return {
    operationId: name,
    summary: spec.summary,
    description: roleSays[spec.role],
    tags: [tagOf(spec.path)],
    ...(spec.role === 'anyone' ? { security: [] } : {}),
    parameters: [
      ...inPath.map(key => parameter(key, 'path', properties[key] ?? { type: 'string' }, true, sample[key])),
      ...(asQuery ? rest.map(key => parameter(key, 'query', properties[key]!, required.has(key), sample[key])) : []),
    ],
    ...(asQuery
      ? {}
      : { requestBody: { required: true, content: { 'application/json': { schema: body, example: pick(sample) } } } }),
    responses: {
      '200': {
        description: 'Done',
        content: { 'application/json': { schema: toSchema(spec.output, 'output') } },
      },
      ...errorAnswers(spec.errors),
    },
  }
}

/** Calls that stream, and so are no endpoints of the contract. */
function streams(): Record<string, Schema> {
  const queryOf = (schema: z.ZodObject, inPath: readonly string[]): Schema[] =>
    Object.entries(toSchema(schema, 'input').properties as Record<string, Schema>).map(([key, each]) =>
      parameter(key, inPath.includes(key) ? 'path' : 'query', each, false, undefined),
    )
  return {
    '/api/sites/{siteId}/tables/{table}': {
      get: {
        operationId: 'readTable',
        summary: 'A table of the site as a file',
        description: `${roleSays.reader} Formats: ${tableFormats.join(', ')}.`,
        tags: ['tables'],
        parameters: queryOf(tableQuery, ['siteId', 'table']),
        responses: {
          '200': { description: 'The file', content: { 'text/csv': { schema: { type: 'string' } } } },
          ...errorAnswers(['badInput', 'notFound']),
        },
      },
    },
    '/api/sites/{siteId}/imports': {
      post: {
        operationId: 'uploadFile',
        summary: 'Upload a file to be imported',
        description: `${roleSays.editor} Then call runImport with how its columns are to be read.`,
        tags: ['imports'],
        parameters: queryOf(uploadQuery, ['siteId']),
        requestBody: { required: true, content: { 'text/csv': { schema: { type: 'string' } } } },
        responses: {
          '200': {
            description: 'What was read of it',
            content: { 'application/json': { schema: toSchema(uploaded, 'output') } },
          },
          ...errorAnswers(['badInput', 'notFound', 'tooLarge', 'diskFull']),
        },
      },
    },
  }
}

/** The program's own API as an OpenAPI 3.1 document, made from the schemas that calls are checked against. */
export function ownApi(server: string): Schema {
  const paths: Record<string, Record<string, Schema>> = {}
  for (const [path, methods] of Object.entries(streams())) paths[path] = methods as Record<string, Schema>
  for (const [name, spec] of allEndpoints) {
    const path = spec.path.replace(/:([a-zA-Z]+)/g, '{$1}')
    paths[path] = { ...paths[path], [spec.method.toLowerCase()]: describe(name, spec) }
  }
  return {
    openapi: '3.1.0',
    info: {
      title: 'Dew Trail',
      version: '1',
      description:
        'What the screens call, and other programs may: with an access key (People, Access keys) as a bearer token. Unknown figures are null, never 0.',
    },
    servers: [{ url: server }],
    security: [{ accessKey: [] }],
    paths,
    components: {
      securitySchemes: { accessKey: { type: 'http', scheme: 'bearer' } },
      schemas: { Error: toSchema(errorShape, 'output') },
    },
  }
}
