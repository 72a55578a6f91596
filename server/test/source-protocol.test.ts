import { readdirSync, readFileSync } from 'node:fs'
import { request } from 'node:http'
import { fileURLToPath } from 'node:url'
import addFormats from 'ajv-formats'
import { Ajv2020, type ValidateFunction } from 'ajv/dist/2020.js'
import { describe, expect, inject, test } from 'vitest'
import { readConfig } from '../src/platform/config.ts'

const source = inject('source')
const headers = { authorization: 'Bearer demo-key' }
type Operation = {
  parameters?: Array<{ name: string; in: 'query' | 'path'; required: boolean; example?: unknown }>
  requestBody?: { content: Record<string, { example: unknown }> }
  responses: Record<string, { content: Record<string, { schema: object; example?: string }> }>
}
type Document = { openapi: string; paths: Record<string, Record<string, Operation>>; components: object }
const root = fileURLToPath(new URL('../..', import.meta.url))
const document = (await (await fetch(`${source}/openapi.json`)).json()) as Document
const ajv = new Ajv2020({ strict: false, allErrors: true })
addFormats.default(ajv)
ajv.addSchema(document, 'protocol')
/** The schema at a place of the document, with its references. */
const schemaAt = (...path: string[]): ValidateFunction =>
  ajv.compile({
    $ref: `protocol#/${path.map(part => encodeURIComponent(part.replaceAll('~', '~0').replaceAll('/', '~1'))).join('/')}`,
  })

const operations = Object.entries(document.paths).flatMap(([path, methods]) =>
  Object.entries(methods).map(([method, operation]) => ({ path, method, operation })),
)

describe('the source protocol', () => {
  test('is OpenAPI 3.1 and the same as the file that is shipped', () => {
    expect(document.openapi).toBe('3.1.0')
    expect(JSON.parse(readFileSync(`${root}standin/openapi.json`, 'utf8'))).toEqual(document)
  })
  test.each(operations)('$method $path answers as written', async ({ path, method, operation }) => {
    const url = new URL(
      path.replace(/\{(\w+)\}/g, (_, name) => String(operation.parameters!.find(each => each.name === name)!.example)),
      source,
    )
    for (const each of operation.parameters ?? [])
      if (each.in === 'query' && each.example !== undefined) url.searchParams.set(each.name, String(each.example))
    const example = operation.requestBody?.content['application/json']?.example
    const answer = await fetch(url, { method, headers, ...(example ? { body: JSON.stringify(example) } : {}) })
    expect(answer.status, await answer.clone().text()).toBe(200)
    const [type] = Object.keys(operation.responses['200']!.content)
    expect(answer.headers.get('content-type')).toContain(type)
    const text = await answer.text()
    if (type === 'text/csv') {
      const shown = operation.responses['200']!.content[type]!.example!
      expect(text.split('\n')[0]).toBe(shown.split('\n')[0])
      expect(text.split('\n').length).toBeGreaterThan(2)
      return
    }
    const check = schemaAt('paths', path, method, 'responses', '200', 'content', type!, 'schema')
    expect(check(JSON.parse(text)), ajv.errorsText(check.errors)).toBe(true)
  })
  test('refusals have their shape: wrong key, wrong request, no such thing', async () => {
    const check = schemaAt('components', 'schemas', 'Error')
    for (const [url, init, status] of [
      ['/completions?q=kiln&language=en', {}, 401],
      ['/engines/lantern/search?q=kiln&language=xx', { headers }, 400],
      ['/maps/towns/atlantis.geojson', { headers }, 404],
      ['/nothing', { headers }, 404],
    ] as const) {
      const answer = await fetch(source + url, init)
      expect(answer.status).toBe(status)
      expect(check(await answer.json())).toBe(true)
    }
  })
})

describe('docs/source-protocol.md', () => {
  const text = readFileSync(`${root}docs/source-protocol.md`, 'utf8')
  const commands = [...text.matchAll(/^curl .*$/gm)].map(match => match[0])
  /** Runs a curl command of the document against the tests' world. */
  const run = (command: string): Promise<{ status: number; body: string }> =>
    new Promise((resolve, reject) => {
      const words = [...command.matchAll(/'([^']*)'|(\S+)/g)].map(match => match[1] ?? match[2]!)
      const at = new URL(source)
      const sent: Record<string, string> = {}
      let body: string | undefined
      let proxied = false
      let url = ''
      for (let i = 1; i < words.length; i++) {
        if (words[i] === '-H') {
          const [name, ...value] = words[++i]!.split(': ')
          sent[name!.toLowerCase()] = value.join(': ')
        } else if (words[i] === '-d') body = words[++i]!
        else if (words[i] === '-x') proxied = Boolean(words[++i])
        else url = words[i]!
      }
      const requests = request(
        {
          host: at.hostname,
          port: at.port,
          path: proxied ? url : new URL(url).pathname + new URL(url).search,
          method: body === undefined ? 'GET' : 'POST',
          headers: { ...(proxied ? { host: new URL(url).host } : {}), ...sent },
        },
        response => {
          response.setEncoding('utf8')
          let answer = ''
          response.on('data', chunk => {
            answer += chunk
          })
          response.on('end', () => resolve({ status: response.statusCode!, body: answer }))
        },
      )
      requests.on('error', reject)
      requests.end(body)
    })
  test('names every path of the protocol', () => {
    for (const path of Object.keys(document.paths))
      expect(text).toMatch(new RegExp(path.replace(/\{[^}]+\}/g, '[^/?\\s]+').replaceAll('.', '\\.')))
    expect(commands.length).toBeGreaterThan(15)
  })
  test.each(commands)('%s', async command => {
    const { status, body } = await run(command)
    // The subnet of the example may be nobody's in this world.
    expect(command.includes('/registry/ip/') ? [200, 404] : command.includes('-x ') ? [200, 301] : [200]).toContain(
      status,
    )
    expect(body.length).toBeGreaterThan(20)
  })
})

describe('hidden truth stays hidden', () => {
  const sources = (folder: string): string[] =>
    readdirSync(folder, { withFileTypes: true, recursive: true })
      .filter(entry => entry.isFile() && /\.(ts|tsx)$/.test(entry.name) && !/\.test\.tsx?$/.test(entry.name))
      .map(entry => `${entry.parentPath}/${entry.name}`)
  test('neither server nor core nor what they share with the browser names the truth port or its paths', () => {
    for (const file of ['server/src', 'core/src', 'contract/src', 'web/src'].flatMap(folder => sources(root + folder)))
      expect(readFileSync(file, 'utf8'), file).not.toMatch(
        /TRUTH_PORT|STANDIN_|\/hurdles|\/meanings|\/orders['"`?]|standin\//,
      )
  })
  test('the server reads no setting that could lead there', () => {
    const config = readConfig({ DATABASE_URL: 'postgres://x', SOURCE_URL: source, STANDIN_TRUTH_PORT: '4999' })
    expect(JSON.stringify(config)).not.toContain('4999')
  })
})
