import { readFileSync } from 'node:fs'

/** The source protocol as an OpenAPI 3.1 document: what a service must speak to stand behind Dew Trail. */
export const protocol = JSON.parse(readFileSync(new URL('../openapi.json', import.meta.url), 'utf8')) as {
  openapi: string
  paths: Record<string, Record<string, unknown>>
}
